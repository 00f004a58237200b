import type { Invitation, VisitorFacts } from '#core/model/subject.ts';
import type { Queryable } from '../db/database.ts';
import type { Links } from '../http/links.ts';
import { visitorClaims } from '../http/shopToken.ts';
import type { Services } from '../services/services.ts';
import type { VisitorReader } from './visitorCache.ts';
import { invitationsByLink } from './visitorQueries.ts';

/** Purpose of an invitation link's token. */
export const INVITATION = 'invitation';

const GUEST = { signedIn: false, roles: [], customerId: null, invitations: [] } as const;

/** Somebody of whom nothing is known but the language. */
export const guestSpeaking = (locale: string | null): VisitorFacts => ({ ...GUEST, locale });

export interface VisitorClaims {
  /** The visitor's signed token. */
  readonly token: string | null | undefined;
  readonly locale: string | null;
  /** Tokens of links by which they were invited. */
  readonly invitations?: readonly string[] | undefined;
  /** Secrets that sign visitors' tokens. */
  readonly secrets: readonly string[];
  /** Epoch ms. */
  readonly moment: number;
}

/** Services that identify a visitor. */
export interface VisitorNeeds extends Pick<Services, 'links'> {
  readonly db: Queryable;
  readonly visitors: Pick<VisitorReader, 'rights'>;
}

/**
 * Identifies a visitor by their token (JWT, HS256, RFC 7519: `sub` the customer, `roles`, `exp`; `aud`, if present,
 * `understudy-visitor`). Anything invalid is a guest, never an error. Roles in the token stand, also when it says that
 * there are none; where it says nothing of roles, those in the database do.
 */
export async function visitorOf(
  { db, links, visitors }: VisitorNeeds,
  { token, locale, invitations: tokens = [], secrets, moment }: VisitorClaims,
): Promise<VisitorFacts> {
  const [claims, byLink] = await Promise.all([
    token ? visitorClaims(token, secrets, moment) : null,
    invitedBy(db, tokens, links),
  ]);
  if (claims?.sub === undefined) return { ...GUEST, invitations: byLink, locale };
  const known = await visitors.rights(claims.sub);
  const roles = Array.isArray(claims.roles)
    ? claims.roles
        .filter((role): role is string => typeof role === 'string')
        .map((code) => ({ code, from: null, until: null }))
    : known.roles;
  return {
    signedIn: true,
    roles,
    invitations: [...known.invitations, ...byLink],
    customerId: known.id ?? claims.sub,
    locale,
  };
}

/** The places on waitlists that links speak of. */
export async function invitedEntries(tokens: readonly string[], links: Links): Promise<number[]> {
  const claims = await Promise.all(tokens.map((token) => links.read(INVITATION, token)));
  return claims.flatMap((claim) => (typeof claim?.entry === 'number' ? [claim.entry] : []));
}

/** The turns that links give; those that are over, or are no links of ours, give none. */
async function invitedBy(db: Queryable, tokens: readonly string[], links: Links): Promise<Invitation[]> {
  if (tokens.length === 0) return [];
  const entries = await invitedEntries(tokens, links);
  return entries.length === 0 ? [] : invitationsByLink(db, entries);
}
