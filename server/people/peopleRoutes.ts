import type { IRouter } from 'express';
import { listPeople } from '#core/contract/shopCalls.ts';
import type { Services } from '../services.ts';
import { reply, route } from '../http/route.ts';
import { pageOfPeople } from './peopleQueries.ts';

export function peopleRoutes(router: IRouter, { db }: Services): void {
  route(router, listPeople, async ({ query }) => {
    const { limit } = query;
    const { people, total } = await pageOfPeople(db, { ...query, limit: limit + 1 });
    return reply(200, { people: people.slice(0, limit), total, more: people.length > limit });
  });
}
