import type { z } from 'zod';
import type { ShopFacts as ShopView, Vocabulary } from '#core/contract/shopCalls.ts';
import type { ShopTexts } from '#core/model/subject.ts';
import type { Queryable } from '../db/database.ts';
import { shopFacts, theShop } from '../shopData/currentShop.ts';
import type { Services } from './services.ts';
import { methodsOf, readDetails } from '../shopData/shopDetails.ts';
import { readVocabulary, type Counted } from '../shopData/shopQueries.ts';

/** Facts of the shop as a whole, for screens. */
export async function shopView(db: Queryable): Promise<z.infer<typeof ShopView>> {
  const { zone, locales, texts, ...facts } = shopFacts(await theShop(db));
  return {
    ...facts,
    locales: [...locales],
    texts: decisionTexts(texts ?? {}),
    zone: { name: zone.name, transitions: [...zone.transitions] },
  };
}

/** Names that rules can refer to, with the owner's words for them. */
export async function vocabularyView({ db, bulk, live }: Pick<Services, 'db' | 'bulk' | 'live'>): Promise<Vocabulary> {
  const [found, details] = await Promise.all([readVocabulary(await bulk.database()), readDetails(db)]);
  const { roles, dates, ...rest } = found;
  return {
    ...rest,
    roles: titled(roles, details.roles),
    dates: titled(dates, details.dates),
    paymentMethods: methodsOf(live.current().pageMap, details),
  };
}

/** Names with the owner's words; words for names that nothing has yet come last. */
function titled(counted: readonly Counted[], titles: Readonly<Record<string, string>>) {
  const others = Object.keys(titles).filter((code) => !counted.some(({ name }) => name === code));
  return [...counted, ...others.map((name) => ({ name, count: 0 }))].map((one) => ({
    ...one,
    title: titles[one.name] ?? null,
  }));
}

/** Texts used by decisions and sentences. */
const decisionTexts = (texts: ShopTexts) =>
  Object.fromEntries(
    Object.entries(texts).map(([locale, all]) => [
      locale,
      Object.fromEntries(Object.entries(all).filter(([key]) => /^(label|status|refusal)\.|^closed$/.test(key))),
    ]),
  );
