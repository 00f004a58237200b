import { describe, expect, it } from 'vitest';
import { COMING, pastCounts, pastSearches, type Coming, type ShownTo } from './pastCounts.ts';

/** Thirty products, of which every audience is shown the same. */
function shownAs(kind: string, rule: string | null): ShownTo {
  const on = (surface: 'listing' | 'product') => ({
    edition: 1,
    decisions: [{ control: { kind }, reasons: { control: rule === null ? [] : [rule] } }],
    products: Array.from({ length: 30 }, (_, nth) => ({
      id: `plant-${nth}`,
      path: `/plants/${nth}`,
      surface,
      decision: surface === 'listing' ? 0 : null,
      variants: [{ id: `plant-${nth}-pot`, decision: 0 }],
    })),
  });
  const shown = { listing: on('listing'), product: on('product') };
  return Object.fromEntries(Object.keys(COMING).map((name) => [name, shown])) as unknown as Record<
    Coming,
    ShownTo[Coming]
  >;
}

const spells = (lift: number) => [
  { from: 89, until: 40, shown: shownAs('buy', null), lifts: {} },
  { from: 40, until: -1, shown: shownAs('preorder', 'tubers'), lifts: { tubers: lift } },
];

describe('the nursery’s last ninety days', () => {
  it('are the same at every run, and of every day what was decided then', () => {
    const counts = pastCounts(spells(1), 3);
    expect(pastCounts(spells(1), 3)).toEqual(counts);
    expect(new Set(counts.map(({ ago }) => ago)).size).toBe(90);
    for (const { ago, rule, control, seen, pressed, finished, hour } of counts) {
      expect([rule, control]).toEqual(ago > 40 ? ['', 'buy'] : ['tubers', 'preorder']);
      expect(seen).toBeGreaterThanOrEqual(pressed);
      expect(pressed).toBeGreaterThanOrEqual(finished);
      expect(hour).toBeGreaterThanOrEqual(8);
      expect(hour).toBeLessThan(23);
    }
  });

  it('have more pressed where an edition lifted it, and busier Sundays', () => {
    const pressed = (lift: number) =>
      pastCounts(spells(lift), 3)
        .filter(({ rule }) => rule === 'tubers')
        .reduce((sum, row) => sum + row.pressed, 0);
    expect(pressed(1.6) / pressed(1)).toBeGreaterThan(1.4);
    expect(pressed(1.6) / pressed(1)).toBeLessThan(1.8);
    const seenOn = (weekday: number) =>
      pastCounts(spells(1), 3)
        .filter(({ ago }) => (((3 - ago) % 7) + 7) % 7 === weekday)
        .reduce((sum, { seen }) => sum + seen, 0);
    expect(seenOn(6)).toBeGreaterThan(1.2 * seenOn(1));
  });

  it('have searches, of some of which nothing was found', () => {
    const searches = pastSearches();
    expect(pastSearches()).toEqual(searches);
    expect(searches.some(({ isFound }) => !isFound)).toBe(true);
    expect(searches.every(({ times, ago }) => times > 0 && ago >= 1 && ago < 90)).toBe(true);
  });
});
