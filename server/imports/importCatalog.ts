import { isDeepStrictEqual } from 'node:util';
import { sameName, samePath } from '#core/decide/names.ts';
import type { ShopFacts } from '#core/decide/subject.ts';
import type { Queryable } from '../db/database.ts';
import {
  archiveOthers,
  bumpRevisions,
  categoryNames,
  firstSpellings,
  insertCategory,
  lockImports,
  pathOwners,
  productStates,
  upsertProducts,
  upsertVariants,
  variantStates,
  type ProductState,
  type VariantState,
} from './catalogImportQueries.ts';
import { CATALOG_COLUMNS, readCatalogRow, type CatalogRow } from './catalogRows.ts';
import { BadCell } from './cells.ts';
import { inBatches, noticesOf, type ImportRun, type Outcome } from './importRun.ts';
import type { Refusal, Row } from './rows.ts';

/** Brings rows of goods in, to be run in a transaction. Bad rows are reported, the others go in. */
export async function importCatalog(db: Queryable, run: ImportRun): Promise<Outcome> {
  await lockImports(db);
  const outcome: Outcome = {
    created: 0,
    changed: 0,
    archived: 0,
    refused: [],
    notices: noticesOf(run, CATALOG_COLUMNS),
  };
  await inBatches(run, async (rows) => {
    const { created, changed, refused } = await importBatch(db, rows, run.shop);
    outcome.created += created;
    outcome.changed += changed;
    outcome.refused.push(...refused);
  });
  if (run.mode === 'replace') {
    const listed = run.rows.flatMap(({ cells }) => cells.variant_id ?? []);
    outcome.archived = await archiveOthers(db, listed, run.at);
  }
  return outcome;
}

async function importBatch(db: Queryable, rows: readonly Row[], shop: ShopFacts) {
  const refused: Refusal[] = [];
  const parsed = rows.flatMap((row) => {
    try {
      return [{ row, said: readCatalogRow(row, shop) }];
    } catch (error) {
      if (!(error instanceof BadCell)) throw error;
      refused.push(error.at(row));
      return [];
    }
  });
  const batch = await readBatch(
    db,
    parsed.map(({ said }) => said),
  );
  const touched = new Map<string, string>();
  for (const { row, said } of parsed) {
    try {
      applyRow(batch, said, shop);
      touched.set(said.variantId, batch.variants.get(said.variantId)?.productId ?? '');
    } catch (error) {
      if (!(error instanceof BadCell)) throw error;
      refused.push(error.at(row));
    }
  }
  return { ...(await writeBatch(db, batch, touched)), refused };
}

/** What the rows of a batch speak of: as it was in the database, and as the rows read so far make it. */
interface Batch {
  readonly productsBefore: ReadonlyMap<string, ProductState>;
  readonly variantsBefore: ReadonlyMap<string, VariantState>;
  readonly products: Map<string, ProductState>;
  readonly variants: Map<string, VariantState>;
  readonly pathOwners: Map<string, string>;
  readonly categoryNames: Map<string, string>;
  /** Categories to make, parents first. */
  readonly newCategories: { id: string; name: string; parentId: string | null }[];
}

async function readBatch(db: Queryable, rows: readonly CatalogRow[]): Promise<Batch> {
  const variants = await variantStates(
    db,
    rows.map(({ variantId }) => variantId),
  );
  const productIds = [
    ...rows.flatMap(({ productId }) => productId ?? []),
    ...variants.map(({ productId }) => productId),
  ];
  const products = await productStates(db, [...new Set(productIds)].sort());
  const productsBefore = new Map(products.map((product) => [product.productId, product]));
  const variantsBefore = new Map(variants.map((variant) => [variant.variantId, variant]));
  const categoryIds = rows.flatMap((row) => (row.categories ?? []).flatMap(({ id }) => lineage(id)));
  return {
    productsBefore,
    variantsBefore,
    products: new Map(productsBefore),
    variants: new Map(variantsBefore),
    pathOwners: await pathOwners(
      db,
      rows.flatMap(({ pathKey }) => pathKey ?? []),
    ),
    categoryNames: await categoryNames(db, [...new Set(categoryIds)]),
    newCategories: [],
  };
}

/** A category's id and its ancestors', the root first. */
function lineage(id: string): string[] {
  const slugs = id.split('/');
  return slugs.map((_, depth) => slugs.slice(0, depth + 1).join('/'));
}

/** @throws {BadCell} before anything of the row is applied */
function applyRow(batch: Batch, said: CatalogRow, shop: ShopFacts): void {
  const variantBefore = batch.variants.get(said.variantId);
  const productId = said.productId ?? variantBefore?.productId;
  if (productId === undefined) throw new BadCell('product_id', 'is missing, and this variant is new');
  if (variantBefore && variantBefore.productId !== productId) {
    throw new BadCell('product_id', `is ${productId}, but the variant belongs to ${variantBefore.productId}`);
  }
  const product = nextProduct(batch, productId, said, shop);
  const variant = nextVariant(variantBefore, productId, said);
  checkPath(batch, product);
  addCategories(batch, said);
  batch.products.set(productId, product);
  batch.variants.set(said.variantId, variant);
  if (product.pathKey !== null) batch.pathOwners.set(product.pathKey, productId);
}

function nextProduct(batch: Batch, productId: string, said: CatalogRow, shop: ShopFacts): ProductState {
  const before = batch.products.get(productId);
  if (!before && said.title === undefined) throw new BadCell('title', 'is missing, and this product is new');
  const locale = shop.locales[0] ?? 'en';
  const path = said.path === undefined ? (before?.path ?? null) : said.path;
  const kept = <T>(now: T | undefined, was: T | undefined, otherwise: T): T =>
    now === undefined ? (was === undefined ? otherwise : was) : now;
  return {
    productId,
    title: said.title === undefined ? (before?.title ?? {}) : { ...before?.title, [locale]: said.title },
    path,
    pathKey: path === null ? null : samePath(path),
    brand: kept(said.brand, before?.brand, null),
    kind: kept(said.kind, before?.kind, null),
    seller: kept(said.seller, before?.seller, null),
    tags: kept(said.tags, before?.tags, []),
    attributes: kept(said.attributes, before?.attributes, {}),
    dates: kept(said.dates, before?.dates, {}),
    image: kept(said.image, before?.image, null),
    archived: false,
    categories: kept(
      said.categories && [...new Set(said.categories.map(({ id }) => id))].sort(),
      before?.categories,
      [],
    ),
  };
}

function nextVariant(before: VariantState | undefined, productId: string, said: CatalogRow): VariantState {
  const price = said.price ?? before?.price;
  if (price === undefined) throw new BadCell('price', 'is missing, and this variant is new');
  return {
    variantId: said.variantId,
    productId,
    sku: said.sku === undefined ? (before?.sku ?? null) : said.sku,
    options: said.options ?? before?.options ?? {},
    price,
    priceBefore: said.priceBefore === undefined ? (before?.priceBefore ?? null) : said.priceBefore,
    // Quantities for new goods are meant to count, unless the file says otherwise.
    stockTracked: said.stockTracked ?? before?.stockTracked ?? said.stockQuantity !== undefined,
    stockQuantity: said.stockQuantity ?? before?.stockQuantity ?? 0,
    sellPastZero: said.sellPastZero ?? before?.sellPastZero ?? false,
    archived: false,
  };
}

function checkPath(batch: Batch, { productId, path, pathKey }: ProductState): void {
  const owner = pathKey === null ? undefined : batch.pathOwners.get(pathKey);
  if (owner !== undefined && owner !== productId) {
    throw new BadCell('path', `${path ?? ''} is the path of ${owner} already`);
  }
}

function addCategories(batch: Batch, { categories }: CatalogRow): void {
  for (const { id, names } of categories ?? []) {
    lineage(id).forEach((ancestor, depth) => {
      const name = names[depth] ?? '';
      const known = batch.categoryNames.get(ancestor);
      if (known !== undefined && known !== name) {
        throw new BadCell(
          'categories',
          `“${name}” and “${known}” would both have the id ${ancestor}; use one spelling`,
        );
      }
    });
  }
  for (const { id, names } of categories ?? []) {
    lineage(id).forEach((ancestor, depth, line) => {
      if (batch.categoryNames.has(ancestor)) return;
      const name = names[depth] ?? '';
      batch.categoryNames.set(ancestor, name);
      batch.newCategories.push({ id: ancestor, name, parentId: line[depth - 1] ?? null });
    });
  }
}

/** Writes what differs from before. @returns how many variants are new, and how many changed (or their product did) */
async function writeBatch(db: Queryable, batch: Batch, touched: ReadonlyMap<string, string>) {
  for (const { id, name, parentId } of batch.newCategories) await insertCategory(db, id, name, parentId);
  const spelt = await spellTags(db, [...batch.products.values()]);
  const products = spelt.filter((product) => !isDeepStrictEqual(product, batch.productsBefore.get(product.productId)));
  const variants = [...batch.variants.values()].filter(
    (variant) => !isDeepStrictEqual(variant, batch.variantsBefore.get(variant.variantId)),
  );
  await upsertProducts(db, products);
  await upsertVariants(db, variants);
  const changedProducts = new Set([...products, ...variants].map(({ productId }) => productId));
  await bumpRevisions(db, [...changedProducts]);
  const existing = [...touched].filter(([variantId]) => batch.variantsBefore.has(variantId));
  return {
    created: touched.size - existing.length,
    changed: existing.filter(([, productId]) => changedProducts.has(productId)).length,
  };
}

/** Tags that are equal are one tag, shown as first spelt. */
async function spellTags(db: Queryable, products: readonly ProductState[]): Promise<ProductState[]> {
  const asWritten = new Map<string, string>();
  for (const tag of products.flatMap(({ tags }) => tags)) {
    const key = sameName(tag);
    if (!asWritten.has(key)) asWritten.set(key, tag);
  }
  const spellings = await firstSpellings(db, asWritten);
  return products.map((product) => ({
    ...product,
    tags: [...new Set(product.tags.map((tag) => spellings.get(sameName(tag)) ?? tag))],
  }));
}
