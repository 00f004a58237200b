/** Numbers between 0 and 1 that are the same at every run (mulberry32). */
function chances(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

/** Random values from a seed. */
export class Draw {
  private readonly chance: () => number;
  constructor(seed: number) {
    this.chance = chances(seed);
  }

  /** Draws whether something happens, with a probability from 0 to 1. */
  happens(often: number): boolean {
    return this.chance() < often;
  }

  /** A whole number from the first to the last, both possible. */
  between(first: number, last: number): number {
    return first + Math.floor(this.chance() * (last - first + 1));
  }

  /** A number between two, whole weeks after the first. */
  inWeek(first: number, last: number): number {
    return first + 7 * this.between(0, Math.floor((last - first) / 7));
  }

  /** Draws a count with this expectation (Poisson distribution, Knuth's algorithm). */
  times(expected: number): number {
    if (expected > 40) return this.times(expected / 2) + this.times(expected / 2);
    const limit = Math.exp(-expected);
    let count = 0;
    for (let product = this.chance(); product > limit; product *= this.chance()) count += 1;
    return count;
  }

  oneOf<T>(values: readonly T[]): T {
    return values[Math.floor(this.chance() * values.length)]!;
  }
}
