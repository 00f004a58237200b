import { asMeasure, measureSchema } from './comparisons.ts';
import { defineFact, ofProducts } from './fact.ts';
import { COSTS, numberWords } from './wording.ts';

/** The catalog's price, in minor units. */
export const variantPrice = defineFact({
  name: 'variant.price',
  schema: measureSchema('variant.price'),
  about: 'products',
  rank: 2,
  dependsOn: ofProducts,
  ...asMeasure('variant', 'price', ({ variant }) => variant?.price ?? null),
  emitVariant: ({ price }, _product, emit) => {
    emit.number('price', price);
  },
  phrase: (leaf, { price = (minor: number) => `${minor} in minor units` }) =>
    `in variants that cost ${numberWords(leaf, price, COSTS)}`,
  asked: {
    group: 'Price',
    questions: [
      { label: 'variants that cost less than', op: 'lt', start: null, value: 'price' },
      { label: 'variants that cost at most', op: 'lte', start: null, value: 'price' },
      { label: 'variants that cost more than', op: 'gt', start: null, value: 'price' },
      { label: 'variants that cost at least', op: 'gte', start: null, value: 'price' },
      { label: 'variants that cost between', op: 'between', start: null, value: 'priceRange' },
    ],
  },
});
