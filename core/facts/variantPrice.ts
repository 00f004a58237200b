import { z } from 'zod';
import { asNumber, Range } from './comparisons.ts';
import { defineFact, leafSchema, ofGoods } from './fact.ts';
import { COSTS, numberWords } from './wording.ts';

const { operators, ...rest } = asNumber('variant', 'price', ({ variant }) => variant?.price ?? null);
const { eq: _, ...comparisons } = operators;

/** The catalog's price, in minor units. */
export const variantPrice = defineFact({
  name: 'variant.price',
  schema: z.discriminatedUnion('op', [
    leafSchema('variant.price', ['lt', 'lte', 'gt', 'gte'], z.int()),
    leafSchema('variant.price', ['between'], Range),
  ]),
  about: 'goods',
  rank: 2,
  dependsOn: ofGoods,
  ...rest,
  operators: comparisons,
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
