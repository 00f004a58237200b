/** A place in the running order where sellers' rules are read. */
interface SellersPlace {
  readonly sellers: true;
}

/** What stands in a running order, told apart without the schemas: the first screen has no need of those. */
export const isSellers = <E extends object>(entry: E): entry is Extract<E, SellersPlace> => 'sellers' in entry;
export const isRule = <E extends object>(entry: E): entry is Exclude<E, SellersPlace> => !isSellers(entry);

/** The owner's own rules, in their running order. */
export const rulesIn = <E extends object>({ rules }: { readonly rules: readonly E[] }): Exclude<E, SellersPlace>[] =>
  rules.filter(isRule);

/** Ids of sellers' rules begin so, and no other's. */
export const SELLERS_PREFIX = 'sellers/';

/** How a seller's rule is told from all others in what is decided. */
export const sellerRuleId = (seller: string, rule: string): string => `${SELLERS_PREFIX}${seller}/${rule}`;

/** Whose rule an id is of, and what the seller calls it; null for the owner's. */
export function sellerOfRule(id: string): { readonly seller: string; readonly rule: string } | null {
  const [, seller, rule] = /^sellers\/([^/]+)\/(.+)$/s.exec(id) ?? [];
  return seller === undefined || rule === undefined ? null : { seller, rule };
}
