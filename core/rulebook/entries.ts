/** A place in the running order where sellers' rules are read. */
interface SellersPlace {
  readonly sellers: true;
}

/** Kinds of entry, recognised without the schemas, which the first screen does not load. */
export const isSellers = <E extends object>(entry: E): entry is Extract<E, SellersPlace> => 'sellers' in entry;
export const isRule = <E extends object>(entry: E): entry is Exclude<E, SellersPlace> => !isSellers(entry);

/** The owner's own rules, in their running order. */
export const rulesIn = <E extends object>({ rules }: { readonly rules: readonly E[] }): Exclude<E, SellersPlace>[] =>
  rules.filter(isRule);

/** Ids of sellers' rules begin so, and no other's. */
export const SELLERS_PREFIX = 'sellers/';

/** Id of a seller's rule in decisions. */
export const sellerRuleId = (seller: string, rule: string): string => `${SELLERS_PREFIX}${seller}/${rule}`;

/** Splits an id into the seller and their own id; null for the owner's rules. */
export function sellerOfRule(id: string): { readonly seller: string; readonly rule: string } | null {
  const [, seller, rule] = /^sellers\/([^/]+)\/(.+)$/s.exec(id) ?? [];
  return seller === undefined || rule === undefined ? null : { seller, rule };
}
