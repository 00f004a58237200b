import { PRODUCT_COLUMN_NAMES, perColumn, type ProductColumnValues } from '#core/model/productColumns.ts';
import type { Queryable } from '../db/database.ts';

const COLUMNS = PRODUCT_COLUMN_NAMES.join(', ');
const SQL_TYPES = { name: 'text', wholeNumber: 'integer' };
const typedColumns = Object.entries(perColumn((_column, type) => SQL_TYPES[type]))
  .map((pair) => pair.join(' '))
  .join(', ');
const excludedColumns = PRODUCT_COLUMN_NAMES.map((column) => `${column} = excluded.${column}`).join(', ');

/** A product as an import reads and writes it: the file's values, without edits made in Understudy. */
export interface ProductState extends ProductColumnValues {
  readonly productId: string;
  readonly title: Readonly<Record<string, string>>;
  readonly path: string | null;
  readonly pathKey: string | null;
  readonly tags: readonly string[];
  readonly attributes: Readonly<Record<string, string>>;
  readonly dates: Readonly<Record<string, string>>;
  readonly image: string | null;
  readonly archived: boolean;
  /** Ids, sorted. */
  readonly categories: readonly string[];
  /** By which write. */
  readonly written: number;
}

export interface VariantState {
  readonly variantId: string;
  readonly productId: string;
  readonly sku: string | null;
  readonly options: Readonly<Record<string, string>>;
  readonly price: number;
  readonly priceBefore: number | null;
  readonly stockTracked: boolean;
  readonly stockQuantity: number;
  readonly sellPastZero: boolean;
  readonly archived: boolean;
  /** By which write, its stock apart. */
  readonly written: number;
  readonly stockWritten: number;
}

const PRODUCTS = `
  SELECT external_id AS "productId", title, path, path_key AS "pathKey", ${COLUMNS},
    file_tags AS tags, file_attributes AS attributes, file_dates AS dates, image, archived_at IS NOT NULL AS archived, written,
    (SELECT coalesce(json_agg(c.external_id ORDER BY c.external_id), '[]') FROM product_categories pc
     JOIN categories c ON c.id = pc.category_id WHERE pc.product_id = products.id) AS categories
  FROM products WHERE external_id = ANY($1) ORDER BY id FOR NO KEY UPDATE`;

/** Locked, in one order for all who lock products. */
export async function productStates(db: Queryable, ids: readonly string[]): Promise<ProductState[]> {
  return (await db.query<ProductState>(PRODUCTS, [ids])).rows;
}

const VARIANTS = `
  SELECT v.external_id AS "variantId", p.external_id AS "productId", v.sku, v.options, v.price,
    v.price_before AS "priceBefore", v.stock_tracked AS "stockTracked", v.stock_quantity AS "stockQuantity",
    v.sell_past_zero AS "sellPastZero", v.archived_at IS NOT NULL AS archived,
    v.written, v.stock_written AS "stockWritten"
  FROM variants v JOIN products p ON p.id = v.product_id
  WHERE v.external_id = ANY($1) ORDER BY v.id FOR NO KEY UPDATE OF v`;

const OWNERS = `
  SELECT p.external_id AS id FROM products p JOIN variants v ON v.product_id = p.id WHERE v.external_id = ANY($1)`;

/** The products that variants belong to. */
export async function productsOf(db: Queryable, variantIds: readonly string[]): Promise<string[]> {
  return (await db.query<{ id: string }>(OWNERS, [variantIds])).rows.map(({ id }) => id);
}

/** Locked; their products are locked before. */
export async function variantStates(db: Queryable, ids: readonly string[]): Promise<VariantState[]> {
  return (await db.query<VariantState>(VARIANTS, [ids])).rows;
}

const PATH_OWNERS = `
  SELECT path_key AS "pathKey", external_id AS "productId" FROM products WHERE path_key = ANY($1)`;

export async function pathOwners(db: Queryable, keys: readonly string[]): Promise<Map<string, string>> {
  const { rows } = await db.query<{ pathKey: string; productId: string }>(PATH_OWNERS, [keys]);
  return new Map(rows.map(({ pathKey, productId }) => [pathKey, productId]));
}

/** The names of categories that exist, by id. */
export async function categoryNames(db: Queryable, ids: readonly string[]): Promise<Map<string, string>> {
  const text = 'SELECT external_id AS id, name FROM categories WHERE external_id = ANY($1)';
  const { rows } = await db.query<{ id: string; name: string }>(text, [ids]);
  return new Map(rows.map(({ id, name }) => [id, name]));
}

const INSERT_CATEGORY = `
  INSERT INTO categories (external_id, name, parent_id)
  VALUES ($1, $2, (SELECT id FROM categories WHERE external_id = $3)) ON CONFLICT DO NOTHING`;

export async function insertCategory(db: Queryable, id: string, name: string, parentId: string | null): Promise<void> {
  await db.query(INSERT_CATEGORY, [id, name, parentId]);
}

const UPSERT_PRODUCTS = `
  WITH given AS (
    SELECT * FROM jsonb_to_recordset($1) AS r ("productId" text, title jsonb, path text, "pathKey" text,
      ${typedColumns}, tags jsonb, attributes jsonb, dates jsonb, image text, categories jsonb, written bigint,
      archived boolean)),
  written AS (
    INSERT INTO products (external_id, title, path, path_key, ${COLUMNS}, file_tags, file_attributes, file_dates,
      image, written, archived_at)
    SELECT "productId", title, path, "pathKey", ${COLUMNS},
      ARRAY(SELECT jsonb_array_elements_text(tags)), attributes, dates, image, written,
      CASE WHEN archived THEN now() END
    FROM given
    ON CONFLICT (external_id) DO UPDATE SET title = excluded.title, path = excluded.path, path_key = excluded.path_key,
      ${excludedColumns}, file_tags = excluded.file_tags,
      file_attributes = excluded.file_attributes, file_dates = excluded.file_dates, image = excluded.image,
      written = excluded.written, archived_at = excluded.archived_at, revision = products.revision + 1
    RETURNING id, external_id),
  placed AS (
    SELECT written.id AS product_id, c.id AS category_id
    FROM written JOIN given ON given."productId" = written.external_id
    CROSS JOIN LATERAL jsonb_array_elements_text(given.categories) AS own (id)
    JOIN categories c ON c.external_id = own.id),
  removed AS (
    DELETE FROM product_categories pc USING written
    WHERE pc.product_id = written.id AND NOT EXISTS (
      SELECT FROM placed WHERE placed.product_id = pc.product_id AND placed.category_id = pc.category_id))
  INSERT INTO product_categories (product_id, category_id) SELECT product_id, category_id FROM placed
  ON CONFLICT DO NOTHING`;

export async function upsertProducts(db: Queryable, products: readonly ProductState[]): Promise<void> {
  if (products.length > 0) await db.query(UPSERT_PRODUCTS, [JSON.stringify(products)]);
}

const UPSERT_VARIANTS = `
  INSERT INTO variants (external_id, product_id, sku, options, price, price_before, stock_tracked, stock_quantity,
    sell_past_zero, written, stock_written, archived_at)
  SELECT r."variantId", p.id, r.sku, r.options, r.price, r."priceBefore", r."stockTracked", r."stockQuantity",
    r."sellPastZero", r.written, r."stockWritten", CASE WHEN r.archived THEN now() END
  FROM jsonb_to_recordset($1) AS r ("variantId" text, "productId" text, sku text, options jsonb,
    price bigint, "priceBefore" bigint, "stockTracked" boolean, "stockQuantity" integer, "sellPastZero" boolean,
    written bigint, "stockWritten" bigint, archived boolean, place integer)
  JOIN products p ON p.external_id = r."productId"
  ORDER BY r.place
  ON CONFLICT (external_id) DO UPDATE SET sku = excluded.sku, options = excluded.options, price = excluded.price,
    price_before = excluded.price_before, stock_tracked = excluded.stock_tracked,
    stock_quantity = excluded.stock_quantity, sell_past_zero = excluded.sell_past_zero,
    written = excluded.written, stock_written = excluded.stock_written, archived_at = excluded.archived_at`;

export async function upsertVariants(db: Queryable, variants: readonly VariantState[]): Promise<void> {
  if (variants.length > 0)
    await db.query(UPSERT_VARIANTS, [JSON.stringify(variants.map((variant, place) => ({ ...variant, place })))]);
}

export async function bumpRevisions(db: Queryable, productIds: readonly string[]): Promise<void> {
  await db.query('UPDATE products SET revision = revision + 1 WHERE external_id = ANY($1)', [productIds]);
}

const ARCHIVE = `
  WITH gone AS (
    UPDATE variants SET archived_at = $4, written = $2 WHERE id = ANY (ARRAY (
      SELECT id FROM variants v
      WHERE archived_at IS NULL AND written < $2
        AND NOT EXISTS (SELECT FROM import_rows r WHERE r.import_id = $1 AND r.key = v.external_id)
      ORDER BY id LIMIT $3))
    RETURNING id, external_id, product_id),
  kept AS (
    SELECT p.id AS product_id, EXISTS (
      SELECT FROM variants v WHERE v.product_id = p.id AND v.archived_at IS NULL AND v.id NOT IN (SELECT id FROM gone)
    ) AS any
    FROM products p WHERE p.id IN (SELECT product_id FROM gone)),
  archived AS (
    UPDATE products p SET revision = revision + 1, archived_at = CASE WHEN kept.any THEN p.archived_at ELSE $4 END,
      path_key = CASE WHEN kept.any THEN p.path_key END, written = CASE WHEN kept.any THEN p.written ELSE $2 END
    FROM kept WHERE p.id = kept.product_id)
  SELECT (SELECT array_agg(external_id) FROM gone) AS variants`;

const LEFT_OUT = `
  SELECT v.external_id AS variant, p.external_id AS product FROM variants v JOIN products p ON p.id = v.product_id
  WHERE v.archived_at IS NULL AND v.written < $2
    AND NOT EXISTS (SELECT FROM import_rows r WHERE r.import_id = $1 AND r.key = v.external_id)
  ORDER BY v.id LIMIT $3`;

interface Listing {
  readonly importId: string;
  readonly order: number;
  readonly limit: number;
}

/** Some of the variants that an import does not list and nothing newer wrote, with their products. */
export async function leftOut(
  db: Queryable,
  { importId, order, limit }: Listing,
): Promise<{ variant: string; product: string }[]> {
  return (await db.query<{ variant: string; product: string }>(LEFT_OUT, [importId, order, limit])).rows;
}

const COUNT_LEFT_OUT = `
  SELECT count(*) AS count FROM variants v WHERE v.archived_at IS NULL AND v.written < $2
    AND NOT EXISTS (SELECT FROM import_rows r WHERE r.import_id = $1 AND r.key = v.external_id)`;

export async function countLeftOut(db: Queryable, { importId, order }: Omit<Listing, 'limit'>): Promise<number> {
  return (await db.query<{ count: number }>(COUNT_LEFT_OUT, [importId, order])).rows[0]!.count;
}

export async function countVariants(db: Queryable): Promise<number> {
  const all = 'SELECT count(*) AS count FROM variants WHERE archived_at IS NULL';
  return (await db.query<{ count: number }>(all)).rows[0]!.count;
}

/** Archives those, and products that have none left. @returns how many variants */
export async function archiveLeftOut(db: Queryable, { importId, order, limit }: Listing, at: Date): Promise<number> {
  const { rows } = await db.query<{ variants: string[] | null }>(ARCHIVE, [importId, order, limit, at]);
  return rows[0]?.variants?.length ?? 0;
}

const ARCHIVE_MADE = `
  WITH gone AS (
    UPDATE variants SET archived_at = $4, written = $3 WHERE id = ANY (ARRAY (
      SELECT id FROM variants v WHERE written = $2 AND NOT EXISTS (
        SELECT FROM import_changes c WHERE c.import_id = $1 AND c.kind = 'variant' AND c.key = v.external_id)
      LIMIT $5))
    RETURNING id, product_id),
  emptied AS (
    UPDATE products p SET archived_at = $4, path_key = NULL, written = $3, revision = revision + 1
    WHERE p.id IN (SELECT product_id FROM gone) AND NOT EXISTS (
      SELECT FROM variants v WHERE v.product_id = p.id AND v.archived_at IS NULL AND v.id NOT IN (SELECT id FROM gone)))
  SELECT count(*) AS count FROM gone`;

/** Archives some variants that an import made and nothing wrote since, and products that have none left. @returns how many */
export async function archiveMade(
  db: Queryable,
  { importId, by, order, at, limit }: { importId: string; by: number; order: number; at: Date; limit: number },
): Promise<number> {
  const { rows } = await db.query<{ count: number }>(ARCHIVE_MADE, [importId, by, order, at, limit]);
  return rows[0]?.count ?? 0;
}
