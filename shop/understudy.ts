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
}

export interface Verdict {
  readonly ok: boolean;
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

/** Asks the guard whether lines may be sold to a customer now. What cannot be asked is not sold. */
export async function askGuard(
  settings: UnderstudySettings,
  {
    via,
    lines,
    visit: { customer, language, invitations },
  }: { via: 'cart' | 'express'; lines: readonly Line[]; visit: Visit },
): Promise<Verdict> {
  try {
    const response = await fetch(`${settings.url}/v1/guard`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({
        via,
        lines,
        locale: language,
        invitations,
        visitor: await visitorToken(settings, customer),
      }),
      signal: AbortSignal.timeout(5000),
    });
    if (!response.ok) throw new Error(`the guard answered ${response.status}`);
    return (await response.json()) as Verdict;
  } catch {
    const text = UNREACHED[language];
    return {
      ok: false,
      lines: lines.map(({ variantId }) => ({ variantId, ok: false, code: null, text, unitPrice: null })),
    };
  }
}
