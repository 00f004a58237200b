import { asNumber, countSchema, countQuestions } from './comparisons.ts';
import { defineFact, ofProducts } from './fact.ts';
import { numberWords } from './wording.ts';

/** The variant's stock; missing if it is not tracked. */
export const stockQuantity = defineFact({
  name: 'stock.quantity',
  schema: countSchema('stock.quantity'),
  about: 'products',
  rank: 2,
  dependsOn: ofProducts,
  isSupply: true,
  stock: 'variant',
  ...asNumber('variant', 'quantity', ({ variant }) => (variant?.stock.tracked ? variant.stock.quantity : null)),
  emitVariant: ({ stock }, _product, emit) => {
    emit.number('quantity', stock.tracked ? stock.quantity : null);
  },
  phrase: (leaf) => `in variants with ${numberWords(leaf)} left`,
  asked: {
    group: 'Stock',
    questions: countQuestions('variants with stock'),
  },
});
