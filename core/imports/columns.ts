import { PRODUCT_COLUMNS, perColumn } from '../model/productColumns.ts';
import { namedColumn, type TargetName } from './fileReading.ts';

/** Our own columns, each with what it holds. */
export const OUR_COLUMNS = {
  catalog: {
    variant_id: 'the variant’s id',
    product_id: 'the product’s id',
    path: 'path of its page',
    title: 'title',
    ...perColumn((column) => PRODUCT_COLUMNS[column].holds),
    categories: 'Plants > Bulbs | Gifts',
    tags: 'rare | scented',
    attributes: 'hardiness=H5',
    dates: 'ships=2027-03-01',
    sku: 'stock-keeping unit',
    options: 'Size=9 cm pot',
    price: '14.50',
    price_before: '16.00',
    currency: 'EUR',
    stock_tracked: 'yes or no',
    stock_quantity: 'whole number',
    sell_past_zero: 'yes or no',
    image: 'address of a picture',
  },
  people: {
    customer_id: 'the customer’s id',
    email: 'e-mail address',
    name: 'name',
    phone: 'telephone with its country: +351 21 000 00 00',
    roles: 'trade | member@2026-01-01/2027-01-01',
  },
} as const satisfies Record<TargetName, Record<string, string>>;

/** Columns that other files have, which are put together to ours. Further ones are named: `namedColumn`. */
export const PARTS = {
  catalog: {},
  people: {
    first_name: 'first name',
    last_name: 'last name',
    role_from: 'the day from which they hold their roles',
    role_until: 'the day on which their roles end',
  },
} as const satisfies Record<TargetName, Record<string, string>>;

/** Columns of which one is required to identify a row. */
export const KEYS: Readonly<Record<TargetName, readonly string[]>> = {
  catalog: ['variant_id', 'product_id', 'sku', 'title'],
  people: ['customer_id', 'email'],
};

/** Whether our own format has this column. */
export const isOurs = (target: TargetName, column: string): boolean =>
  column in OUR_COLUMNS[target] || (target === 'catalog' && namedColumn(column) !== null);

/** Whether a column of another file can be this. */
export const isColumn = (target: TargetName, column: string): boolean =>
  isOurs(target, column) || column in PARTS[target];
