import type { Product } from '#core/contract/shopCalls.ts';
import type { ProductVariant } from '#core/engine/visit.ts';
import { PRODUCT_COLUMN_NAMES } from '#core/model/productColumns.ts';
import { addressesOf, sameAddress } from '#core/model/names.ts';
import { partOf, type Queryable } from '../db/database.ts';
import { readPage, type Page } from '../db/page.ts';

/** `key` is the product's own in our database, `pathKey` its path in its one spelling. */
export type ProductRow = Product & { key: string; pathKey: string | null; revision: number };

export interface ProductKeys {
  readonly ids: readonly string[];
  /** In any spelling. */
  readonly paths: readonly string[];
}

/** People who are invited and have not bought still wait. A variant's title is its options: "3 tubers", "9 cm pot, white". */
const PRODUCT_COLUMNS = `
  p.id::text AS key, p.external_id AS id, p.title, p.path, p.path_key AS "pathKey",
  ${PRODUCT_COLUMN_NAMES.map((column) => `p.${column}`).join(', ')},
  p.tags, p.attributes, p.dates, p.image, p.revision,
  (SELECT count(*) FROM waitlist_entries w
   WHERE w.product_id = p.id AND w.variant_id IS NULL AND w.state IN ('waiting', 'invited')) AS waiting,
  (SELECT coalesce(json_agg(c.external_id ORDER BY c.external_id), '[]') FROM product_categories pc
   JOIN categories c ON c.id = pc.category_id WHERE pc.product_id = p.id) AS categories,
  (SELECT json_agg(json_build_object(
     'id', v.external_id,
     'title', (SELECT coalesce(string_agg(value, ', '), '') FROM jsonb_each_text(v.options)),
     'options', v.options, 'price', v.price, 'priceBefore', v.price_before,
     'stock', json_build_object('tracked', v.stock_tracked, 'quantity', v.stock_quantity, 'sellPastZero', v.sell_past_zero),
     'reserved', (SELECT coalesce(sum(units), 0) FROM preorders o
                  WHERE o.variant_id = v.id AND o.state IN ('reserved', 'allocated')),
     'waiting', (SELECT count(*) FROM waitlist_entries w
                 WHERE w.product_id = p.id AND w.variant_id = v.id AND w.state IN ('waiting', 'invited'))
   ) ORDER BY v.id) FROM variants v WHERE v.product_id = p.id AND v.archived_at IS NULL) AS variants`;

/** A product with no variant left is not in the shop. */
const IN_SHOP = `p.archived_at IS NULL
  AND EXISTS (SELECT FROM variants v WHERE v.product_id = p.id AND v.archived_at IS NULL)`;

const BY_KEYS = `
  SELECT ${PRODUCT_COLUMNS} FROM products p
  WHERE ${IN_SHOP} AND (p.external_id = ANY($1) OR p.path_key = ANY($2))`;

const BY_ROWS = `
  SELECT ${PRODUCT_COLUMNS} FROM products p WHERE ${IN_SHOP} AND p.id = ANY($1)`;

/** Products by our keys, as announcements name them. */
export async function productsByRows(db: Queryable, rows: readonly string[]): Promise<ProductRow[]> {
  return (await db.query<ProductRow>({ name: 'products-by-rows', text: BY_ROWS, values: [rows] })).rows;
}

const BY_VARIANTS = `
  SELECT ${PRODUCT_COLUMNS} FROM products p
  WHERE ${IN_SHOP} AND p.id IN (SELECT product_id FROM variants WHERE external_id = ANY($1))`;

/** The facts of products by id or path (any spelling of it), in one query. */
export async function productsByKeys(db: Queryable, { ids, paths }: ProductKeys): Promise<ProductRow[]> {
  const { rows } = await db.query<ProductRow>({
    name: 'products-by-keys',
    text: BY_KEYS,
    values: [ids, paths.flatMap(addressesOf)],
  });
  return rows;
}

/** The product whose page is at an address, or at its path alone. */
export async function productAt(db: Queryable, address: string): Promise<ProductRow | undefined> {
  const rows = await productsByKeys(db, { ids: [], paths: [address] });
  return rows.find(({ pathKey }) => pathKey === sameAddress(address)) ?? rows[0];
}

/** The products that have these variants, with all their variants. */
export async function productsByVariants(db: Queryable, variantIds: readonly string[]): Promise<ProductRow[]> {
  const { rows } = await db.query<ProductRow>({
    name: 'products-by-variants',
    text: BY_VARIANTS,
    values: [variantIds],
  });
  return rows;
}

/** Products and variants of a cart's lines, by variant id, without unknown ones. */
export async function productVariants(
  db: Queryable,
  lines: readonly { readonly variantId: string }[],
): Promise<Map<string, ProductVariant>> {
  if (lines.length === 0) return new Map();
  const variantIds = new Set(lines.map(({ variantId }) => variantId));
  return variantsIn(await productsByVariants(db, [...variantIds]), lines);
}

/** The variants of a cart's lines, among products. */
export function variantsIn(
  products: readonly ProductRow[],
  lines: readonly { readonly variantId: string }[],
): Map<string, ProductVariant> {
  const variantIds = new Set(lines.map(({ variantId }) => variantId));
  return new Map(
    products.flatMap((product) =>
      product.variants
        .filter(({ id }) => variantIds.has(id))
        .map((variant) => [variant.id, { product, variant }] as const),
    ),
  );
}

const LOCK = `
  SELECT id FROM products
  WHERE id IN (SELECT product_id FROM variants WHERE external_id = ANY($1)) ORDER BY id FOR UPDATE`;

/**
 * Locks the products of these variants, so that one transaction at a time counts, reserves and changes their stock, and caps
 * hold under concurrency. Every caller locks products before variants, in this order, which prevents deadlocks.
 */
export async function lockProducts(db: Queryable, variants: readonly string[]): Promise<void> {
  await db.query(LOCK, [variants]);
}

/** Products that fit: a part of a title or id ($1), a tag ($2), a category or one below ($3), stock ($4). */
const FITTING = `${IN_SHOP}
  AND ($1::text IS NULL OR p.title::text ILIKE $1 OR p.external_id ILIKE $1)
  AND ($2::text IS NULL OR $2 = ANY(p.tags))
  AND ($3::text IS NULL OR EXISTS (
    SELECT FROM product_categories pc JOIN categories c ON c.id = pc.category_id
    WHERE pc.product_id = p.id AND (c.external_id = $3 OR starts_with(c.external_id, $3 || '/'))))
  AND ($4::text IS NULL OR EXISTS (
    SELECT FROM variants v WHERE v.product_id = p.id AND v.archived_at IS NULL
      AND (v.stock_tracked AND v.stock_quantity <= 0) = ($4 = 'out')))`;

const PAGE = `
  SELECT ${PRODUCT_COLUMNS}, (SELECT count(*) FROM products p WHERE ${FITTING}) AS total
  FROM products p WHERE ${FITTING} AND ($5::text IS NULL OR p.external_id > $5)
  ORDER BY p.external_id LIMIT $6`;

export interface ProductFilters {
  readonly after?: string | undefined;
  readonly limit: number;
  readonly search?: string | undefined;
  readonly tag?: string | undefined;
  readonly category?: string | undefined;
  readonly stock?: 'out' | 'in' | undefined;
}

export async function pageOfProducts(
  db: Queryable,
  { after, limit, search, tag, category, stock }: ProductFilters,
): Promise<Page<ProductRow>> {
  const values = [partOf(search), tag ?? null, category ?? null, stock ?? null, after ?? null];
  return readPage(db, PAGE, values, limit);
}

const OF_SELLERS = `
  SELECT ${PRODUCT_COLUMNS}, (SELECT count(*) FROM products p WHERE ${IN_SHOP} AND p.seller = ANY($1)) AS total
  FROM products p WHERE ${IN_SHOP} AND p.seller = ANY($1) ORDER BY p.external_id LIMIT $2`;

/** The first products sold under these names, exactly as spelt. */
export const productsOfSellers = (db: Queryable, spelt: readonly string[], limit: number): Promise<Page<ProductRow>> =>
  readPage(db, OF_SELLERS, [spelt], limit);

/** A stamp of every product that changes with anything decisions look at. */
const STAMPS = `
  SELECT p.id::text AS key, concat(p.revision, ' | ', reserved.units, ' | ', waiting.people) AS stamp
  FROM products p
  LEFT JOIN (
    SELECT v.product_id, string_agg(v.id || ':' || o.units, ' ' ORDER BY v.id) AS units
    FROM (SELECT variant_id, sum(units) AS units FROM preorders
          WHERE state IN ('reserved', 'allocated') GROUP BY variant_id) o
    JOIN variants v ON v.id = o.variant_id GROUP BY v.product_id) reserved ON reserved.product_id = p.id
  LEFT JOIN (
    SELECT product_id, string_agg(concat(variant_id, ':', people), ' ' ORDER BY variant_id) AS people
    FROM (SELECT product_id, variant_id, count(*) AS people FROM waitlist_entries
          WHERE state IN ('waiting', 'invited') GROUP BY product_id, variant_id) w
    GROUP BY product_id) waiting ON waiting.product_id = p.id
  WHERE ${IN_SHOP}`;

export async function productStamps(
  db: Queryable,
): Promise<readonly { readonly key: string; readonly stamp: string }[]> {
  return (await db.query<{ key: string; stamp: string }>(STAMPS)).rows;
}

/** Converts a product to the contract's form. */
export function toProduct({ key: _key, pathKey: _path, revision: _revision, ...product }: ProductRow): Product {
  return product;
}
