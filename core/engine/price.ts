import type { Adjustment, Price } from '../rulebook/outcome.ts';
import type { VariantFacts } from '../model/subject.ts';

/** Per cent to four decimals, as a whole number of millionths. */
const WHOLE = 1_000_000n;

/** A price after an adjustment, in minor units: halves are rounded away from zero, and it is never below 0. */
export function adjusted(price: number, adjustment: Adjustment): number {
  // JSON knows a zero below zero, and prices do not.
  if ('fixed' in adjustment) return Math.max(0, adjustment.fixed);
  if ('amount' in adjustment) return Math.max(0, price + adjustment.amount);
  const share = WHOLE + BigInt(Math.round(adjustment.percent * 1e4));
  if (share <= 0n || price <= 0) return 0;
  return Number((2n * BigInt(price) * share + WHOLE) / (2n * WHOLE));
}

/** What a variant costs and cost before, in minor units, where its price is shown. */
export function amounts(
  { price, priceBefore }: Pick<VariantFacts, 'price' | 'priceBefore'>,
  priceOutcome: Price | undefined,
): { amount: number; was: number | null } {
  if (priceOutcome && 'adjust' in priceOutcome) {
    const amount = adjusted(price, priceOutcome.adjust);
    const before = Math.max(price, priceBefore ?? 0);
    return { amount, was: before > amount ? before : null };
  }
  const showsWas = !(priceOutcome && priceOutcome.show && priceOutcome.showWas === false);
  return { amount: price, was: showsWas && priceBefore !== null && priceBefore > price ? priceBefore : null };
}
