/** Counts of a day for some products: opportunities, and how many were taken. */
export interface DayRate {
  readonly of: number;
  readonly came: number;
}

/** Days of the goods that a change touched and, in the same order, of those that it did not. */
export interface Spell {
  readonly touched: readonly DayRate[];
  readonly others: readonly DayRate[];
}

/**
 * Estimates the effect of a change on a rate: the ratio of its rise (above 1) or fall where the change applied to that
 * elsewhere, with a 95 % confidence interval. Null if there is too little data.
 */
export type Effect =
  | { readonly times: number; readonly low: number; readonly high: number }
  | { readonly tooFew: 'days' | 'touched' | 'others' };

/** Fewer days say nothing of how much days differ. */
const FEWEST_DAYS = 5;
/** A rate of fewer is a matter of chance. */
const FEWEST = 20;
/** Of the normal distribution, two-sided. */
const Z95 = 1.959964;

const sum = (days: readonly DayRate[]): DayRate =>
  days.reduce((all, day) => ({ of: all.of + day.of, came: all.came + day.came }), { of: 0, came: 0 });

/** Student’s quantile for 95 %, two-sided (Cornish and Fisher’s expansion, Abramowitz and Stegun 26.7.5). */
function quantile95(freedom: number): number {
  const [z, z3, z5] = [Z95, Z95 ** 3, Z95 ** 5];
  return z + (z3 + z) / (4 * freedom) + (5 * z5 + 16 * z3 + 3 * z) / (96 * freedom ** 2);
}

/**
 * Standard error of the logarithm of the ratio: from the variation between days, and never less than chance alone.
 */
function variance({ touched, others }: Spell): number {
  const [ours, theirs] = [sum(touched), sum(others)];
  const part = ({ of, came }: DayRate, all: DayRate) => came / all.came - of / all.of;
  const between = touched.reduce((total, day, place) => {
    const other = others[place] ?? { of: 0, came: 0 };
    return total + (part(day, ours) - part(other, theirs)) ** 2;
  }, 0);
  const chance = 1 / ours.came + 1 / theirs.came;
  return Math.max((between * touched.length) / (touched.length - 1), chance);
}

const logRate = ({ of, came }: DayRate): number => Math.log(came / of);

/**
 * The difference of differences of two rates, on a logarithmic scale, with its days as what is sampled: what changes for
 * all goods alike (the season, a sale) cancels out.
 */
export function effectOf(before: Spell, after: Spell): Effect {
  const spells = [before, after];
  if (spells.some(({ touched }) => touched.length < FEWEST_DAYS)) return { tooFew: 'days' };
  const isFew = (days: readonly DayRate[]) => sum(days).came < FEWEST;
  if (spells.some(({ touched }) => isFew(touched))) return { tooFew: 'touched' };
  if (spells.some(({ others }) => isFew(others))) return { tooFew: 'others' };
  const change = (of: keyof Spell) => logRate(sum(after[of])) - logRate(sum(before[of]));
  const effect = change('touched') - change('others');
  const freedom = before.touched.length + after.touched.length - 2;
  const margin = quantile95(freedom) * Math.sqrt(variance(before) + variance(after));
  return { times: Math.exp(effect), low: Math.exp(effect - margin), high: Math.exp(effect + margin) };
}
