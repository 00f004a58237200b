import { isDeepStrictEqual } from 'node:util';
import { perColumn, type ProductColumnValues } from '#core/model/productColumns.ts';
import { sameName, sameAddress } from '#core/model/names.ts';
import type { ShopDetails } from '#core/contract/shopDetails.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { readDetails } from '../shopData/shopDetails.ts';
import type { Queryable } from '../db/database.ts';
import {
  bumpRevisions,
  categoryNames,
  countLeftOut,
  countVariants,
  insertCategory,
  pathOwners,
  productsOf,
  productStates,
  upsertProducts,
  upsertVariants,
  variantStates,
  type ProductState,
  type VariantState,
} from './catalogImportQueries.ts';
import { firstSpellings } from '../catalog/spellings.ts';
import { archiveOthers, rememberStates, undo } from './catalogHistory.ts';
import { isTracked, lineage, readCatalogRow, type CatalogRow } from './catalogRows.ts';
import { BadCell, refusals } from './cells.ts';
import { differences, isOlderUnderWay, lockImports, type ImportTarget, type Writer } from './importTarget.ts';
import type { Refusal } from './rows.ts';

/** The catalog: a row a variant. */
export const catalogTarget: ImportTarget = {
  keyColumn: 'variant_id',

  async write(client, rows, { shop, writer }) {
    await lockImports(client);
    const refused: Refusal[] = [];
    const parsed = rows.flatMap((row) => {
      try {
        return [{ row, values: readCatalogRow(row, shop) }];
      } catch (error) {
        refused.push(...refusals(error, row));
        return [];
      }
    });
    const batch = await readBatch(
      client,
      parsed.map(({ values }) => values),
      writer,
    );
    const touched = new Map<string, string>();
    for (const { row, values } of parsed) {
      try {
        applyRow(batch, values, shop);
        touched.set(values.variantId, batch.variants.get(values.variantId)?.productId ?? '');
      } catch (error) {
        refused.push(...refusals(error, row));
      }
    }
    const counts = await writeBatch(client, batch, touched);
    const examples = (limit: number) => examplesOf(batch, touched, shop, limit);
    return { ...counts, kept: batch.kept.size, refused, examples };
  },

  archiveOthers,
  countOthers: countLeftOut,
  countAll: countVariants,
  undo,
};

/** Records that a batch's rows refer to: as stored, and as changed by the rows read so far. */
interface Batch {
  readonly productsBefore: ReadonlyMap<string, ProductState>;
  readonly variantsBefore: ReadonlyMap<string, VariantState>;
  readonly products: Map<string, ProductState>;
  readonly variants: Map<string, VariantState>;
  readonly pathOwners: Map<string, string>;
  readonly categoryNames: Map<string, string>;
  /** Categories to make, parents first. */
  readonly newCategories: { id: string; name: string; parentId: string | null }[];
  readonly writer: Writer;
  readonly tracking: ShopDetails['tracking'];
  /** Variants that keep a value, because a newer write set it. */
  readonly kept: Set<string>;
}

async function readBatch(db: Queryable, rows: readonly CatalogRow[], writer: Writer): Promise<Batch> {
  const variantIds = rows.map(({ variantId }) => variantId);
  const nameless = rows.filter(({ productId }) => productId === undefined).map(({ variantId }) => variantId);
  const productIds = [
    ...rows.flatMap(({ productId }) => productId ?? []),
    ...(nameless.length === 0 ? [] : await productsOf(db, nameless)),
  ];
  const products = await productStates(db, [...new Set(productIds)]);
  const variants = await variantStates(db, variantIds);
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
    writer,
    tracking: (await readDetails(db)).tracking,
    kept: new Set(),
  };
}

/** @throws {BadCell} before anything of the row is applied */
function applyRow(batch: Batch, values: CatalogRow, shop: ShopFacts): void {
  const variantBefore = batch.variants.get(values.variantId);
  // A row with a title and no product is a product with one variant.
  const itself = values.title === undefined ? undefined : values.variantId;
  const productId = values.productId ?? variantBefore?.productId ?? itself;
  if (productId === undefined) throw new BadCell('product_id', 'is missing, and this variant is new');
  if (variantBefore && variantBefore.productId !== productId) {
    throw new BadCell('product_id', `is ${productId}, but the variant belongs to ${variantBefore.productId}`);
  }
  const product = nextProduct(batch, productId, values, shop);
  const variant = nextVariant(batch, variantBefore, productId, values);
  checkPath(batch, product);
  addCategories(batch, values);
  batch.products.set(productId, product);
  batch.variants.set(values.variantId, variant);
  if (product.pathKey !== null) batch.pathOwners.set(product.pathKey, productId);
}

function nextProduct(batch: Batch, productId: string, values: CatalogRow, shop: ShopFacts): ProductState {
  const before = batch.products.get(productId);
  if (before && before.written > batch.writer.order) {
    batch.kept.add(values.variantId);
    return before;
  }
  if (!before && values.title === undefined) throw new BadCell('title', 'is missing, and this product is new');
  const locale = shop.locales[0] ?? 'en';
  const path = values.path === undefined ? (before?.path ?? null) : values.path;
  const kept = <T>(now: T | undefined, was: T | undefined, otherwise: T): T =>
    // oxlint-disable-next-line typescript/prefer-nullish-coalescing -- null is a value here
    now === undefined ? (was === undefined ? otherwise : was) : now;
  return {
    productId,
    title: values.title === undefined ? (before?.title ?? {}) : { ...before?.title, [locale]: values.title },
    path,
    pathKey: path === null ? null : sameAddress(path),
    ...perColumn<ProductColumnValues>((column) => kept(values[column], before?.[column], null)),
    tags: kept(values.tags, before?.tags, []),
    attributes: withNamed(kept(values.attributes, before?.attributes, {}), values.named.attribute),
    dates: withNamed(kept(values.dates, before?.dates, {}), values.named.date),
    image: kept(values.image, before?.image, null),
    archived: false,
    written: before?.written ?? 0,
    categories: kept(
      values.categories && [...new Set(values.categories.map(({ id }) => id))].sort(),
      before?.categories,
      [],
    ),
  };
}

/** Merges stored values with those of their own columns. */
function withNamed(
  there: Readonly<Record<string, string>>,
  named: Readonly<Record<string, string | null>>,
): Readonly<Record<string, string>> {
  const all = Object.entries({ ...there, ...named });
  return Object.fromEntries(all.flatMap(([name, value]) => (value === null ? [] : [[name, value]])));
}

function nextVariant(
  { writer, tracking, kept }: Batch,
  before: VariantState | undefined,
  productId: string,
  values: CatalogRow,
): VariantState {
  const price = values.price ?? before?.price;
  if (price === undefined) throw new BadCell('price', 'is missing, and this variant is new');
  const isNewer = before !== undefined && before.written > writer.order;
  const isStockNewer = before !== undefined && before.stockWritten > writer.order;
  if (isNewer || isStockNewer) kept.add(values.variantId);
  const next: VariantState = {
    variantId: values.variantId,
    productId,
    sku: values.sku === undefined ? (before?.sku ?? null) : values.sku,
    options: withNamed(values.options ?? before?.options ?? {}, values.named.option),
    price,
    priceBefore: values.priceBefore === undefined ? (before?.priceBefore ?? null) : values.priceBefore,
    stockTracked:
      values.stockTracked ?? (values.stockIsBlank ? undefined : before?.stockTracked) ?? isTracked[tracking](values),
    stockQuantity: values.stockQuantity ?? before?.stockQuantity ?? 0,
    sellPastZero: values.sellPastZero ?? before?.sellPastZero ?? false,
    archived: false,
    written: before?.written ?? 0,
    stockWritten: before?.stockWritten ?? 0,
  };
  const { stockTracked, stockQuantity, sellPastZero } = isStockNewer ? before : next;
  return { ...(isNewer ? before : next), stockTracked, stockQuantity, sellPastZero };
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

const PRODUCT_COLUMNS = {
  title: 'title',
  path: 'path',
  ...perColumn((column) => column),
  categories: 'categories',
  tags: 'tags',
  attributes: 'attributes',
  dates: 'dates',
  image: 'image',
  archived: 'archived',
} as const;
const VARIANT_COLUMNS = {
  sku: 'sku',
  options: 'options',
  price: 'price',
  priceBefore: 'price_before',
  stockTracked: 'stock_tracked',
  stockQuantity: 'stock_quantity',
  sellPastZero: 'sell_past_zero',
} as const;

/** The first new or changed rows, with their differences. */
function examplesOf(
  batch: Batch,
  touched: ReadonlyMap<string, string>,
  { exponent, locales }: ShopFacts,
  limit: number,
) {
  const decimal = (minor: number | null) => minor && (minor / 10 ** exponent).toFixed(exponent);
  const titled = (product: ProductState) => ({ ...product, title: product.title[locales[0] ?? 'en'] });
  const priced = (variant: VariantState) => ({
    ...variant,
    price: decimal(variant.price),
    priceBefore: decimal(variant.priceBefore),
  });
  const found = [];
  for (const [variantId, productId] of touched) {
    if (found.length >= limit) break;
    const variant = batch.variants.get(variantId);
    const product = batch.products.get(productId);
    if (!variant || !product) continue;
    const before = batch.variantsBefore.get(variantId);
    const productBefore = batch.productsBefore.get(productId);
    const isNew = before === undefined || before.archived;
    const fields = [
      ...differences(productBefore && titled(productBefore), titled(product), PRODUCT_COLUMNS),
      ...differences(before && priced(before), priced(variant), VARIANT_COLUMNS),
    ];
    const said = isNew ? fields.filter(({ after }) => after !== '' && after !== 'no') : fields;
    if (fields.length > 0) found.push({ key: variantId, title: titled(product).title ?? '', isNew, fields: said });
  }
  return found;
}

/** Writes the differences. @returns the numbers of new variants, and of variants that changed (or whose product did) */
async function writeBatch(db: Queryable, batch: Batch, touched: ReadonlyMap<string, string>) {
  const { order, importId } = batch.writer;
  for (const { id, name, parentId } of batch.newCategories) await insertCategory(db, id, name, parentId);
  const spelt = await spellTags(db, [...batch.products.values()]);
  const products = spelt.filter((product) => !isDeepStrictEqual(product, batch.productsBefore.get(product.productId)));
  const variants = [...batch.variants.values()].filter(
    (variant) => !isDeepStrictEqual(variant, batch.variantsBefore.get(variant.variantId)),
  );
  const isMarked = await isOlderUnderWay(db, order);
  const writtenProducts = isMarked ? spelt : products;
  const writtenVariants = isMarked ? [...batch.variants.values()] : variants;
  if (importId !== null) {
    // New records are recognised by having been written by this import only.
    await rememberStates(db, importId, {
      products: writtenProducts.flatMap(({ productId }) => batch.productsBefore.get(productId) ?? []),
      variants: writtenVariants.flatMap(({ variantId }) => batch.variantsBefore.get(variantId) ?? []),
    });
  }
  const mine = (written: number) => Math.max(written, order);
  await upsertProducts(
    db,
    writtenProducts.map((product) => ({ ...product, written: mine(product.written) })),
  );
  await upsertVariants(
    db,
    writtenVariants.map((variant) => ({
      ...variant,
      written: mine(variant.written),
      stockWritten: mine(variant.stockWritten),
    })),
  );
  const changedProducts = new Set([...products, ...variants].map(({ productId }) => productId));
  const revised = new Set(writtenProducts.map(({ productId }) => productId));
  await bumpRevisions(
    db,
    [...changedProducts].filter((id) => !revised.has(id)),
  );
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
