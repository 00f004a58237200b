import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { effectOf, type DayRate, type Spell } from './effect.ts';

/** Numbers between 0 and 1 out of a seed (mulberry32). */
function chances(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

interface Made {
  readonly days: number;
  readonly seen: number;
  readonly rate: number;
  /** By how much the rate of a day differs from the rate of all: as much of it on average. */
  readonly unrest: number;
}

/** Days as they come: each with a rate of its own, and chance in what came of it. */
function daysOf({ days, seen, rate, unrest }: Made, chance: () => number): DayRate[] {
  return Array.from({ length: days }, () => {
    const own = rate * (1 + unrest * (chance() + chance() - 1) * Math.sqrt(6));
    const of = Math.round(seen * (0.6 + 0.8 * chance()));
    let came = 0;
    for (let one = 0; one < of; one += 1) if (chance() < own) came += 1;
    return { of, came };
  });
}

const spell = (touched: Made, others: Made, chance: () => number): Spell => ({
  touched: daysOf(touched, chance),
  others: daysOf(others, chance),
});

/** In how many of many comparisons the interval holds what is true, and in how many it leaves out that nothing changed. */
function tried(effect: number, unrest: number, seen: number, times = 500): { holds: number; finds: number } {
  const chance = chances(7 + Math.round(effect * 100 + unrest * 10 + seen));
  let [holds, finds] = [0, 0];
  for (let round = 0; round < times; round += 1) {
    const base = { days: 14, seen, rate: 0.06, unrest };
    const wide = { ...base, seen: 4 * seen };
    // The season changes for all.
    const found = effectOf(
      spell(base, wide, chance),
      spell({ ...base, rate: 0.06 * 0.7 * effect }, { ...wide, rate: 0.06 * 0.7 }, chance),
    );
    if ('tooFew' in found) throw new Error(`too few of ${found.tooFew}`);
    if (found.low <= effect && effect <= found.high) holds += 1;
    if (found.low > 1 || found.high < 1) finds += 1;
  }
  return { holds: holds / times, finds: finds / times };
}

describe('what a change did to a rate', () => {
  it.each([
    [1, 0, 120],
    [1, 0.3, 120],
    [1, 0.3, 600],
    [1.5, 0.3, 120],
    [0.6, 0.15, 300],
  ])(
    'is held by the interval in some 95 of 100: %s times, days that differ by %s, %s a day',
    (effect, unrest, seen) => {
      const { holds } = tried(effect, unrest, seen);
      expect(holds).toBeGreaterThan(0.925);
      // An interval that always holds says nothing.
      expect(holds).toBeLessThan(0.995);
    },
  );

  it('is found where it is large, and seldom where there is none', () => {
    expect(tried(2, 0.2, 300).finds).toBeGreaterThan(0.95);
    expect(tried(1, 0.2, 300).finds).toBeLessThan(0.08);
  });

  it('cannot be said of few days, or of little that came about', () => {
    const day = { of: 100, came: 10 };
    const days = (length: number, one: DayRate = day) => Array.from({ length }, () => one);
    const full = { touched: days(14), others: days(14) };
    expect(effectOf({ touched: days(4), others: days(4) }, full)).toEqual({ tooFew: 'days' });
    expect(effectOf(full, { ...full, touched: days(14, { of: 100, came: 1 }) })).toEqual({ tooFew: 'touched' });
    expect(effectOf({ ...full, others: days(14, { of: 9, came: 0 }) }, full)).toEqual({ tooFew: 'others' });
    expect(effectOf({ touched: [], others: [] }, full)).toEqual({ tooFew: 'days' });
  });

  const rates = fc.array(fc.record({ of: fc.integer({ min: 50, max: 500 }), came: fc.integer({ min: 5, max: 50 }) }), {
    minLength: 6,
    maxLength: 6,
  });
  const spells = fc.record({ touched: rates, others: rates });

  it('is turned round when before and after are, or touched and others', () => {
    fc.assert(
      fc.property(spells, spells, (before, after) => {
        const there = effectOf(before, after);
        const back = effectOf(after, before);
        const swap = ({ touched, others }: Spell) => ({ touched: others, others: touched });
        const swapped = effectOf(swap(before), swap(after));
        if ('tooFew' in there || 'tooFew' in back || 'tooFew' in swapped) throw new Error('there is enough');
        for (const other of [back, swapped]) {
          expect(other.times).toBeCloseTo(1 / there.times, 8);
          expect(other.low).toBeCloseTo(1 / there.high, 8);
        }
        expect(there.low).toBeLessThan(there.times);
        expect(there.high).toBeGreaterThan(there.times);
      }),
    );
  });

  it('is none where both changed alike, and as much as the touched changed where the others did not', () => {
    fc.assert(
      fc.property(spells, fc.integer({ min: 2, max: 5 }), (before, times) => {
        const more = (days: readonly DayRate[]) => days.map(({ of, came }) => ({ of, came: came * times }));
        const alike = effectOf(before, { touched: more(before.touched), others: more(before.others) });
        const one = effectOf(before, { touched: more(before.touched), others: before.others });
        if ('tooFew' in alike || 'tooFew' in one) throw new Error('there is enough');
        expect(alike.times).toBeCloseTo(1, 8);
        expect(one.times).toBeCloseTo(times, 8);
      }),
    );
  });
});
