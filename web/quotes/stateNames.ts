import type { QuoteState } from '#core/contract/askingCalls.ts';

/** What each state of a quote is to the owner. */
export const STATE_NAMES: Readonly<Record<QuoteState, string>> = {
  asked: 'to price',
  priced: 'sent',
  accepted: 'accepted',
  declined: 'declined by customer',
  turnedDown: 'declined by you',
  lapsed: 'lapsed',
};
