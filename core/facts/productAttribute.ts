import { sameName } from '../model/names.ts';
import type { Subject } from '../model/subject.ts';
import { defineFact, leafSchema, NamedValues, ofProducts } from './fact.ts';
import { valueIn, valueOfName } from './matching.ts';
import { namedValuesWords } from './wording.ts';

const read = ({ product }: Subject) => product?.attributes ?? {};

/** A named attribute's value, compared as a name. */
export const productAttribute = defineFact({
  name: 'product.attribute',
  schema: leafSchema('product.attribute', ['in', 'notIn'], NamedValues),
  about: 'products',
  rank: 1,
  dependsOn: ofProducts,
  actual: (subject, _shop, { value }) => valueIn(read(subject), value.name),
  operators: { in: valueOfName(read, true), notIn: valueOfName(read, false) },
  predicate: ({ op, value: { name, values } }, make) =>
    make.among('product', `attribute ${name}`, values.map(sameName), { holds: op === 'in', isSingle: true }),
  emitProduct: ({ attributes }, emit) => {
    for (const name of Object.keys(attributes)) emit.name(`attribute ${name}`, attributes[name]);
  },
  phrase: (leaf) => `whose ${namedValuesWords(leaf)}`,
  vocabulary: { what: 'attribute', valuesOf: ({ attributes }) => [attributes] },
  asked: {
    group: 'Products',
    questions: [
      { label: 'whose attribute is', op: 'in', start: null, value: 'attribute' },
      { label: 'whose attribute is not', op: 'notIn', start: null, value: 'attribute' },
    ],
  },
});
