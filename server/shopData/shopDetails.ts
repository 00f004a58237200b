import type { PageMap } from '#core/contract/pageMap.ts';
import { ShopDetails } from '#core/contract/shopDetails.ts';
import type { Queryable } from '../db/database.ts';

/** Reads saved details; the defaults where there are none. */
export const detailsOf = (saved: unknown): ShopDetails => ShopDetails.parse(saved ?? {});

/** Reads the shop's details; defaults until they are set. */
export async function readDetails(db: Queryable): Promise<ShopDetails> {
  const { rows } = await db.query<{ details: unknown }>('SELECT details FROM shop');
  return detailsOf(rows[0]?.details);
}

export async function writeDetails(db: Queryable, details: ShopDetails): Promise<void> {
  await db.query('UPDATE shop SET details = $1', [JSON.stringify(details)]);
}

/** Payment methods found by the page map and named by the owner; the owner's names win. */
export function methodsOf(
  pageMap: PageMap | null,
  { paymentMethods }: Pick<ShopDetails, 'paymentMethods'>,
): ShopDetails['paymentMethods'] {
  const found = pageMap?.checkout?.methodCodes ?? [];
  const all = [...found, ...paymentMethods];
  return [...new Map(all.map((method) => [method.code, method])).values()];
}
