import { defineFact, leafSchema, NameList } from './fact.ts';
import { asProductName } from './productNames.ts';
import { listed } from './wording.ts';

export const productBrand = defineFact({
  name: 'product.brand',
  schema: leafSchema('product.brand', ['in', 'notIn'], NameList),
  ...asProductName('brand'),
  phrase: ({ op, value }) => `${op === 'in' ? '' : 'not '}of the brand ${listed(value, 'or')}`,
  asked: {
    group: 'Products',
    questions: [
      { label: 'of the brands', op: 'in', start: null, value: 'brands' },
      { label: 'not of the brands', op: 'notIn', start: null, value: 'brands' },
    ],
  },
});
