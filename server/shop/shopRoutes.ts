import { getConnection, getShop, getVocabulary } from '#core/contract/shopCalls.ts';
import { getShopDetails, putShopDetails } from '#core/contract/shopDetails.ts';
import { readDetails, writeDetails } from '../shopData/shopDetails.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { Services } from '../services/services.ts';
import { mayAlso } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';
import { theShop } from '../shopData/currentShop.ts';
import { shopView, vocabularyView } from '../services/shopView.ts';

export function shopRoutes(endpoints: Endpoints, { db, live, bulk, config }: Services): void {
  route(endpoints, getShop, async () => reply(200, await shopView(db)));

  route(endpoints, getVocabulary, async () => reply(200, await vocabularyView({ db, bulk, live })));

  route(endpoints, getShopDetails, async () => reply(200, await readDetails(db)));

  route(endpoints, putShopDetails, async ({ body }) => {
    await db.transaction(async (client) => {
      await writeDetails(client, body);
      await live.announce(client);
    });
    await live.refresh();
    return reply(204, undefined);
  });

  route(endpoints, getConnection, async ({}, { request }) => {
    const { visitorSecrets, pageMap } = await theShop(db);
    const embedLine = `<script src="${config.publicUrl}/embed.js"></script>`;
    return reply(200, {
      embedLine,
      visitorSecret: mayAlso(request, 'settings') ? (visitorSecrets[0] ?? '') : null,
      oldSecretIsValid: visitorSecrets.length > 1,
      pageMap,
    });
  });
}
