import { asNumber, countSchema } from './comparisons.ts';
import { defineFact, ofGoods } from './fact.ts';
import { numberWords } from './wording.ts';

/** People waiting for the variant, or for its product and so for any variant. */
export const waitlistLength = defineFact({
  name: 'waitlist.length',
  schema: countSchema('waitlist.length'),
  about: 'goods',
  rank: 2,
  dependsOn: ofGoods,
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
    questions: [
      { label: 'variants with waitlists shorter than', op: 'lt', start: 5, value: 'quantity' },
      { label: 'variants with waitlists of at most', op: 'lte', start: 5, value: 'quantity' },
      { label: 'variants with waitlists longer than', op: 'gt', start: 5, value: 'quantity' },
      { label: 'variants with waitlists of at least', op: 'gte', start: 1, value: 'quantity' },
      { label: 'variants with waitlists of exactly', op: 'eq', start: 0, value: 'quantity' },
      { label: 'variants with waitlists between', op: 'between', start: [1, 5], value: 'range' },
    ],
  },
});
