import { randomUUID } from 'node:crypto';
import type { RequestHandler } from 'express';
import type { Customer } from './people.ts';

/** A visit, which the shop keeps in memory. */
export interface Visit {
  customer: Customer | null;
  language: Language;
  /** Tokens of the invitation links that they followed. */
  invitations: string[];
  /** The link's token of a quote that they accepted. */
  quote: string | null;
  /** With the price of one at which the guard let it in, in cents, and whether it is hidden from the shopper. */
  lines: { variantId: string; quantity: number; unitPrice: number; isPriceHidden: boolean }[];
  /** Message shown once, on the next page. */
  message: string | null;
}

export const LANGUAGES = ['en', 'fr'] as const;
export type Language = (typeof LANGUAGES)[number];

const COOKIE = 'nursery';

/** Gives every request its visit, in `response.locals.visit`. */
export function visits(): RequestHandler {
  const kept = new Map<string, Visit>();
  return (request, response, next) => {
    const id = new RegExp(`(?:^|;\\s*)${COOKIE}=([\\w-]+)`).exec(request.headers.cookie ?? '')?.[1];
    const known = id === undefined ? undefined : kept.get(id);
    const visit = known ?? {
      customer: null,
      language: 'en' as const,
      invitations: [],
      quote: null,
      lines: [],
      message: null,
    };
    if (!known) {
      const newId = randomUUID();
      kept.set(newId, visit);
      response.cookie(COOKIE, newId, { httpOnly: true, sameSite: 'lax' });
    }
    const { invitation } = request.query;
    if (typeof invitation === 'string' && !visit.invitations.includes(invitation))
      visit.invitations = [invitation, ...visit.invitations].slice(0, 5);
    response.locals.visit = visit;
    next();
  };
}
