import { sameAddress } from '#core/model/names.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import {
  BadCell,
  categories,
  cell,
  dates,
  list,
  pairs,
  path,
  price,
  required,
  truth,
  wholeNumber,
  type CategoryPath,
} from './cells.ts';
import type { Row } from './rows.ts';

export const CATALOG_COLUMNS = [
  'variant_id',
  'product_id',
  'path',
  'title',
  'brand',
  'kind',
  'seller',
  'categories',
  'tags',
  'attributes',
  'dates',
  'sku',
  'options',
  'price',
  'price_before',
  'currency',
  'stock_tracked',
  'stock_quantity',
  'sell_past_zero',
  'image',
] as const;

/** What a row says. Undefined keeps what was there; null clears it. */
export interface CatalogRow {
  readonly line: number;
  readonly variantId: string;
  readonly productId: string | undefined;
  readonly path: string | null | undefined;
  readonly pathKey: string | null | undefined;
  readonly title: string | undefined;
  readonly brand: string | null | undefined;
  readonly kind: string | null | undefined;
  readonly seller: string | null | undefined;
  readonly categories: readonly CategoryPath[] | undefined;
  readonly tags: readonly string[] | undefined;
  readonly attributes: Readonly<Record<string, string>> | undefined;
  readonly dates: Readonly<Record<string, string>> | undefined;
  readonly image: string | null | undefined;
  readonly sku: string | null | undefined;
  readonly options: Readonly<Record<string, string>> | undefined;
  readonly price: number | undefined;
  readonly priceBefore: number | null | undefined;
  readonly stockTracked: boolean | undefined;
  readonly stockQuantity: number | undefined;
  readonly sellPastZero: boolean | undefined;
}

/** @throws {BadCell} naming the column */
export function readCatalogRow(row: Row, { currency, exponent }: Pick<ShopFacts, 'currency' | 'exponent'>): CatalogRow {
  const rowCurrency = cell(row, 'currency');
  if (rowCurrency && rowCurrency.toUpperCase() !== currency) {
    throw new BadCell('currency', `is ${rowCurrency}, and this shop sells in ${currency}`);
  }
  const title = cell(row, 'title');
  if (title === '') throw new BadCell('title', 'is empty, and a product cannot be without one');
  const rowPrice = price(row, 'price', exponent);
  if (rowPrice === null) throw new BadCell('price', 'is empty, and a variant cannot be without one');
  const rowPath = path(row, 'path');
  const tracked = truth(row, 'stock_tracked');
  const quantity = wholeNumber(row, 'stock_quantity');
  const pastZero = truth(row, 'sell_past_zero');
  const text = (column: string) => {
    const value = cell(row, column);
    return value === '' ? null : value;
  };
  return {
    line: row.line,
    variantId: required(row, 'variant_id'),
    productId: row.cells.product_id === undefined ? undefined : required(row, 'product_id'),
    path: rowPath,
    pathKey: typeof rowPath === 'string' ? sameAddress(rowPath) : rowPath,
    title,
    brand: text('brand'),
    kind: text('kind'),
    seller: text('seller'),
    categories: categories(row, 'categories'),
    tags: list(row, 'tags'),
    attributes: pairs(row, 'attributes'),
    dates: dates(row, 'dates'),
    image: text('image'),
    sku: text('sku'),
    options: pairs(row, 'options'),
    price: rowPrice,
    priceBefore: price(row, 'price_before', exponent),
    stockTracked: tracked === null ? false : tracked,
    stockQuantity: quantity === null ? 0 : quantity,
    sellPastZero: pastZero === null ? false : pastZero,
  };
}
