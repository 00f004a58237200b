import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { countOf, hasBit, lowestOf, wordsFor } from './bits.ts';

const word = fc.integer({ min: -(2 ** 31), max: 2 ** 31 - 1 });
const bitsOf = (bits: number) => (bits >>> 0).toString(2).replaceAll('0', '').length;

describe('bits', () => {
  it('are counted, and the lowest found', () => {
    fc.assert(
      fc.property(word, (bits) => {
        expect(countOf(bits)).toBe(bitsOf(bits));
        if (bits !== 0) expect(1 << lowestOf(bits)).toBe(bits & -bits);
      }),
    );
  });
  it('are there or not, also beyond the last word', () => {
    const bits = Uint32Array.of(1 << 3, 1 << 31);
    expect([3, 4, 63, 62, 64].map((row) => hasBit(bits, row))).toEqual([true, false, true, false, false]);
  });
  it('need a word for each 32', () => {
    expect([0, 1, 32, 33, 64].map(wordsFor)).toEqual([0, 1, 1, 2, 2]);
  });
});
