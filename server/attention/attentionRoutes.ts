import { getAttention } from '#core/contract/attentionCalls.ts';
import type { TargetName } from '#core/imports/fileReading.ts';
import type { Queryable } from '../db/database.ts';
import { reply, route } from '../http/route.ts';
import { liveMap } from '../pageMap/pageMapQueries.ts';
import { readDraft } from '../rules/rulebookQueries.ts';
import { WHOLE_SHOP } from '../scope/scope.ts';
import { requestCounts } from '../requests/requestCounts.ts';
import { FAILING_FEEDS } from '../imports/feedQueries.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { Services } from '../services/services.ts';
import { checkSpots } from '../spotChecks/spotCheckService.ts';

const COUNTS = `
  SELECT
    (SELECT count(*) FROM sellers WHERE asked IS NOT NULL) AS sellers,
    ARRAY(${FAILING_FEEDS}) AS feeds,
    (SELECT count(*) FROM imports i WHERE i.state = 'interrupted' AND i.ended_at > now() - interval '7 days'
       AND NOT EXISTS (SELECT FROM imports n WHERE n.target = i.target AND n.state = 'done' AND n.created_at > i.created_at)) AS imports`;

interface Counts {
  sellers: number;
  feeds: TargetName[];
  imports: number;
}

async function counts(db: Queryable): Promise<Counts> {
  return (await db.query<Counts>(COUNTS)).rows[0]!;
}

/** Work that waits for a person, over all kinds of request. */
export function attentionRoutes(endpoints: Endpoints, { db, live, clock }: Services): void {
  route(endpoints, getAttention, async () => {
    const [published, waits, requests, draft] = await Promise.all([
      liveMap(db),
      counts(db),
      requestCounts(db, WHOLE_SHOP),
      readDraft(db),
    ]);
    const checks = await checkSpots(db, draft.document, live.current().rulebook.shop, clock(), live.current().sellers);
    const spotChecks = checks.filter(({ passes }) => !passes).length;
    return reply(200, { pageMapBroken: published?.newestCheck?.broken ?? [], spotChecks, ...waits, ...requests });
  });
}
