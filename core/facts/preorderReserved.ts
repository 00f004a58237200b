import { asNumber, countSchema } from './comparisons.ts';
import { defineFact, ofGoods } from './fact.ts';
import { numberWords } from './wording.ts';

/** Units pre-ordered and not yet fulfilled. */
export const preorderReserved = defineFact({
  name: 'preorder.reserved',
  schema: countSchema('preorder.reserved'),
  about: 'goods',
  rank: 2,
  dependsOn: ofGoods,
  isSupply: true,
  ...asNumber('variant', 'reserved', ({ variant }) => variant?.reserved ?? null),
  emitVariant: ({ reserved }, _product, emit) => {
    emit.number('reserved', reserved);
  },
  phrase: (leaf) => `in variants with ${numberWords(leaf)} reserved`,
  asked: {
    group: 'Pre-orders',
    questions: [
      { label: 'variants with reservations below', op: 'lt', start: 5, value: 'quantity' },
      { label: 'variants with reservations at most', op: 'lte', start: 5, value: 'quantity' },
      { label: 'variants with reservations above', op: 'gt', start: 5, value: 'quantity' },
      { label: 'variants with reservations at least', op: 'gte', start: 1, value: 'quantity' },
      { label: 'variants with reservations exactly', op: 'eq', start: 0, value: 'quantity' },
      { label: 'variants with reservations between', op: 'between', start: [1, 5], value: 'range' },
    ],
  },
});
