/** A bit for each row: row n is bit n % 32 of word n / 32. */
export type Bits = Uint32Array;

export const wordsFor = (rows: number): number => Math.ceil(rows / 32);

export const at = (bits: Bits, word: number): number => bits[word] ?? 0;

export const hasBit = (bits: Bits, row: number): boolean => (at(bits, row >>> 5) & (1 << (row & 31))) !== 0;

export function setBit(bits: Bits, row: number): void {
  bits[row >>> 5] = at(bits, row >>> 5) | (1 << (row & 31));
}

export function clearBit(bits: Bits, row: number): void {
  bits[row >>> 5] = at(bits, row >>> 5) & ~(1 << (row & 31));
}

/** Position of the lowest set bit of a word other than 0. */
export const lowestOf = (word: number): number => 31 - Math.clz32(word & -word);

/** Counts the set bits of a 32-bit word. */
export function countOf(word: number): number {
  let pairs = word - ((word >>> 1) & 0x55555555);
  pairs = (pairs & 0x33333333) + ((pairs >>> 2) & 0x33333333);
  return Math.imul((pairs + (pairs >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
}
