import { getAttention } from '#core/contract/attentionCalls.ts';
import type { TargetName } from '#core/imports/fileReading.ts';
import type { Queryable } from '../db/database.ts';
import { reply, route } from '../http/route.ts';
import { liveMap } from '../pageMap/pageMapQueries.ts';
import { readDraft } from '../base/rulebookQueries.ts';
import { FAILING_FEEDS } from '../imports/feedQueries.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { Services } from '../base/services.ts';
import { checkSpots } from '../spotChecks/spotCheckService.ts';

const COUNTS = `
  SELECT
    (SELECT coalesce(sum(least(w.waiting, greatest(w.stock - w.invited, 0))), 0)::bigint FROM (
       SELECT count(*) FILTER (WHERE e.state = 'waiting') AS waiting, count(*) FILTER (WHERE e.state = 'invited') AS invited,
         (SELECT coalesce(sum(v.stock_quantity), 0) FROM variants v WHERE v.product_id = e.product_id
            AND v.stock_tracked AND v.archived_at IS NULL AND (e.variant_id IS NULL OR v.id = e.variant_id)) AS stock
       FROM waitlist_entries e WHERE e.state IN ('waiting', 'invited') GROUP BY e.product_id, e.variant_id) w) AS invitations,
    (SELECT count(*) FROM (
       SELECT FROM preorders o JOIN variants v ON v.id = o.variant_id WHERE o.state IN ('reserved', 'allocated')
       GROUP BY v.id HAVING bool_or(o.state = 'reserved') AND v.stock_tracked
         AND v.stock_quantity > coalesce(sum(o.units) FILTER (WHERE o.state = 'allocated'), 0)) s) AS allocations,
    (SELECT count(*) FROM quotes WHERE state = 'asked') AS quotes,
    (SELECT count(*) FROM enquiries WHERE state = 'open') AS enquiries,
    (SELECT count(*) FROM messages WHERE state = 'dead') AS messages,
    (SELECT count(*) FROM messages WHERE state = 'held') AS held,
    (SELECT count(*) FROM sellers WHERE asked IS NOT NULL) AS sellers,
    ARRAY(${FAILING_FEEDS}) AS feeds,
    (SELECT count(*) FROM imports i WHERE i.state = 'interrupted' AND i.ended_at > now() - interval '7 days'
       AND NOT EXISTS (SELECT FROM imports n WHERE n.target = i.target AND n.state = 'done' AND n.created_at > i.created_at)) AS imports`;

interface Counts {
  invitations: number;
  allocations: number;
  sellers: number;
  quotes: number;
  enquiries: number;
  messages: number;
  held: number;
  feeds: TargetName[];
  imports: number;
}

async function counts(db: Queryable): Promise<Counts> {
  return (await db.query<Counts>(COUNTS)).rows[0]!;
}

/** What waits for a person, over all that is served. */
export function attentionRoutes(endpoints: Endpoints, { db, live, clock }: Services): void {
  route(endpoints, getAttention, async () => {
    const [published, waits, draft] = await Promise.all([liveMap(db), counts(db), readDraft(db)]);
    const checks = await checkSpots(db, draft.document, live.current().rulebook.shop, clock(), live.current().sellers);
    const spotChecks = checks.filter(({ passes }) => !passes).length;
    return reply(200, { pageMapBroken: published?.newestCheck?.broken ?? [], spotChecks, ...waits });
  });
}
