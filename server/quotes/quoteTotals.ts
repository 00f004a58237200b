import { countedLines, deliveryOf } from '#core/fulfilment/quoteParts.ts';
import { quoteTotal } from '#core/fulfilment/quoteTotal.ts';
import type { QuoteRow } from './quoteQueries.ts';

/** Whether the customer has prices before them. */
export const isSent = ({ state }: Pick<QuoteRow, 'state'>): boolean => state !== 'asked' && state !== 'turnedDown';

/** What a quote comes to, in minor units, delivery included. */
export const totalOf = (quote: Pick<QuoteRow, 'state' | 'lines' | 'parts'>): number =>
  quoteTotal(countedLines(quote.lines, quote.parts, isSent(quote)), deliveryOf(quote.parts));
