import type { ShopTexts } from '#core/model/subject.ts';
import { getConnection, getShop, getVocabulary } from '#core/contract/shopCalls.ts';
import { getShopDetails, putShopDetails } from '#core/contract/shopDetails.ts';
import { methodsOf, readDetails, writeDetails } from '../base/shopDetails.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { Services } from '../base/services.ts';
import { mayAlso } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';
import { shopFacts, theShop } from '../base/currentShop.ts';
import { readVocabulary, type Counted } from '../base/shopQueries.ts';

export function shopRoutes(endpoints: Endpoints, { db, live, bulk, config }: Services): void {
  route(endpoints, getShop, async () => {
    const { zone, locales, texts, ...facts } = shopFacts(await theShop(db));
    return reply(200, {
      ...facts,
      locales: [...locales],
      texts: decisionTexts(texts ?? {}),
      zone: { name: zone.name, transitions: [...zone.transitions] },
    });
  });

  route(endpoints, getVocabulary, async () => {
    const [found, details] = await Promise.all([readVocabulary(await bulk.database()), readDetails(db)]);
    const { roles, dates, ...rest } = found;
    return reply(200, {
      ...rest,
      roles: titled(roles, details.roles),
      dates: titled(dates, details.dates),
      paymentMethods: methodsOf(live.current().pageMap, details),
    });
  });

  route(endpoints, getShopDetails, async () => reply(200, await readDetails(db)));

  route(endpoints, putShopDetails, async ({ body }) => {
    await writeDetails(db, body);
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

/** Names with what they are called; those that are called something and nothing has yet come last. */
function titled(counted: readonly Counted[], titles: Readonly<Record<string, string>>) {
  const others = Object.keys(titles).filter((code) => !counted.some(({ name }) => name === code));
  return [...counted, ...others.map((name) => ({ name, count: 0 }))].map((one) => ({
    ...one,
    title: titles[one.name] ?? null,
  }));
}

/** Those of the texts that decisions and their sentences say. */
const decisionTexts = (texts: ShopTexts) =>
  Object.fromEntries(
    Object.entries(texts).map(([locale, all]) => [
      locale,
      Object.fromEntries(Object.entries(all).filter(([key]) => /^(label|status|refusal)\.|^closed$/.test(key))),
    ]),
  );
