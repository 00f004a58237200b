import { asNumber, countSchema } from './comparisons.ts';
import { defineFact, ofGoods } from './fact.ts';
import { numberWords } from './wording.ts';

/** People who wait for the variant itself, or for its product, which means any of its variants. */
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
});
