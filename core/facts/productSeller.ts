import { defineFact, leafSchema, NameList } from './fact.ts';
import { asProductName } from './productNames.ts';
import { listed } from './wording.ts';

export const productSeller = defineFact({
  name: 'product.seller',
  schema: leafSchema('product.seller', ['in', 'notIn'], NameList),
  ...asProductName('seller'),
  phrase: ({ op, value }) => `${op === 'in' ? '' : 'not '}sold by ${listed(value, 'or')}`,
  asked: {
    group: 'Products',
    questions: [
      { label: 'sold by', op: 'in', start: null, value: 'sellers' },
      { label: 'not sold by', op: 'notIn', start: null, value: 'sellers' },
    ],
  },
});
