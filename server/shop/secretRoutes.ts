import { randomBytes } from 'node:crypto';
import { endOldVisitorSecret, rotateLinkKey, rotateVisitorSecret } from '#core/contract/secretCalls.ts';
import type { Queryable } from '../db/database.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { whoIs } from '../http/identity.ts';
import { addLinkKey } from '../services/linkKeys.ts';
import { reply, route } from '../http/route.ts';
import { record } from '../db/record.ts';
import type { Services } from '../services/services.ts';
import { theShop } from '../shopData/currentShop.ts';

/** Calls that replace secrets while earlier signatures stay valid. */
export function secretRoutes(endpoints: Endpoints, { db, live, clock }: Services): void {
  /** Makes a change, writes down who made it, and lets every copy of the server know. */
  const change = async (who: string, did: string, work: (client: Queryable, at: Date) => Promise<void>) => {
    await theShop(db);
    const at = new Date(clock());
    await db.transaction(async (client) => {
      await work(client, at);
      await record(client, at, who, did);
      await live.announce(client);
    });
    await live.refresh();
  };

  route(endpoints, rotateVisitorSecret, async ({}, { request }) => {
    const visitorSecret = randomBytes(32).toString('base64url');
    await change(whoIs(request), 'replaced the visitors’ secret', async (client) => {
      await client.query('UPDATE shop SET visitor_secrets = ARRAY[$1] || visitor_secrets[1:1]', [visitorSecret]);
    });
    return reply(201, { visitorSecret }, { 'Cache-Control': 'no-store' });
  });

  route(endpoints, endOldVisitorSecret, async ({}, { request }) => {
    await change(whoIs(request), 'ended the old visitors’ secret', async (client) => {
      await client.query('UPDATE shop SET visitor_secrets = visitor_secrets[1:1]');
    });
    return reply(204, undefined);
  });

  route(endpoints, rotateLinkKey, async ({}, { request }) => {
    await change(whoIs(request), 'replaced the key of links', addLinkKey);
    return reply(204, undefined);
  });
}
