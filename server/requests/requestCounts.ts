import type { RequestCounts } from '#core/contract/attentionCalls.ts';
import { inScope, type Scope } from '../scope/scope.ts';
import type { Queryable } from '../db/database.ts';
import { promisedUnits } from './promisedUnits.ts';

// Parts of sellers with people of their own are theirs to price; the shop prices the rest.
const COUNTS = `
  SELECT
    (SELECT coalesce(sum(least(w.waiting, greatest(w.stock - w.promised, 0))), 0)::bigint FROM (
       SELECT count(*) FILTER (WHERE e.state = 'waiting') AS waiting, ${promisedUnits('e.product_id', 'e.variant_id')} AS promised,
         (SELECT coalesce(sum(v.stock_quantity), 0) FROM variants v WHERE v.product_id = e.product_id
            AND v.stock_tracked AND v.archived_at IS NULL AND (e.variant_id IS NULL OR v.id = e.variant_id)) AS stock
       FROM waitlist_entries e WHERE e.state IN ('waiting', 'invited') AND ${inScope('$1', 'e.product_id')}
       GROUP BY e.product_id, e.variant_id) w) AS invitations,
    (SELECT count(*) FROM (
       SELECT FROM preorders o JOIN variants v ON v.id = o.variant_id
       WHERE o.state IN ('reserved', 'allocated') AND ${inScope('$1', 'v.product_id')}
       GROUP BY v.id HAVING bool_or(o.state = 'reserved') AND v.stock_tracked
         AND v.stock_quantity > coalesce(sum(o.units) FILTER (WHERE o.state = 'allocated'), 0)) s) AS allocations,
    (SELECT count(DISTINCT q.id) FROM quotes q JOIN quote_parts k ON k.quote_id = q.id
     WHERE ((q.state IN ('asked', 'priced') AND k.state = 'asked') OR (q.replied_at IS NOT NULL AND k.state <> 'turnedDown')) AND CASE WHEN $2::text IS NOT NULL THEN k.seller_id = $2
       ELSE NOT EXISTS (SELECT FROM staff s WHERE s.seller_id = k.seller_id AND s.password_hash IS NOT NULL) END) AS quotes,
    (SELECT count(*) FROM enquiries e WHERE e.state = 'open' AND ${inScope('$1', 'e.product_id')}) AS enquiries,
    (SELECT count(*) FROM messages WHERE state = 'dead' AND ($2 IS NULL OR seller_id = $2)) AS messages,
    (SELECT count(*) FROM messages WHERE state = 'held' AND ($2 IS NULL OR seller_id = $2)) AS held`;

/** Number of requests that need attention, within a scope. */
export async function requestCounts(db: Queryable, { names, seller }: Scope): Promise<RequestCounts> {
  return (await db.query<RequestCounts>(COUNTS, [names, seller])).rows[0]!;
}
