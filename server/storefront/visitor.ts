import { jwtVerify } from 'jose';
import type { Invitation, VisitorFacts } from '#core/decide/subject.ts';
import type { Queryable } from '../db/database.ts';

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

/**
 * Who a visitor's token says they are (JWT, HS256, RFC 7519: `sub` the customer, `roles`, `exp`). Anything invalid is a
 * guest, never an error. Roles in the token stand; without any, those in the database do.
 */
export async function visitorOf(
  db: Queryable,
  token: string | null | undefined,
  locale: string | null,
  { secrets, moment }: { secrets: readonly string[]; moment: number },
): Promise<VisitorFacts> {
  const claims = token ? await claimsOf(token, secrets, moment) : null;
  if (!claims) return { ...GUEST, locale };
  const values = [claims.customerId];
  const [roles, invitations] = await Promise.all([
    claims.roles.length > 0
      ? claims.roles.map((code) => ({ code, from: null, until: null }))
      : db.query<RoleRow>({ name: 'roles-of-customer', text: ROLES, values }).then(({ rows }) => rows),
    db.query<Invitation>({ name: 'invitations-of-customer', text: INVITATIONS, values }).then(({ rows }) => rows),
  ]);
  return { signedIn: true, roles, invitations, customerId: claims.customerId, locale };
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
