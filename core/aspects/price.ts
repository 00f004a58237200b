import { z } from 'zod';
import { Minor } from '../controls/control.ts';
import { outcome } from '../controls/telling.ts';
import { textWords, type Names } from '../facts/wording.ts';
import type { VariantFacts } from '../model/subject.ts';
import { LocalisedText } from '../texts/localisedTextSchema.ts';
import { html, label } from '../texts/textRenderers.ts';
import { defineAspect, Html, optional } from './aspect.ts';

/** Per cent, to four decimals. */
const Percent = z
  .number()
  .min(-1_000_000)
  .max(1_000_000)
  .refine(
    (value) => Number.isInteger(Math.round(value * 1e4)) && Math.abs(value * 1e4 - Math.round(value * 1e4)) < 1e-6,
    'at most four decimals',
  );

const Price = z
  .union([
    z.strictObject({
      show: z.literal(true),
      showWas: z.boolean().optional(),
      suffix: LocalisedText.optional(),
      onListing: z.strictObject({ suffix: LocalisedText }).optional(),
    }),
    z.strictObject({ show: z.literal(false), text: LocalisedText.optional() }),
    z.strictObject({
      adjust: z.union([
        z.strictObject({ percent: Percent }),
        z.strictObject({ amount: z.int() }),
        z.strictObject({ fixed: Minor }),
      ]),
    }),
  ])
  .meta({ id: 'RulePrice' });

export type Price = z.infer<typeof Price>;
type Adjustment = Extract<Price, { adjust: unknown }>['adjust'];

/** The price shown, if any. */
export const price = defineAspect({
  schema: Price,
  decided: z.strictObject({
    show: z.boolean(),
    amount: z.int().nullable().describe('Minor units; null when the price is hidden'),
    was: z.int().nullable(),
    from: z.boolean().describe('On a listing: the lowest of several prices'),
    currency: z.string(),
    suffix: z.string().nullable(),
    text: Html.nullable().describe('Safe HTML that stands in the price’s place'),
  }),
  follows: 'unitsLeft',
  prepare: (value, shop) => {
    const shown = 'show' in value && value.show ? value : undefined;
    const suffix = optional(shown?.suffix, (text) => label(text, shop));
    return {
      value,
      isShown: showsPrice(value),
      suffix,
      listingSuffix: optional(shown?.onListing?.suffix, (text) => label(text, shop)) ?? suffix,
      text: 'show' in value && !value.show ? optional(value.text, (text) => html(text, shop)) : null,
    };
  },
  resolve: (winner, { subject, left, shop: { currency } }) => ({
    show: winner?.isShown ?? true,
    // A hidden price is left out of the answer, so that no page source can hold it.
    ...(winner?.isShown === false ? { amount: null, was: null } : amounts(subject.variant, winner?.value)),
    from: false,
    currency,
    suffix: (subject.surface === 'listing' ? winner?.listingSuffix : winner?.suffix)?.(subject, left) || null,
    text: winner?.text?.(subject, left) ?? null,
  }),
  join: (all) => {
    const shown = all.filter(({ show }) => show);
    const [first, ...others] = shown;
    if (!first) return all[0];
    const lowest = others.reduce((best, one) => ((one.amount ?? 0) < (best.amount ?? 0) ? one : best), first);
    return { ...lowest, from: shown.some(({ amount }) => amount !== lowest.amount) };
  },
  name: 'the price',
  shortName: 'price',
  phrases: (value, names) => [outcome(priceWords(value, names), '/then/price')],
});

/** Whether a rule's price is shown. */
/** Whether a price remains to be seen. */
export const showsPrice = (value: Price): boolean => !('show' in value && !value.show);

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

/** A variant's price and earlier price, in minor units, if its price is shown. */
function amounts(
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

function priceWords(price: Price, names: Names): string {
  if ('adjust' in price) return adjustmentWords(price.adjust, names);
  if (!price.show) {
    return price.text === undefined ? 'hide the price' : `show ${textWords(price.text, names)} instead of the price`;
  }
  const { showWas, suffix, onListing } = price;
  const parts = [
    suffix !== undefined && ` followed by ${textWords(suffix, names)}`,
    onListing !== undefined && ` (${textWords(onListing.suffix, names)} on listings)`,
    showWas === false && ', without the former price',
  ];
  return `show the price${parts.filter((part) => part !== false).join('')}`;
}

function adjustmentWords(adjust: Adjustment, { price }: Names): string {
  const formatAmount = price ?? ((minor: number) => `${minor} in minor units`);
  if ('fixed' in adjust) return `set the price to ${formatAmount(adjust.fixed)}`;
  const [by, text] =
    'percent' in adjust
      ? [adjust.percent, `${Math.abs(adjust.percent)} %`]
      : [adjust.amount, formatAmount(Math.abs(adjust.amount))];
  return by > 0 ? `increase the price by ${text}` : `reduce the price by ${text}`;
}
