import { createHash } from 'node:crypto';
import { countedLines, deliveryOf } from '#core/requests/quoteParts.ts';
import { quoteTotal } from '#core/fulfilment/quoteTotal.ts';
import type { QuoteRow } from './quoteQueries.ts';

/** Whether the customer has prices before them. */
export const isSent = ({ state }: Pick<QuoteRow, 'state'>): boolean => state !== 'asked' && state !== 'turnedDown';

/** Total of a quote in minor units, delivery included. */
export const totalOf = (quote: Pick<QuoteRow, 'state' | 'lines' | 'parts'>): number =>
  quoteTotal(countedLines(quote.lines, quote.parts, isSent(quote)), deliveryOf(quote.parts));

/**
 * Identifies the offer that a customer has before them. Derived from the offer itself, so that it differs after any change
 * to it, by anybody.
 */
export function versionOf(quote: Pick<QuoteRow, 'state' | 'lines' | 'parts' | 'validUntil'>): string {
  const lines = countedLines(quote.lines, quote.parts, isSent(quote));
  const offer = [
    lines.map(({ variant, units, unitPrice }) => [variant, units, unitPrice]),
    deliveryOf(quote.parts),
    totalOf(quote),
    quote.validUntil,
  ];
  return createHash('sha256').update(JSON.stringify(offer)).digest('base64url');
}
