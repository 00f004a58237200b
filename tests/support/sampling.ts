/** Seed of the day's samples: bin/test prints it and passes it on; `bin/test --seed N` repeats a run. */
export const SEED = Number(process.env.TEST_SEED ?? new Date().toISOString().slice(0, 10).replaceAll('-', ''));

/** Whether all cases of the long tests run (`bin/test --long`), not a sample. */
export const IS_LONG = process.env.TEST_LONG === '1';

/** Number of cases: all with `--long`, otherwise one in `share`. */
export const sampled = (all: number, share = 5): number => (IS_LONG ? all : Math.ceil(all / share));

/** A property's parameters, for as many runs as `sampled` says. Its seed is the day's: see seededProperties.ts. */
export const runs = (all: number, share = 5): { readonly numRuns: number } => ({ numRuns: sampled(all, share) });

/** Picks the day's part of a fixed list: one in `share`, all of them with `--long`. */
export const partOf = <T>(all: readonly T[], share: number, offset = 0): readonly T[] =>
  IS_LONG ? all : all.filter((_one, index) => (index + offset + SEED) % share === 0);
