import { clearBit, setBit, wordsFor, type Bits } from './bits.ts';
import type { Emit } from '../facts/fact.ts';
import type { Predicate } from '../facts/predicates.ts';
import { sameName } from '../model/names.ts';
import type { Conjunction } from './conjunctions.ts';

/** Predicates over one scope of a subject, and the conjunctions (rows) that need them. */
export class ScopeIndex {
  /** Rows that need nothing of this scope; here as everywhere, the bit of a row that is possible. */
  private readonly free: Bits;
  /** Number of predicates in this scope that each row needs. */
  private readonly needed: Uint16Array;
  private readonly neededBy: readonly Int32Array[];
  private readonly refusedBy: readonly Int32Array[];
  private readonly byValue = new Map<string, Map<string, number[]>>();
  private readonly byNumber = new Map<
    string,
    { readonly low: number; readonly high: number; readonly index: number }[]
  >();
  /** Scratch, all zero between uses: how many needs of each row are met, and which predicates have been counted. */
  private readonly met: Uint16Array;
  private readonly counted: Uint8Array;

  constructor(predicates: readonly Predicate[], rows: readonly Conjunction[]) {
    const indexOf = new Map(predicates.map((predicate, index) => [predicate, index]));
    const mine = (set: ReadonlySet<Predicate>) => [...set].flatMap((predicate) => indexOf.get(predicate) ?? []);
    const neededBy: number[][] = predicates.map(() => []);
    const refusedBy: number[][] = predicates.map(() => []);
    this.needed = new Uint16Array(rows.length);
    this.met = new Uint16Array(rows.length);
    this.counted = new Uint8Array(predicates.length);
    this.free = new Uint32Array(wordsFor(rows.length));
    rows.forEach(({ needs, refuses }, row) => {
      const needing = mine(needs);
      for (const predicate of needing) neededBy[predicate]?.push(row);
      for (const predicate of mine(refuses)) refusedBy[predicate]?.push(row);
      this.needed[row] = needing.length;
      if (needing.length === 0) setBit(this.free, row);
    });
    this.neededBy = neededBy.map((list) => Int32Array.from(list));
    this.refusedBy = refusedBy.map((list) => Int32Array.from(list));
    predicates.forEach(({ column, values, low, high }, index) => {
      if (values === null) {
        this.byNumber.set(column, [...(this.byNumber.get(column) ?? []), { low, high, index }]);
        return;
      }
      const ofColumn = this.byValue.get(column) ?? new Map<string, number[]>();
      this.byValue.set(column, ofColumn);
      for (const value of new Set(values)) ofColumn.set(value, [...(ofColumn.get(value) ?? []), index]);
    });
  }

  /** Rows that are possible for the values that `emitFacts` emits. */
  bits(emitFacts: (emit: Emit) => void): Bits {
    const bits = this.free.slice();
    const isTrue: number[] = [];
    const isCertain: number[] = [];
    const count = (predicate: number, certain: boolean) => {
      const before = this.counted[predicate] ?? 0;
      if (before === 0) isTrue.push(predicate);
      if (certain && before < 2) isCertain.push(predicate);
      this.counted[predicate] = certain ? 2 : Math.max(before, 1);
    };
    const countAll = (predicates: readonly number[] | undefined, certain: boolean) => {
      if (predicates) for (const predicate of predicates) count(predicate, certain);
    };
    const value: Emit['value'] = (column, value, isCertain = true) => {
      if (value !== null && value !== undefined) countAll(this.byValue.get(column)?.get(value), isCertain);
    };
    emitFacts({
      value,
      id: value,
      name: (column, name) => {
        // Names are folded only where a rule asks for one.
        const ofColumn = this.byValue.get(column);
        if (ofColumn && name !== null && name !== undefined) countAll(ofColumn.get(sameName(name)), true);
      },
      number: (column, number) => {
        const ranges = this.byNumber.get(column);
        if (!ranges || number === null) return;
        for (const { low, high, index } of ranges) if (low <= number && number <= high) count(index, true);
      },
    });
    for (const predicate of isTrue) {
      for (const row of this.neededBy[predicate] ?? []) {
        const met = (this.met[row] ?? 0) + 1;
        this.met[row] = met;
        if (met === this.needed[row]) setBit(bits, row);
      }
    }
    for (const predicate of isTrue) {
      for (const row of this.neededBy[predicate] ?? []) this.met[row] = 0;
      this.counted[predicate] = 0;
    }
    for (const predicate of isCertain) for (const row of this.refusedBy[predicate] ?? []) clearBit(bits, row);
    return bits;
  }
}
