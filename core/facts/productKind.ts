import { defineFact, leafSchema, NameList } from './fact.ts';
import { asProductName } from './productNames.ts';
import { listed } from './wording.ts';

export const productKind = defineFact({
  name: 'product.kind',
  schema: leafSchema('product.kind', ['in', 'notIn'], NameList),
  ...asProductName('kind'),
  phrase: ({ op, value }) => `${op === 'in' ? '' : 'not '}of the kind ${listed(value, 'or')}`,
  asked: {
    group: 'Products',
    questions: [
      { label: 'of the kinds', op: 'in', start: null, value: 'kinds' },
      { label: 'not of the kinds', op: 'notIn', start: null, value: 'kinds' },
    ],
  },
});
