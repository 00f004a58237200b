import { describe, expect, it } from 'vitest';
import { CALLS } from './calls.ts';
import { isPermission, KEY_SCOPES, PERMISSIONS, ROLE_MAY, SCOPE_MAY, STAFF_ROLES } from './permissions.ts';

describe('what roles and keys may do', () => {
  it('grows from viewer to owner: each may all that the one below may', () => {
    const rising = [...STAFF_ROLES].reverse().map((role) => ROLE_MAY[role]);
    for (const [place, may] of rising.entries())
      expect(may).toEqual(expect.arrayContaining([...(rising[place - 1] ?? [])]));
  });

  it('keeps an owner from nothing but what is a seller’s own', () => {
    const missing = Object.keys(PERMISSIONS).filter((name) => !(ROLE_MAY.owner as readonly string[]).includes(name));
    expect(missing).toEqual(['readOwn', 'sell']);
  });

  it('lets no key change settings or a session of somebody', () => {
    for (const scope of KEY_SCOPES)
      for (const forbidden of ['settings', 'self', 'sell'] as const) expect(SCOPE_MAY[scope]).not.toContain(forbidden);
  });

  it('has a use for every permission, and no call that nobody may make', () => {
    const used = new Set(CALLS.map(({ auth }) => auth).filter(isPermission));
    expect([...used].sort()).toEqual(Object.keys(PERMISSIONS).sort());
    for (const permission of used)
      expect(
        Object.values(ROLE_MAY).some((may) => may.includes(permission)),
        permission,
      ).toBe(true);
  });
});
