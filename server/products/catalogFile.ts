import type { Product } from '#core/contract/shopCalls.ts';
import { PRODUCT_COLUMN_NAMES, perColumn } from '#core/model/productColumns.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { wordsIn } from '#core/texts/locale.ts';
import { productsByKeys } from '../catalog/catalogQueries.ts';
import type { Services } from '../services/services.ts';
import { csvFile } from '../http/csvFile.ts';

/** The columns of the catalog's file, in the order in which the documentation names them. */
const COLUMNS = [
  'variant_id',
  'product_id',
  'path',
  'title',
  ...PRODUCT_COLUMN_NAMES,
  'categories',
  'tags',
  'attributes',
  'dates',
  'options',
  'price',
  'price_before',
  'currency',
  'stock_tracked',
  'stock_quantity',
  'sell_past_zero',
  'image',
] as const;
const AT_ONCE = 1000;

const NAMES = `
  WITH RECURSIVE tree AS (
    SELECT id, external_id, name FROM categories WHERE parent_id IS NULL
    UNION ALL
    SELECT c.id, c.external_id, tree.name || ' > ' || c.name FROM categories c JOIN tree ON tree.id = c.parent_id)
  SELECT external_id AS id, name FROM tree`;

/** Products as a file that the import reads, a row for each variant. */
export async function catalogFile(
  { db, live }: Pick<Services, 'db' | 'live'>,
  ids: readonly string[],
): Promise<string> {
  const { shop } = live.current().rulebook;
  const { rows } = await db.query<{ id: string; name: string }>(NAMES);
  const categories = new Map(rows.map(({ id, name }) => [id, name]));
  // Written bit by bit, so that nobody waits for it.
  const parts = [csvFile([], COLUMNS, 'first')];
  for (let from = 0; from < ids.length; from += AT_ONCE) {
    const some = ids.slice(from, from + AT_ONCE);
    const products = new Map((await productsByKeys(db, { ids: some, paths: [] })).map((row) => [row.id, row]));
    const lines = some.flatMap((id) => {
      const product = products.get(id);
      return product ? linesOf(product, categories, shop) : [];
    });
    parts.push(csvFile(lines, COLUMNS, 'next'));
  }
  return parts.join('');
}

function linesOf(product: Product, categories: ReadonlyMap<string, string>, shop: ShopFacts) {
  const price = (minor: number | null) => (minor === null ? '' : (minor / 10 ** shop.exponent).toFixed(shop.exponent));
  return product.variants.map((variant) => ({
    variant_id: variant.id,
    product_id: product.id,
    path: product.path ?? '',
    title: wordsIn(product.title, null, shop.locales),
    ...perColumn((column) => product[column] ?? ''),
    categories: product.categories.map((id) => categories.get(id) ?? id).join('|'),
    tags: product.tags.join('|'),
    attributes: pairs(product.attributes),
    dates: pairs(product.dates),
    options: pairs(variant.options),
    price: price(variant.price),
    price_before: price(variant.priceBefore),
    currency: shop.currency,
    stock_tracked: String(variant.stock.tracked),
    stock_quantity: variant.stock.quantity,
    sell_past_zero: String(variant.stock.sellPastZero),
    image: product.image ?? '',
  }));
}

const pairs = (record: Readonly<Record<string, string>>) =>
  Object.entries(record)
    .map(([name, value]) => `${name}=${value}`)
    .join('|');
