import { asMeasure, measureSchema } from './comparisons.ts';
import { defineFact, ofProducts } from './fact.ts';
import { COSTS, numberWords } from './wording.ts';

const unit = 'Grams';
const weightWords = (grams: number): string => (grams < 1000 ? `${grams} g` : `${grams / 1000} kg`);

/** The product's weight in grams; missing where the shop gives none. */
export const productWeight = defineFact({
  name: 'product.weight',
  schema: measureSchema('product.weight'),
  about: 'products',
  rank: 1,
  dependsOn: ofProducts,
  ...asMeasure('product', 'grams', ({ product }) => product?.grams ?? null),
  emitProduct: ({ grams }, emit) => {
    emit.number('grams', grams);
  },
  phrase: (leaf) => `that weigh ${numberWords(leaf, weightWords, COSTS)}`,
  asked: {
    group: 'Products',
    questions: [
      { label: 'that weigh less than', op: 'lt', start: 2000, value: 'quantity', unit },
      { label: 'that weigh at most', op: 'lte', start: 2000, value: 'quantity', unit },
      { label: 'that weigh more than', op: 'gt', start: 2000, value: 'quantity', unit },
      { label: 'that weigh at least', op: 'gte', start: 2000, value: 'quantity', unit },
      { label: 'that weigh between', op: 'between', start: [500, 2000], value: 'range', unit },
    ],
  },
});
