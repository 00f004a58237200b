import { asNumber, countSchema, countQuestions } from './comparisons.ts';
import { defineFact, ofProducts } from './fact.ts';
import { numberWords } from './wording.ts';

/** People waiting for the variant, or for its product and so for any variant. */
export const waitlistLength = defineFact({
  name: 'waitlist.length',
  schema: countSchema('waitlist.length'),
  about: 'products',
  rank: 2,
  dependsOn: ofProducts,
  isSupply: true,
  ...asNumber('variant', 'waiting', ({ product, variant }) =>
    product && variant ? product.waiting + variant.waiting : null,
  ),
  emitVariant: (variant, product, emit) => {
    emit.number('waiting', product.waiting + variant.waiting);
  },
  phrase: (leaf) =>
    leaf.op === 'eq' && leaf.value === 0
      ? 'in variants with nobody waiting'
      : `in variants with ${numberWords(leaf)} people waiting`,
  asked: {
    group: 'Waitlists',
    questions: countQuestions(
      'variants with waitlists',
      { gte: 1 },
      { lt: 'shorter than', lte: 'of at most', gt: 'longer than', gte: 'of at least', eq: 'of exactly' },
    ).map((question) => ({ ...question, unit: 'People' })),
  },
});
