/**
 * States of a part. A quote has a part for each seller with products in it, and one for the shop's own products. Each seller
 * prices or declines their part; the customer gets one quote.
 */
export const QUOTE_PART_STATES = ['asked', 'priced', 'turnedDown'] as const;
export type QuotePartState = (typeof QUOTE_PART_STATES)[number];

/** When a quote goes to the customer: once nothing of it is left to price, or at each part that is priced. */
export const QUOTE_SENDING = ['together', 'inParts'] as const;
export type QuoteSending = (typeof QUOTE_SENDING)[number];

interface Part {
  /** Null for the shop itself. */
  readonly seller: string | null;
  readonly state: QuotePartState;
  /** Minor units. */
  readonly delivery: number | null;
  readonly validUntil: Date | null;
}

/** State of a quote from its parts: asked, priced or declined. */
export function stateByParts(parts: readonly Pick<Part, 'state'>[], sending: QuoteSending): QuotePartState {
  const has = (state: QuotePartState) => parts.some((part) => part.state === state);
  if (has('asked') && !(sending === 'inParts' && has('priced'))) return 'asked';
  return has('priced') ? 'priced' : 'turnedDown';
}

/** Parts whose prices have expired. */
export const partsOver = <P extends Part>(parts: readonly P[], at: Date): P[] =>
  parts.filter(({ state, validUntil }) => state === 'priced' && validUntil !== null && validUntil <= at);

/** Until when all that is priced is good; null where nothing is. */
export function validUntilOf(parts: readonly Part[]): Date | null {
  const times = parts.flatMap(({ state, validUntil }) =>
    state === 'priced' && validUntil ? validUntil.getTime() : [],
  );
  return times.length === 0 ? null : new Date(Math.min(...times));
}

/** Delivery cost of all priced parts, in minor units; null if none names one. */
export function deliveryOf(parts: readonly Part[]): number | null {
  const named = parts.flatMap(({ state, delivery }) => (state === 'priced' ? (delivery ?? []) : []));
  return named.length === 0 ? null : named.reduce((sum, one) => sum + one, 0);
}

/**
 * The lines that a quote comes to: once it was sent, those that have a price; before, those that nobody turned down.
 * If there are none, returns all.
 */
export function countedLines<L extends { readonly seller: string | null; readonly unitPrice: number | null }>(
  lines: readonly L[],
  parts: readonly Part[],
  isSent: boolean,
): readonly L[] {
  const states = new Map(parts.map(({ seller, state }) => [seller, state]));
  const counted = lines.filter(({ seller, unitPrice }) =>
    isSent ? states.get(seller) === 'priced' && unitPrice !== null : states.get(seller) !== 'turnedDown',
  );
  return counted.length > 0 ? counted : lines;
}
