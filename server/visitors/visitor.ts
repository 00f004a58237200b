import type { Invitation, VisitorFacts } from '#core/model/subject.ts';
import type { Queryable } from '../db/database.ts';
import type { Links } from '../http/links.ts';
import { visitorClaims } from '../http/shopToken.ts';
import type { Services } from '../base/services.ts';

/** What a link's token that gives somebody their turn is for. */
export const INVITATION = 'invitation';

interface RoleRow {
  code: string;
  from: number | null;
  until: number | null;
}

const ROLES = `
  SELECT role AS code, (extract(epoch FROM held_from) * 1000)::bigint AS "from",
    (extract(epoch FROM held_until) * 1000)::bigint AS "until"
  FROM customer_roles r JOIN customers c ON c.id = r.customer_id
  WHERE c.external_id = $1 AND c.archived_at IS NULL`;

/** What is kept for whoever is invited, and until when (epoch ms). */
const INVITED = `
  SELECT CASE WHEN v.id IS NULL THEN 'product' ELSE 'variant' END AS "to",
    coalesce(v.external_id, p.external_id) AS id, (extract(epoch FROM i.expires_at) * 1000)::bigint AS "until", i.units
  FROM invitations i
    JOIN waitlist_entries w ON w.id = i.entry_id AND w.state = 'invited'
    JOIN products p ON p.id = w.product_id
    LEFT JOIN variants v ON v.id = w.variant_id`;
const INVITATIONS = `${INVITED}
    JOIN customers c ON c.id = w.customer_id
  WHERE c.external_id = $1 AND c.archived_at IS NULL`;
const INVITATIONS_BY_LINK = `${INVITED} WHERE w.id = ANY($1)`;

const GUEST = { signedIn: false, roles: [], customerId: null, invitations: [] } as const;

export interface VisitorClaims {
  /** The visitor's signed token. */
  readonly token: string | null | undefined;
  readonly locale: string | null;
  /** Tokens of links by which they were invited. */
  readonly invitations?: readonly string[] | undefined;
  /** What signs visitors' tokens. */
  readonly secrets: readonly string[];
  /** Epoch ms. */
  readonly moment: number;
}

/**
 * Who a visitor's token says they are (JWT, HS256, RFC 7519: `sub` the customer, `roles`, `exp`; `aud`, where it has one,
 * `understudy-visitor`). Anything invalid is a guest, never an error. Roles in the token stand, also when it says that
 * there are none; where it says nothing of roles, those in the database do.
 */
export async function visitorOf(
  { db, links }: Pick<Services, 'links'> & { readonly db: Queryable },
  { token, locale, invitations: tokens = [], secrets, moment }: VisitorClaims,
): Promise<VisitorFacts> {
  const [claims, byLink] = await Promise.all([
    token ? visitorClaims(token, secrets, moment) : null,
    invitedBy(db, tokens, links),
  ]);
  if (claims?.sub === undefined) return { ...GUEST, invitations: byLink, locale };
  const { sub: customerId } = claims;
  const [roles, invitations] = await Promise.all([
    Array.isArray(claims.roles)
      ? claims.roles
          .filter((role): role is string => typeof role === 'string')
          .map((code) => ({ code, from: null, until: null }))
      : db.query<RoleRow>({ name: 'roles-of-customer', text: ROLES, values: [customerId] }).then(({ rows }) => rows),
    db
      .query<Invitation>({ name: 'invitations-of-customer', text: INVITATIONS, values: [customerId] })
      .then(({ rows }) => rows),
  ]);
  return { signedIn: true, roles, invitations: [...invitations, ...byLink], customerId, locale };
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
  if (entries.length === 0) return [];
  const { rows } = await db.query<Invitation>(INVITATIONS_BY_LINK, [entries]);
  return rows;
}
