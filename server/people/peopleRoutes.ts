import { listPeople } from '#core/contract/shopCalls.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { Services } from '../services/services.ts';
import {
  erasePerson,
  exportPerson,
  getTimeline,
  patchPerson,
  postMerge,
  postPerson,
  putMembership,
  putPersonRoles,
} from '#core/contract/peopleCalls.ts';
import { notFound } from '../http/errors.ts';
import { whoIs } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';
import { dataOf, erase } from './personData.ts';
import { timelineOf } from './timeline.ts';
import { addPerson, changePerson, mergePeople } from './people.ts';
import { changeRoles, pageOfPeople } from './peopleQueries.ts';

export function peopleRoutes(endpoints: Endpoints, { db, live, clock }: Services, shopper: Services): void {
  route(endpoints, putMembership, async ({ params: { id }, body }) => {
    if (!(await changeRoles(shopper.db, id, { ...body, at: new Date(clock()) }))) throw notFound(`customer ${id}`);
    return reply(204, undefined);
  });

  route(endpoints, listPeople, async ({ query }) => {
    const { rows, ...page } = await pageOfPeople(db, query);
    return reply(200, { people: rows, ...page });
  });

  route(endpoints, getTimeline, async ({ params: { id }, query }) => {
    const { locales } = live.current().rulebook.shop;
    const { rows, ...page } = await timelineOf(db, id, { ...query, at: new Date(clock()), locales });
    return reply(200, { entries: rows, ...page });
  });

  route(endpoints, putPersonRoles, async ({ params: { id }, body }) => {
    if (!(await changeRoles(db, id, { ...body, at: new Date(clock()) }))) throw notFound(`customer ${id}`);
    return reply(204, undefined);
  });

  route(endpoints, postPerson, async ({ body }, { request }) =>
    reply(201, { id: await addPerson(db, body, { by: whoIs(request), at: new Date(clock()) }) }),
  );

  route(endpoints, patchPerson, async ({ params: { id }, body }) => {
    await changePerson(db, id, body);
    return reply(204, undefined);
  });

  route(endpoints, postMerge, async ({ params: { id }, body: { other } }) =>
    reply(200, await mergePeople(db, { kept: id, other }, new Date(clock()))),
  );

  route(endpoints, exportPerson, async ({ body }) =>
    reply(200, await dataOf(db, body), { 'Cache-Control': 'no-store' }),
  );

  route(endpoints, erasePerson, async ({ body }, { request }) => {
    return reply(200, await erase(db, body, { by: whoIs(request), at: new Date(clock()) }));
  });
}
