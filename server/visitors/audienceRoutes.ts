import { getAudiences, putAudiences } from '#core/contract/audienceCalls.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { reply, route } from '../http/route.ts';
import type { Services } from '../services/services.ts';
import { readAudiences, replaceAudiences } from './audiences.ts';

export function audienceRoutes(endpoints: Endpoints, { db }: Services): void {
  route(endpoints, getAudiences, async () => reply(200, await readAudiences(db)));

  route(endpoints, putAudiences, async ({ body }) => {
    await db.transaction((client) => replaceAudiences(client, body));
    return reply(204, undefined);
  });
}
