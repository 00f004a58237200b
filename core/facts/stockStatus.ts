import { stockStatuses, STOCK_STATUSES, type StockStatus } from '../model/subject.ts';
import { timeless } from '../model/timedResult.ts';
import { defineFact, leafSchema, listOf, ofProducts, type Operator } from './fact.ts';
import { joined } from './wording.ts';

const status =
  (wanted: boolean): Operator<readonly string[]> =>
  (expected) => {
    const set = new Set(expected);
    return timeless(
      ({ variant }) => (variant ? stockStatuses(variant.stock) : []).some((has) => set.has(has)) === wanted,
    );
  };

export const STOCK_STATUS_NAMES: Readonly<Record<StockStatus, string>> = {
  inStock: 'in stock',
  outOfStock: 'out of stock',
  backorder: 'on backorder',
  untracked: 'untracked',
};

/** Stock statuses; several can be true at once. */
export const stockStatus = defineFact({
  name: 'stock.status',
  schema: leafSchema('stock.status', ['in', 'notIn'], listOf(STOCK_STATUSES)),
  about: 'products',
  rank: 2,
  dependsOn: ofProducts,
  isSupply: true,
  stock: 'variant',
  actual: ({ variant }) => (variant ? stockStatuses(variant.stock) : null),
  operators: { in: status(true), notIn: status(false) },
  predicate: ({ op, value }, make) => make.among('variant', 'status', value, { holds: op === 'in' }),
  emitVariant: ({ stock }, _product, emit) => {
    for (const has of stockStatuses(stock)) emit.value('status', has);
  },
  phrase: ({ op, value }) => {
    const statuses = joined(
      value.map((one) => STOCK_STATUS_NAMES[one]),
      'or',
    );
    return `in variants ${op === 'in' ? 'that are' : 'that are not'} ${statuses}`;
  },
  asked: {
    group: 'Stock',
    questions: [
      { label: 'variants that are', op: 'in', start: ['outOfStock'], value: 'statuses' },
      { label: 'variants that are not', op: 'notIn', start: ['inStock'], value: 'statuses' },
    ],
  },
});
