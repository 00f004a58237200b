import {
  exportProducts,
  getProductFacts,
  listFactChanges,
  postFactChange,
  postFactImpact,
  undoFactChange,
} from '#core/contract/ownFactsCalls.ts';
import type { Services } from '../services/services.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { notFound } from '../http/errors.ts';
import { whoIs } from '../http/identity.ts';
import { attachment, reply, route } from '../http/route.ts';
import { answered } from '../rehearsal/answered.ts';
import type { RehearsalServices } from '../rehearsal/rehearsalService.ts';
import { catalogFile } from './catalogFile.ts';
import { changeFacts, chosenIds, factImpact, takeBackFacts } from './ownFacts.ts';
import { factChanges, factsOf } from './ownFactsQueries.ts';

/** Calls that edit facts of many products, over the shop's file. */
export function ownFactsRoutes(endpoints: Endpoints, services: Services & RehearsalServices): void {
  const { db } = services;

  route(endpoints, postFactChange, async ({ body }, { request }) =>
    reply(202, await changeFacts(services, { ...body, by: whoIs(request) })),
  );
  route(endpoints, listFactChanges, async () => reply(200, await factChanges(db, null)));
  route(endpoints, undoFactChange, async ({ params: { id } }) => reply(202, await takeBackFacts(services, id)));
  route(endpoints, postFactImpact, ({ body }, context) => answered(context, (how) => factImpact(services, body, how)));
  route(endpoints, getProductFacts, async ({ params: { id } }) => {
    const found = await factsOf(db, id);
    if (!found) throw notFound(`product ${id}`);
    const { own, ...file } = found;
    return reply(200, { file, own });
  });
  route(endpoints, exportProducts, async ({ body: { goods } }) => {
    const file = await catalogFile(services, await chosenIds(services, goods));
    return reply(200, file, attachment('products.csv'));
  });
}
