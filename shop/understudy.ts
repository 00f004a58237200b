import type { Line, Surface, Understudy, Verdict } from '../client/understudy.ts';
import type { Product } from './catalog.ts';
import type { Language, Visit } from './visits.ts';

const UNREACHED: Record<Language, string> = {
  en: 'We cannot check your basket right now. Please try again in a moment.',
  fr: 'Nous ne pouvons pas vérifier votre panier pour le moment. Merci de réessayer dans un instant.',
};

export interface Buyer {
  readonly email: string | undefined;
  readonly name: string | undefined;
}

/** Asks the guard whether lines may be put into a visit's cart, or an order be placed, now. */
export async function askGuard(
  understudy: Understudy,
  {
    visit,
    method,
    lines,
    ...asking
  }: { via: 'cart' | 'order'; lines: readonly Line[]; method?: string | undefined; visit: Visit },
): Promise<Verdict> {
  return inShopWords(
    visit,
    await understudy.guard({
      ...asking,
      lines: lines.map(forGuard),
      ...of(visit),
      ...(method === undefined ? {} : { method }),
    }),
  );
}

/** Places an order; its pre-orders are reserved at the same time. */
export async function takeOrder(
  understudy: Understudy,
  {
    order,
    lines,
    visit,
    buyer: { email, name },
    method,
  }: { order: string; lines: readonly Line[]; visit: Visit; buyer: Buyer; method: string | undefined },
): Promise<Verdict> {
  const how = Object.fromEntries(Object.entries({ email, name, method }).filter(([, value]) => value !== undefined));
  return inShopWords(visit, await understudy.takeOrder({ order, lines: lines.map(forGuard), ...of(visit), ...how }));
}

/** The products of a page by the surface on which it shows them. */
export type Shelves = Partial<Readonly<Record<Surface, readonly Product[]>>>;

/** Returns whether a page must leave the price of a variant out. */
export type IsPriceHidden = (surface: Surface, variantId: string) => boolean;

/** Variants whose price has ever been hidden. Pages omit these prices while Understudy cannot be reached. */
const everHidden = new WeakMap<Understudy, Set<string>>();

/** Asks which prices of a page are hidden from a visit. */
export async function askHiddenPrices(
  understudy: Understudy,
  { visit, page, shelves }: { visit: Visit; page: string; shelves: Shelves },
): Promise<IsPriceHidden> {
  const products = (Object.entries(shelves) as [Surface, readonly Product[]][]).flatMap(([surface, shown]) =>
    shown.map(({ id }) => ({ id, surface })),
  );
  const found = await understudy.hiddenPrices({ products, page, ...of(visit) });
  const before = everHidden.get(understudy) ?? new Set<string>();
  if (found === null) return (_surface, variantId) => before.has(variantId);
  for (const { variantId } of found) before.add(variantId);
  everHidden.set(understudy, before);
  const hidden = new Set(found.map(({ surface, variantId }) => `${surface} ${variantId}`));
  return (surface, variantId) => hidden.has(`${surface} ${variantId}`);
}

/** Has a customer be a member for a year from now. @returns whether they are */
export function grantMembership(understudy: Understudy, customerId: string): Promise<boolean> {
  const from = new Date();
  const until = new Date(from);
  until.setFullYear(until.getFullYear() + 1);
  return understudy.grant(customerId, [{ role: 'member', from: from.toISOString(), until: until.toISOString() }]);
}

/** A basket's line as the guard takes it, which refuses keys it does not know. */
const forGuard = ({ isPriceHidden: _hidden, ...line }: Line & { readonly isPriceHidden?: boolean }): Line => line;

const of = ({ customer, language, invitations, quote }: Visit) => ({
  visitor: customer && { id: customer.id },
  locale: language,
  invitations,
  quote,
});

/** Gives the shop's own text if Understudy did not answer. */
const inShopWords = ({ language }: Visit, verdict: Verdict): Verdict =>
  verdict.isAnswered
    ? verdict
    : { ...verdict, lines: verdict.lines.map((line) => ({ ...line, text: UNREACHED[language] })) };
