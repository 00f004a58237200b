import type { Invitation, RoleMembership } from '#core/model/subject.ts';
import type { Queryable } from '../db/database.ts';

/** A customer: `key` is our database's, `id` the shop's. */
export interface CustomerRow {
  readonly key: string;
  readonly id: string;
  readonly name: string | null;
  /** Ids of the shop's that were merged into theirs. */
  readonly merged: readonly string[];
  readonly roles: readonly RoleMembership[];
  readonly invitations: readonly Invitation[];
}

/** Invitations with their variants and expiry (epoch ms). */
const INVITED = `
  SELECT CASE WHEN v.id IS NULL THEN 'product' ELSE 'variant' END AS "to",
    coalesce(v.external_id, p.external_id) AS id, (extract(epoch FROM i.expires_at) * 1000)::bigint AS "until", i.units
  FROM invitations i
    JOIN waitlist_entries w ON w.id = i.entry_id AND w.state = 'invited'
    JOIN products p ON p.id = w.product_id
    LEFT JOIN variants v ON v.id = w.variant_id`;

const CUSTOMERS = `
  SELECT c.id::text AS key, c.external_id AS id, c.name,
    ARRAY(SELECT m.external_id FROM customers m WHERE m.merged_into = c.id) AS merged,
    (SELECT coalesce(json_agg(json_build_object(
       'code', role, 'from', (extract(epoch FROM held_from) * 1000)::bigint,
       'until', (extract(epoch FROM held_until) * 1000)::bigint) ORDER BY role, held_from), '[]')
     FROM customer_roles r WHERE r.customer_id = c.id) AS roles,
    (SELECT coalesce(json_agg(i), '[]') FROM (${INVITED} WHERE w.customer_id = c.id ORDER BY i.id) AS i) AS invitations
  FROM customers c WHERE c.archived_at IS NULL AND (c.external_id = ANY($1)
    OR c.id = ANY(ARRAY(SELECT merged_into FROM customers WHERE external_id = ANY($1) AND merged_into IS NOT NULL)))`;

/** Customers by the shop's ids, without unknown ones. */
export async function customersByIds(db: Queryable, ids: readonly string[]): Promise<CustomerRow[]> {
  return (await db.query<CustomerRow>({ name: 'customers-by-ids', text: CUSTOMERS, values: [ids] })).rows;
}

const BY_LINK = `${INVITED} WHERE w.id = ANY($1) AND NOT w.account_only`;

/** Invitations of these waitlist entries, for anybody who has their links: not those that are an account's alone. */
export async function invitationsByLink(db: Queryable, entries: readonly number[]): Promise<Invitation[]> {
  return (await db.query<Invitation>(BY_LINK, [entries])).rows;
}
