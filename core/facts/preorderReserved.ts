import { asNumber, countSchema, countQuestions } from './comparisons.ts';
import { defineFact, ofProducts } from './fact.ts';
import { numberWords } from './wording.ts';

/** Units pre-ordered and not yet fulfilled. */
export const preorderReserved = defineFact({
  name: 'preorder.reserved',
  schema: countSchema('preorder.reserved'),
  about: 'products',
  rank: 2,
  dependsOn: ofProducts,
  isSupply: true,
  ...asNumber('variant', 'reserved', ({ variant }) => variant?.reserved ?? null),
  emitVariant: ({ reserved }, _product, emit) => {
    emit.number('reserved', reserved);
  },
  phrase: (leaf) => `in variants with ${numberWords(leaf)} reserved`,
  asked: {
    group: 'Pre-orders',
    questions: countQuestions('variants with reservations', { gte: 1 }),
  },
});
