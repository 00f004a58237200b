import { jwtVerify } from 'jose';
import type { VisitorFacts } from '#core/decide/subject.ts';
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
  if (!claims) return { signedIn: false, roles: [], customerId: null, locale };
  const roles =
    claims.roles.length > 0
      ? claims.roles.map((code) => ({ code, from: null, until: null }))
      : (await db.query<RoleRow>({ name: 'roles-of-customer', text: ROLES, values: [claims.customerId] })).rows;
  return { signedIn: true, roles, customerId: claims.customerId, locale };
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
