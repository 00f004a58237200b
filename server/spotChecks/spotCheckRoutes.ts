import { deleteSpotCheck, listSpotChecks, postSpotCheck, putSpotCheck } from '#core/contract/spotCheckCalls.ts';
import { EMPTY_RULEBOOK } from '#core/rulebook/rulebook.ts';
import { notFound } from '../http/errors.ts';
import { whoIs } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';
import { newestEdition, readDraft } from '../rules/rulebookQueries.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { Services } from '../services/services.ts';
import { deleteSpotCheckById, insertSpotCheck, updateSpotCheck } from './spotCheckQueries.ts';
import { checkSpots } from './spotCheckService.ts';

export function spotCheckRoutes(endpoints: Endpoints, { db, live, clock }: Services): void {
  route(endpoints, listSpotChecks, async ({ query: { of } }) => {
    const { shop } = live.current().rulebook;
    const rules = (of === 'draft' ? await readDraft(db) : await newestEdition(db))?.document ?? EMPTY_RULEBOOK;
    const checks = await checkSpots(db, rules, shop, clock(), live.current().sellers);
    const failing = checks.filter(({ passes }) => !passes);
    const blocking = failing.filter(({ blocks }) => blocks).length;
    return reply(200, { checks, failing: failing.length, blocking });
  });

  route(endpoints, postSpotCheck, async ({ body }, { request }) =>
    reply(201, { id: await insertSpotCheck(db, body, new Date(clock()), whoIs(request)) }),
  );

  route(endpoints, putSpotCheck, async ({ params: { id }, body }) => {
    if (!(await updateSpotCheck(db, id, body))) throw notFound(`spot check ${id}`);
    return reply(204, undefined);
  });

  route(endpoints, deleteSpotCheck, async ({ params: { id } }) => {
    if (!(await deleteSpotCheckById(db, id))) throw notFound(`spot check ${id}`);
    return reply(204, undefined);
  });
}
