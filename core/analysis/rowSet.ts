import { clearBit, hasBit, lowestOf, setBit, type Bits } from '../engine/bits.ts';

/** Rows reduced by a test. */
export function without(bits: Bits, isOut: (row: number) => boolean): Bits {
  const left = bits.slice();
  each(bits, (row) => {
    if (isOut(row)) clearBit(left, row);
  });
  return left;
}

/** Visits the rows in their order. */
export function each(bits: Bits, visit: (row: number) => void): void {
  bits.forEach((all, word) => {
    for (let left = all; left !== 0; left &= left - 1) visit((word << 5) + lowestOf(left));
  });
}

/** Rows as they are gathered: few of them as a set, many as bits. */
export class RowSet {
  private few: Set<number> | null = new Set();
  private many: Bits | null = null;
  private counted = 0;

  constructor(private readonly words: number) {}

  get size(): number {
    return this.counted;
  }

  has(row: number): boolean {
    return this.few?.has(row) ?? (this.many !== null && hasBit(this.many, row));
  }

  /** Whether it was not there yet. */
  add(row: number): boolean {
    if (this.has(row)) return false;
    this.counted += 1;
    if (this.many) setBit(this.many, row);
    else if (this.few) {
      this.few.add(row);
      // A set takes some 32 bytes a row.
      if (this.few.size > this.words / 8) {
        this.many = new Uint32Array(this.words);
        for (const row of this.few) setBit(this.many, row);
        this.few = null;
      }
    }
    return true;
  }
}
