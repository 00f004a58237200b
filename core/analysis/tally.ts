import { countOf } from '../engine/bits.ts';
import type { Example } from './finding.ts';

/** Counts of the same thing at many rows, looked at word by word: each row counts once, however often it is seen. */
export class Tally {
  /** A case in which it was seen. */
  example: Example | null = null;
  private done = 0;
  private word = -1;
  private rows = 0;

  /** Number of variants. */
  get variants(): number {
    return this.done + countOf(this.rows);
  }

  /** @param rows of a word: a bit for each; words come in their order @param example makes one of the first row */
  add(word: number, rows: number, example: () => Example): void {
    if (word !== this.word) {
      this.done += countOf(this.rows);
      this.word = word;
      this.rows = 0;
    }
    this.rows |= rows;
    this.example ??= example();
  }
}

/** Tallies by a key, made when they are first needed. */
export class Tallies<Key> extends Map<Key, Tally> {
  of(key: Key): Tally {
    const tally = this.get(key) ?? new Tally();
    this.set(key, tally);
    return tally;
  }
}
