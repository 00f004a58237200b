import { describe, expect, it } from 'vitest';
import { audienceNamed } from './audience.ts';

describe('the audience that somebody is counted in', () => {
  const audiences = [
    { name: 'Guest', signedIn: false, roles: [] },
    { name: 'Signed in', signedIn: true, roles: [] },
    { name: 'Trade', signedIn: true, roles: ['trade'] },
    { name: 'Trade members', signedIn: true, roles: ['trade', 'member'] },
    { name: 'One', signedIn: true, roles: [], customer: 'c-9' },
    { name: 'Invited', signedIn: true, roles: [], invited: true },
  ];
  const held = (code: string, until: number | null = null) => ({ code, from: null, until });
  it.each([
    [{ signedIn: false, roles: [] }, 'Guest'],
    [{ signedIn: true, roles: [] }, 'Signed in'],
    [{ signedIn: true, roles: [held('trade')] }, 'Trade'],
    [{ signedIn: true, roles: [held('trade'), held('member')] }, 'Trade members'],
    [{ signedIn: true, roles: [held('trade'), held('member', 5)] }, 'Trade'],
  ])('of %j is %s', (visitor, name) => {
    expect(audienceNamed(audiences, visitor, 10)).toBe(name);
    expect(audienceNamed([], visitor, 10)).toBe(visitor.signedIn ? 'Signed in' : 'Guest');
  });
});
