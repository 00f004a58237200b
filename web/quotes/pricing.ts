import type { Quote } from '#core/contract/askingCalls.ts';
import { quoteTotal } from '#core/fulfilment/quoteTotal.ts';
import { isQuantity } from '#core/model/units.ts';
import type { ShopFacts } from '#core/model/subject.ts';

export type Line = Quote['lines'][number];

/** A line as it is being priced: numbers as they are typed. */
export interface EditedLine extends Omit<Line, 'units' | 'unitPrice'> {
  readonly units: string;
  readonly price: string;
  /** Whether it is left out of the quote, until it is restored. */
  readonly isRemoved: boolean;
}

/** The form of a quote, or of one part. */
export interface PricingForm {
  readonly lines: EditedLine[];
  readonly delivery: string;
  readonly days: string;
  readonly words: string;
}

const USUAL_DAYS = 14;
const MOST_DAYS = 365;

type Money = Pick<ShopFacts, 'exponent'>;

/** Writes minor units as a decimal. */
const decimal = (amount: number, { exponent }: Money): string => (amount / 10 ** exponent).toFixed(exponent);

/** Reads a decimal as minor units; null if it is no amount. */
const amountOf = (text: string, { exponent }: Money): number | null => {
  const amount = Math.round(Number(text) * 10 ** exponent);
  return text.trim() !== '' && Number.isSafeInteger(amount) && amount >= 0 ? amount : null;
};

export const editedLine = ({ units, unitPrice, ...line }: Line, shop: Money): EditedLine => ({
  ...line,
  units: String(units),
  price: decimal(unitPrice ?? line.today, shop),
  isRemoved: false,
});

export const pricingForm = (
  lines: readonly Line[],
  { delivery, words }: Quote['parts'][number],
  shop: Money,
): PricingForm => ({
  lines: lines.map((line) => editedLine(line, shop)),
  delivery: delivery === null ? '' : decimal(delivery, shop),
  days: String(USUAL_DAYS),
  words,
});

/** Checks of fields: each returns what to write instead, or undefined if the value is right. */
export const faultOf = {
  units: (text: string) => (isQuantity(Number(text)) ? undefined : 'Write 1 or more'),
  price: (text: string, shop: Money) => (amountOf(text, shop) === null ? 'Write a price' : undefined),
  delivery: (text: string, shop: Money) =>
    text.trim() === '' || amountOf(text, shop) !== null ? undefined : 'Write an amount, or nothing',
  days: (text: string) => {
    const days = Number(text);
    return Number.isInteger(days) && days >= 1 && days <= MOST_DAYS ? undefined : `Write 1 to ${MOST_DAYS} days`;
  },
  lines: (lines: readonly EditedLine[]) =>
    lines.some(({ isRemoved }) => !isRemoved) ? undefined : 'Restore a line or add a product, or decline the request.',
};

/** Reads a form without faults as the call takes it. */
export const pricedBody = ({ lines, delivery, days, words }: PricingForm, shop: Money) => ({
  lines: lines
    .filter(({ isRemoved }) => !isRemoved)
    .map(({ variant, units, price }) => ({ variant, units: Number(units), unitPrice: amountOf(price, shop) ?? 0 })),
  delivery: amountOf(delivery, shop),
  days: Number(days),
  words,
});

/** Total of a line in minor units; null while its numbers are not right. */
export function lineTotal({ units, price, isRemoved }: EditedLine, shop: Money): number | null {
  const unitPrice = amountOf(price, shop);
  if (isRemoved) return 0;
  return isQuantity(Number(units)) && unitPrice !== null ? Number(units) * unitPrice : null;
}

/** Total of a form in minor units; null while a number is not right. */
export function formTotal({ lines, delivery }: Pick<PricingForm, 'lines' | 'delivery'>, shop: Money): number | null {
  const totals = lines.map((line) => lineTotal(line, shop));
  if (totals.includes(null) || faultOf.delivery(delivery, shop)) return null;
  const priced = totals.map((total) => ({ units: 1, unitPrice: total, today: 0 }));
  return quoteTotal(priced, amountOf(delivery, shop));
}
