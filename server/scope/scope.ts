import type { Request } from 'express';
import { sameName } from '#core/model/names.ts';
import type { Queryable } from '../db/database.ts';
import { sellerIdOf } from '../http/identity.ts';
import type { LiveState } from '../services/live.ts';
import type { Services } from '../services/services.ts';

/** Part of the shop that somebody sees and serves: all of it, or one seller's products. */
export interface Scope {
  /** Null for the whole shop. */
  readonly seller: string | null;
  /** Seller names in the catalog; null for all. */
  readonly names: readonly string[] | null;
}

export const WHOLE_SHOP: Scope = { seller: null, names: null };

/**
 * In SQL, whether a product is within a scope.
 * @param names the parameter that `Scope.names` is given as @param product an expression for our key of the product
 */
export const inScope = (names: string, product: string): string =>
  `(${names}::text[] IS NULL OR EXISTS (SELECT FROM products own WHERE own.id = ${product} AND own.seller = ANY(${names})))`;

/** Whether a product is within a scope. */
export const scopeHas = ({ names }: Scope, product: { readonly seller: string | null } | undefined): boolean =>
  product !== undefined && (names === null || (product.seller !== null && names.includes(product.seller)));

// Looks at the index once for each name, however many products have it.
const SPELLINGS = `
  WITH RECURSIVE spelt AS (
    SELECT min(seller) AS name FROM products
    UNION ALL
    SELECT (SELECT min(seller) FROM products WHERE seller > spelt.name) FROM spelt WHERE spelt.name IS NOT NULL)
  SELECT name FROM spelt WHERE name IS NOT NULL`;

/** Scope of the caller. */
export async function scopeOf({ db, live }: Pick<Services, 'db' | 'live'>, request: Request): Promise<Scope> {
  const seller = sellerIdOf(request);
  if (seller === null) return WHOLE_SHOP;
  const names = live.current().sellers.find(({ id }) => id === seller)?.names ?? [];
  return { seller, names: await spellingsOf(db, names) };
}

/** Spellings of these names in the catalog. */
export async function spellingsOf(db: Queryable, names: readonly string[]): Promise<string[]> {
  const keys = new Set(names.map(sameName));
  const { rows } = await db.query<{ name: string }>(SPELLINGS);
  return rows.map(({ name }) => name).filter((name) => keys.has(sameName(name)));
}

/** The id of the seller that the catalog means by a name; null where it is the shop's own. */
export function sellerNamed({ sellers }: Pick<LiveState, 'sellers'>, name: string | null): string | null {
  if (name === null) return null;
  const key = sameName(name);
  return sellers.find(({ names }) => names.some((one) => sameName(one) === key))?.id ?? null;
}
