import type { ShopTexts } from '#core/model/subject.ts';
import { getConnection, getShop, getVocabulary, Vocabulary } from '#core/contract/shopCalls.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { Services } from '../base/services.ts';
import { mayAlso } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';
import { shopFacts, theShop } from '../base/currentShop.ts';
import { readVocabulary } from '../base/shopQueries.ts';

export function shopRoutes(endpoints: Endpoints, { db, bulk, config }: Services): void {
  route(endpoints, getShop, async () => {
    const { zone, locales, texts, ...facts } = shopFacts(await theShop(db));
    return reply(200, {
      ...facts,
      locales: [...locales],
      texts: decisionTexts(texts ?? {}),
      zone: { name: zone.name, transitions: [...zone.transitions] },
    });
  });

  route(endpoints, getVocabulary, async () =>
    reply(200, Vocabulary.parse(await readVocabulary(await bulk.database()))),
  );

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

/** Those of the texts that decisions and their sentences say. */
const decisionTexts = (texts: ShopTexts) =>
  Object.fromEntries(
    Object.entries(texts).map(([locale, all]) => [
      locale,
      Object.fromEntries(Object.entries(all).filter(([key]) => /^(label|status|refusal)\.|^closed$/.test(key))),
    ]),
  );
