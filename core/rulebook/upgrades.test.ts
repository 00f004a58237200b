import { describe, expect, it } from 'vitest';
import { EMPTY_RULEBOOK } from './rulebook.ts';
import { UPGRADES, upgraded, type Upgrade } from './upgrades.ts';

describe('stored rulebooks', () => {
  it('of this version are read as they are', () => {
    expect(upgraded(EMPTY_RULEBOOK)).toBe(EMPTY_RULEBOOK);
  });
  it('have one upgrade from every version before this one, each named by its deed', () => {
    expect(UPGRADES.map(({ from }) => from)).toEqual(
      Array.from({ length: EMPTY_RULEBOOK.version - 1 }, (_, index) => index + 1),
    );
    for (const { deed } of UPGRADES) expect(deed).toMatch(/^([A-Z][a-z]+){2,}$/);
  });
  it('go up step by step', () => {
    const steps: Upgrade[] = [
      { from: 1, deed: 'AddNotes', up: (document) => ({ ...document, notes: [] }) },
      { from: 2, deed: 'CountNotes', up: ({ notes, ...rest }) => ({ ...rest, count: (notes as unknown[]).length }) },
    ];
    expect(upgraded(EMPTY_RULEBOOK, steps, 3)).toEqual({ ...EMPTY_RULEBOOK, version: 3, count: 0 });
  });
  it('of a later version are not guessed at', () => {
    expect(() => upgraded({ ...EMPTY_RULEBOOK, version: 2 })).toThrow('version 2 cannot be read');
  });
});
