import { SignJWT } from 'jose';
import type { Customer } from './people.ts';
import type { Language, Visit } from './visits.ts';

/** What a shop's server needs to know to work with Understudy. */
export interface UnderstudySettings {
  readonly url: string;
  readonly visitorSecret: string;
}

export interface Line {
  readonly variantId: string;
  readonly quantity: number;
  /** Cents; absent when the price is still to be told. */
  readonly unitPrice?: number;
  /** Of a pre-order, what the shopper has seen and agreed to. */
  readonly terms?: string;
  /** The way it came in; by the cart when it is not said. */
  readonly via?: 'cart' | 'express';
}

/** What the guard says of one line. */
export interface LineVerdict {
  readonly variantId: string;
  readonly ok: boolean;
  readonly code: string | null;
  /** Why it is refused, for the shopper. */
  readonly text: string | null;
  /** The price it may be sold at, in cents; null when it is not known. */
  readonly unitPrice: number | null;
  /** When it is reserved, not sold: when it ships, and what there is to say about it, as safe HTML. */
  readonly preorder: { readonly ships: string; readonly notes: readonly string[]; readonly terms: string } | null;
  /** What to say after the order, as safe HTML. */
  readonly afterOrder: string | null;
}

export interface Verdict {
  readonly ok: boolean;
  /** Why no order may be placed at all, in words for the shopper; null where it may, or where nothing was ordered. */
  readonly refusal: { readonly text: string } | null;
  /** What an accepted quote asks for delivery, in cents; null without one. */
  readonly delivery: number | null;
  readonly lines: readonly LineVerdict[];
}

/** Says to Understudy who is signed in, for an hour: a JWT signed with the shop's secret. */
export async function visitorToken(
  { visitorSecret }: UnderstudySettings,
  customer: Customer | null,
): Promise<string | null> {
  if (!customer) return null;
  return new SignJWT({})
    .setProtectedHeader({ alg: 'HS256' })
    .setSubject(customer.id)
    .setExpirationTime('1h')
    .sign(new TextEncoder().encode(visitorSecret));
}

const UNREACHED: Record<Language, string> = {
  en: 'We cannot check your basket right now. Please try again in a moment.',
  fr: 'Nous ne pouvons pas vérifier votre panier pour le moment. Merci de réessayer dans un instant.',
};

/** Says that it is the shop's own server that asks. */
const shopToken = ({ visitorSecret }: UnderstudySettings) =>
  new SignJWT()
    .setProtectedHeader({ alg: 'HS256' })
    .setAudience('understudy-shop')
    .setExpirationTime('1m')
    .sign(new TextEncoder().encode(visitorSecret));

export interface Buyer {
  readonly email: string | undefined;
  readonly name: string | undefined;
}

/** Has an order taken: what is pre-ordered is reserved in the same moment. Sent again, it is answered as before. */
export async function takeOrder(
  settings: UnderstudySettings,
  {
    order,
    lines,
    visit,
    buyer,
    method,
  }: { order: string; lines: readonly Line[]; visit: Visit; buyer: Buyer; method: string | undefined },
): Promise<Verdict> {
  const { customer, language, invitations, quote } = visit;
  const visitor = await visitorToken(settings, customer);
  const body = { order, lines, method, invitations, visitor, locale: language, ...buyer, ...quoteIn(quote) };
  return ask(settings, '/v1/preorders', body, lines, language, await shopToken(settings));
}

/** Has a customer be a member for a year from now. @returns whether they are */
export async function grantMembership(settings: UnderstudySettings, customerId: string): Promise<boolean> {
  const from = new Date();
  const until = new Date(from);
  until.setFullYear(until.getFullYear() + 1);
  const response = await fetch(`${settings.url}/v1/people/${encodeURIComponent(customerId)}/roles`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${await shopToken(settings)}` },
    body: JSON.stringify({ grant: [{ role: 'member', from: from.toISOString(), until: until.toISOString() }] }),
    signal: AbortSignal.timeout(5000),
  }).catch(() => null);
  return response?.ok ?? false;
}

/**
 * Asks the guard whether lines may be put into a customer's cart, or an order be placed, now. What cannot be asked is not
 * sold.
 */
export async function askGuard(
  settings: UnderstudySettings,
  {
    via,
    lines,
    method,
    visit: { customer, language, invitations, quote },
  }: { via: 'cart' | 'order'; lines: readonly Line[]; method?: string | undefined; visit: Visit },
): Promise<Verdict> {
  const visitor = await visitorToken(settings, customer);
  return ask(
    settings,
    '/v1/guard',
    { via, lines, method, locale: language, invitations, visitor, ...quoteIn(quote) },
    lines,
    language,
  );
}

const quoteIn = (quote: string | null) => (quote === null ? {} : { quote });

/** The lines of a quote that was accepted, at its prices; none when it is over. */
export async function quotedCart({ url }: UnderstudySettings, quote: string): Promise<Visit['lines']> {
  const response = await fetch(`${url}/v1/quote?${new URLSearchParams({ quote }).toString()}`, {
    signal: AbortSignal.timeout(5000),
  }).catch(() => null);
  return response?.ok ? ((await response.json()) as { lines: Visit['lines'] }).lines : [];
}

/** One call; what is not answered lets nothing through. */
async function ask(
  { url }: UnderstudySettings,
  path: string,
  body: object,
  lines: readonly Line[],
  language: Language,
  token?: string,
): Promise<Verdict> {
  try {
    const response = await fetch(url + path, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', ...(token ? { Authorization: `Bearer ${token}` } : {}) },
      body: JSON.stringify(body),
      signal: AbortSignal.timeout(5000),
    });
    if (!response.ok) throw new Error(`${path} answered ${response.status}`);
    return (await response.json()) as Verdict;
  } catch {
    const refused = {
      ok: false,
      code: null,
      text: UNREACHED[language],
      unitPrice: null,
      preorder: null,
      afterOrder: null,
    };
    return {
      ok: false,
      refusal: null,
      delivery: null,
      lines: lines.map(({ variantId }) => ({ variantId, ...refused })),
    };
  }
}
