import { jwtVerify } from 'jose';
import type { Invitation, VisitorFacts } from '#core/decide/subject.ts';
import type { Queryable } from '../db/database.ts';
import { read } from '../http/signed.ts';
import type { Services } from '../services.ts';

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

const INVITATIONS = `
  SELECT CASE WHEN v.id IS NULL THEN 'product' ELSE 'variant' END AS "to",
    coalesce(v.external_id, p.external_id) AS id, (extract(epoch FROM i.expires_at) * 1000)::bigint AS "until"
  FROM invitations i
    JOIN waitlist_entries w ON w.id = i.entry_id AND w.state = 'invited'
    JOIN products p ON p.id = w.product_id
    LEFT JOIN variants v ON v.id = w.variant_id
    JOIN customers c ON c.id = w.customer_id
  WHERE c.external_id = $1 AND c.archived_at IS NULL`;

const GUEST = { signedIn: false, roles: [], customerId: null, invitations: [] } as const;

const INVITATIONS_BY_LINK = `
  SELECT CASE WHEN v.id IS NULL THEN 'product' ELSE 'variant' END AS "to",
    coalesce(v.external_id, p.external_id) AS id, (extract(epoch FROM i.expires_at) * 1000)::bigint AS "until"
  FROM invitations i
    JOIN waitlist_entries w ON w.id = i.entry_id AND w.state = 'invited'
    JOIN products p ON p.id = w.product_id
    LEFT JOIN variants v ON v.id = w.variant_id
  WHERE w.id = ANY($1)`;

export interface AskedBy {
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
 * Who a visitor's token says they are (JWT, HS256, RFC 7519: `sub` the customer, `roles`, `exp`). Anything invalid is a
 * guest, never an error. Roles in the token stand; without any, those in the database do.
 */
export async function visitorOf(
  { db, sessionSecret }: Pick<Services, 'sessionSecret'> & { readonly db: Queryable },
  { token, locale, invitations: links = [], secrets, moment }: AskedBy,
): Promise<VisitorFacts> {
  const [claims, byLink] = await Promise.all([
    token ? claimsOf(token, secrets, moment) : null,
    invitedBy(db, links, { sessionSecret, moment }),
  ]);
  if (!claims) return { ...GUEST, invitations: byLink, locale };
  const values = [claims.customerId];
  const [roles, invitations] = await Promise.all([
    claims.roles.length > 0
      ? claims.roles.map((code) => ({ code, from: null, until: null }))
      : db.query<RoleRow>({ name: 'roles-of-customer', text: ROLES, values }).then(({ rows }) => rows),
    db.query<Invitation>({ name: 'invitations-of-customer', text: INVITATIONS, values }).then(({ rows }) => rows),
  ]);
  return { signedIn: true, roles, invitations: [...invitations, ...byLink], customerId: claims.customerId, locale };
}

/** The places on waitlists that links speak of. */
export async function invitedEntries(
  links: readonly string[],
  { sessionSecret, moment }: { sessionSecret: string; moment: number },
): Promise<number[]> {
  const said = await Promise.all(links.map((link) => read(sessionSecret, link, { purpose: INVITATION, now: moment })));
  return said.flatMap((says) => (typeof says?.entry === 'number' ? [says.entry] : []));
}

/** The turns that links give; those that are over, or are no links of ours, give none. */
async function invitedBy(
  db: Queryable,
  links: readonly string[],
  { sessionSecret, moment }: { sessionSecret: string; moment: number },
): Promise<Invitation[]> {
  if (links.length === 0) return [];
  const entries = await invitedEntries(links, { sessionSecret, moment });
  if (entries.length === 0) return [];
  const { rows } = await db.query<Invitation>(INVITATIONS_BY_LINK, [entries]);
  return rows;
}

async function claimsOf(token: string, secrets: readonly string[], moment: number) {
  for (const secret of secrets) {
    try {
      const { payload } = await jwtVerify(token, new TextEncoder().encode(secret), {
        algorithms: ['HS256'],
        requiredClaims: ['sub', 'exp'],
        currentDate: new Date(moment),
      });
      const roles: unknown = payload.roles;
      return {
        customerId: payload.sub ?? '',
        roles: Array.isArray(roles) ? roles.filter((role): role is string => typeof role === 'string') : [],
      };
    } catch {
      // Signed with another secret, or not at all: the next one, or a guest.
    }
  }
  return null;
}
