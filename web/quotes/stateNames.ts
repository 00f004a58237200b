import type { Quote } from '#core/contract/askingCalls.ts';
import type { QuoteState } from '#core/requests/quote.ts';

/** Names of a quote's states, for the people who price it. */
export const STATE_NAMES: Readonly<Record<QuoteState, string>> = {
  asked: 'to price',
  priced: 'sent',
  accepted: 'accepted',
  declined: 'declined by customer',
  turnedDown: 'declined by you',
  lapsed: 'lapsed',
};

/** The state of a quote, of which others may have parts that are not priced yet. */
export function stateWords({
  state,
  validUntil,
  repliedAt,
  parts,
}: Pick<Quote, 'state' | 'validUntil' | 'repliedAt' | 'parts'>): string {
  if (repliedAt !== null) return 'customer replied';
  const left = parts.filter((part) => part.state === 'asked').length;
  if (state === 'priced' && validUntil === null) return 'waits for the others';
  if (state === 'priced' && left > 0) return 'sent in part';
  if (state === 'accepted' && left > 0) return left === parts.length ? 'accepted without these' : 'accepted in part';
  if (state === 'asked' && parts.length > 1) return `to price: ${left} of ${parts.length} parts`;
  return STATE_NAMES[state];
}
