import { namedColumn, type NamedKind } from '#core/imports/fileReading.ts';
import { perColumn, type ProductColumnName, type ProductColumnValues } from '#core/model/productColumns.ts';
import { parseLocal } from '#core/model/calendar.ts';
import { sameAddress } from '#core/model/names.ts';
import type { ShopDetails } from '#core/contract/shopDetails.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import {
  BadCell,
  categories,
  cell,
  count,
  dates,
  list,
  pairs,
  path,
  price,
  readRow,
  required,
  text,
  truth,
  wholeNumber,
  type CategoryPath,
} from './cells.ts';
import type { Row } from './rows.ts';

const COLUMN_READERS = { name: text, wholeNumber: count };
type ColumnsRead = { readonly [Column in ProductColumnName]: ProductColumnValues[Column] | undefined };

/** Values of a row. Undefined keeps the stored value; null clears it. */
export interface CatalogRow extends ColumnsRead {
  readonly line: number;
  readonly variantId: string;
  readonly productId: string | undefined;
  readonly path: string | null | undefined;
  readonly pathKey: string | null | undefined;
  readonly title: string | undefined;
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
  /** Whether the file has a column for the quantity and leaves it blank here: such stock is not tracked. */
  readonly stockIsBlank: boolean;
  readonly sellPastZero: boolean | undefined;
  /** Values of separate columns by kind and name, merged with stored ones; null removes one. */
  readonly named: Readonly<Record<NamedKind, Readonly<Record<string, string | null>>>>;
}

/** @throws {BadRow} naming each column */
export const readCatalogRow = (row: Row, shop: Pick<ShopFacts, 'currency' | 'exponent'>): CatalogRow =>
  readRow((of) => {
    of(() => {
      checkCurrency(row, shop.currency);
    });
    const found = of(() => path(row, 'path'));
    const tracked = of(() => truth(row, 'stock_tracked'));
    const quantity = of(() => wholeNumber(row, 'stock_quantity'));
    const pastZero = of(() => truth(row, 'sell_past_zero'));
    return {
      line: row.line,
      variantId: of(() => required(row, 'variant_id')) ?? '',
      productId: of(() => (row.cells.product_id === undefined ? undefined : required(row, 'product_id'))),
      path: found,
      pathKey: typeof found === 'string' ? sameAddress(found) : found,
      title: of(() => titleOf(row)),
      ...perColumn<ColumnsRead>((column, type) => of(() => COLUMN_READERS[type](row, column))),
      categories: of(() => categories(row, 'categories')),
      tags: of(() => list(row, 'tags')),
      attributes: of(() => pairs(row, 'attributes')),
      dates: of(() => dates(row, 'dates')),
      image: of(() => text(row, 'image')),
      sku: of(() => text(row, 'sku')),
      options: of(() => pairs(row, 'options')),
      price: of(() => priceOf(row, shop.exponent)),
      priceBefore: of(() => price(row, 'price_before', shop.exponent)),
      stockTracked: tracked === null ? false : tracked,
      stockQuantity: quantity === null ? 0 : quantity,
      stockIsBlank: quantity === null && tracked === undefined,
      sellPastZero: pastZero === null ? false : pastZero,
      named: namedCells(row, of),
    };
  });

/** Whether stock of something new is tracked whose file does not say. */
export const isTracked: Readonly<Record<ShopDetails['tracking'], (row: CatalogRow) => boolean>> = {
  whereCounted: ({ stockQuantity, stockIsBlank }) => stockQuantity !== undefined && !stockIsBlank,
  always: () => true,
  never: () => false,
};

/** Says what is wrong with a value of a named column, and what to write instead; null if it is right. */
const NAMED_FAULTS: Readonly<Record<NamedKind, (text: string) => string | null>> = {
  attribute: () => null,
  date: (text) => (parseLocal(text) === null ? 'is not a date; write YYYY-MM-DD or YYYY-MM-DDTHH:MM' : null),
  option: () => null,
};

function namedCells(row: Row, of: (readCell: () => void) => void): CatalogRow['named'] {
  const named: Record<NamedKind, Record<string, string | null>> = { attribute: {}, date: {}, option: {} };
  for (const column in row.cells) {
    const found = column.includes(':') ? namedColumn(column) : null;
    if (!found) continue;
    of(() => {
      const text = cell(row, column) ?? '';
      const fault = text === '' ? null : NAMED_FAULTS[found.kind](text);
      if (fault !== null) throw new BadCell(column, `“${text}” ${fault}`);
      named[found.kind][found.name] = text === '' ? null : text;
    });
  }
  return named;
}

function checkCurrency(row: Row, currency: string): void {
  const found = cell(row, 'currency');
  if (found && found.toUpperCase() !== currency)
    throw new BadCell('currency', `is ${found}, and this shop sells in ${currency}`);
}

function titleOf(row: Row): string | undefined {
  const title = cell(row, 'title');
  if (title === '') throw new BadCell('title', 'is empty, and a product cannot be without one');
  return title;
}

function priceOf(row: Row, exponent: number): number | undefined {
  const found = price(row, 'price', exponent);
  if (found === null) throw new BadCell('price', 'is empty, and a variant cannot be without one');
  return found;
}

/** A category's id and its ancestors', the root first. */
export function lineage(id: string): string[] {
  const slugs = id.split('/');
  return slugs.map((_, depth) => slugs.slice(0, depth + 1).join('/'));
}
