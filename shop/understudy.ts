import type { Line, Understudy, Verdict } from '../client/understudy.ts';
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
    ...asking
  }: { via: 'cart' | 'order'; lines: readonly Line[]; method?: string | undefined; visit: Visit },
): Promise<Verdict> {
  return inShopWords(
    visit,
    await understudy.guard({ ...asking, ...of(visit), ...(method === undefined ? {} : { method }) }),
  );
}

/** Has an order taken: what is pre-ordered is reserved in the same moment. */
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
  return inShopWords(visit, await understudy.takeOrder({ order, lines, ...of(visit), ...how }));
}

/** Has a customer be a member for a year from now. @returns whether they are */
export function grantMembership(understudy: Understudy, customerId: string): Promise<boolean> {
  const from = new Date();
  const until = new Date(from);
  until.setFullYear(until.getFullYear() + 1);
  return understudy.grant(customerId, [{ role: 'member', from: from.toISOString(), until: until.toISOString() }]);
}

const of = ({ customer, language, invitations, quote }: Visit) => ({
  visitor: customer && { id: customer.id },
  locale: language,
  invitations,
  quote,
});

/** What could not be asked is said in the shop's own words. */
const inShopWords = ({ language }: Visit, verdict: Verdict): Verdict =>
  verdict.isAnswered
    ? verdict
    : { ...verdict, lines: verdict.lines.map((line) => ({ ...line, text: UNREACHED[language] })) };
