import { asNumber, countSchema } from './comparisons.ts';
import { defineFact, ofGoods } from './fact.ts';
import { numberWords } from './wording.ts';

/** The variant's stock; missing if it is not tracked. */
export const stockQuantity = defineFact({
  name: 'stock.quantity',
  schema: countSchema('stock.quantity'),
  about: 'goods',
  rank: 2,
  dependsOn: ofGoods,
  isSupply: true,
  stock: 'variant',
  ...asNumber('variant', 'quantity', ({ variant }) => (variant?.stock.tracked ? variant.stock.quantity : null)),
  emitVariant: ({ stock }, _product, emit) => {
    emit.number('quantity', stock.tracked ? stock.quantity : null);
  },
  phrase: (leaf) => `in variants with ${numberWords(leaf)} left`,
  asked: {
    group: 'Stock',
    questions: [
      { label: 'variants with stock below', op: 'lt', start: 5, value: 'quantity' },
      { label: 'variants with stock at most', op: 'lte', start: 5, value: 'quantity' },
      { label: 'variants with stock above', op: 'gt', start: 5, value: 'quantity' },
      { label: 'variants with stock at least', op: 'gte', start: 5, value: 'quantity' },
      { label: 'variants with stock exactly', op: 'eq', start: 0, value: 'quantity' },
      { label: 'variants with stock between', op: 'between', start: [1, 5], value: 'range' },
    ],
  },
});
