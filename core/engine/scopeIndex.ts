import { clearBit, setBit, wordsFor, type Bits } from './bits.ts';
import { sameName } from '../model/names.ts';
import type { Predicate, Conjunction } from './conjunctions.ts';
import { NAMED, type EmitValue, type EmitNumber } from './factEmitter.ts';

/** The atoms that look at one side of a subject, and what they mean to every row. */
export class ScopeIndex {
  /** Rows that need nothing of this side; here as everywhere, the bit of a row that is possible. */
  private readonly free: Bits;
  /** How many atoms of this side each row needs. */
  private readonly needed: Uint16Array;
  private readonly neededBy: readonly Int32Array[];
  private readonly refusedBy: readonly Int32Array[];
  private readonly byValue = new Map<string, { readonly isNamed: boolean; readonly values: Map<string, number[]> }>();
  private readonly byNumber = new Map<
    string,
    { readonly low: number; readonly high: number; readonly index: number }[]
  >();
  /** Scratch, all zero between uses: how many needs of each row are met, and which atoms have been counted. */
  private readonly met: Uint16Array;
  private readonly counted: Uint8Array;

  constructor(atoms: readonly Predicate[], rows: readonly Conjunction[]) {
    const indexOf = new Map(atoms.map((atom, index) => [atom, index]));
    const mine = (set: ReadonlySet<Predicate>) => [...set].flatMap((atom) => indexOf.get(atom) ?? []);
    const neededBy: number[][] = atoms.map(() => []);
    const refusedBy: number[][] = atoms.map(() => []);
    this.needed = new Uint16Array(rows.length);
    this.met = new Uint16Array(rows.length);
    this.counted = new Uint8Array(atoms.length);
    this.free = new Uint32Array(wordsFor(rows.length));
    rows.forEach(({ needs, refuses }, row) => {
      const needing = mine(needs);
      for (const atom of needing) neededBy[atom]?.push(row);
      for (const atom of mine(refuses)) refusedBy[atom]?.push(row);
      this.needed[row] = needing.length;
      if (needing.length === 0) setBit(this.free, row);
    });
    this.neededBy = neededBy.map((list) => Int32Array.from(list));
    this.refusedBy = refusedBy.map((list) => Int32Array.from(list));
    atoms.forEach(({ fact, values, low, high }, index) => {
      if (values === null) {
        this.byNumber.set(fact, [...(this.byNumber.get(fact) ?? []), { low, high, index }]);
        return;
      }
      const ofFact = this.byValue.get(fact) ?? { isNamed: NAMED.test(fact), values: new Map<string, number[]>() };
      this.byValue.set(fact, ofFact);
      for (const value of new Set(values)) ofFact.values.set(value, [...(ofFact.values.get(value) ?? []), index]);
    });
  }

  /** The rows that are possible when the facts of this side are those that `tell` tells. */
  bits(emitFacts: (has: EmitValue, hasNumber: EmitNumber) => void): Bits {
    const bits = this.free.slice();
    const isTrue: number[] = [];
    const isCertain: number[] = [];
    const count = (atom: number, certain: boolean) => {
      const before = this.counted[atom] ?? 0;
      if (before === 0) isTrue.push(atom);
      if (certain && before < 2) isCertain.push(atom);
      this.counted[atom] = certain ? 2 : Math.max(before, 1);
    };
    emitFacts(
      (fact, value, certain = true) => {
        const ofFact = this.byValue.get(fact);
        if (!ofFact || value === null || value === undefined) return;
        const found = ofFact.values.get(ofFact.isNamed ? sameName(value) : value);
        if (found) for (const atom of found) count(atom, certain);
      },
      (fact, value) => {
        const ofFact = this.byNumber.get(fact);
        if (!ofFact || value === null) return;
        for (const { low, high, index } of ofFact) if (low <= value && value <= high) count(index, true);
      },
    );
    for (const atom of isTrue) {
      for (const row of this.neededBy[atom] ?? []) {
        const met = (this.met[row] ?? 0) + 1;
        this.met[row] = met;
        if (met === this.needed[row]) setBit(bits, row);
      }
    }
    for (const atom of isTrue) {
      for (const row of this.neededBy[atom] ?? []) this.met[row] = 0;
      this.counted[atom] = 0;
    }
    for (const atom of isCertain) for (const row of this.refusedBy[atom] ?? []) clearBit(bits, row);
    return bits;
  }
}
