import type { ShopFacts } from '#core/model/subject.ts';
import { textsOf } from '#core/texts/languages.ts';
import type { Queryable } from '../db/database.ts';
import { ProblemError } from '../http/errors.ts';
import { detailsOf } from './shopDetails.ts';
import { readShop, type ShopRow } from './shopQueries.ts';
import { zoneData } from './zoneData.ts';

export function shopFacts({ name, zone, locales, currency, exponent, texts, details }: ShopRow): ShopFacts {
  const { signInAt } = detailsOf(details);
  const facts = { name, zone: zoneData(zone), locales, currency, exponent, texts: textsOf(locales, texts) };
  return signInAt === null ? facts : { ...facts, signInAt };
}

/** @throws {ProblemError} 503 before set-up */
export async function theShop(db: Queryable): Promise<ShopRow> {
  const shop = await readShop(db);
  if (!shop) throw notSetUp();
  return shop;
}

export const notSetUp = () =>
  new ProblemError(
    'not-set-up',
    'This shop has no owner yet. Open the one-time link that the server printed when it started.',
  );
