import type { Subject } from '../model/subject.ts';
import { defineFact, leafSchema, NameList, ofProducts } from './fact.ts';
import { oneOf } from './matching.ts';
import { listed } from './wording.ts';

const read = ({ product }: Subject) => product?.id ?? null;

export const productId = defineFact({
  name: 'product.id',
  schema: leafSchema('product.id', ['in', 'notIn'], NameList),
  about: 'products',
  rank: 1,
  dependsOn: ofProducts,
  actual: read,
  operators: { in: oneOf(read, true), notIn: oneOf(read, false) },
  predicate: ({ op, value }, make) =>
    make.among('product', 'id', value, { holds: op === 'in', isSingle: true, isUnique: true }),
  emitProduct: ({ id }, emit) => {
    emit.id('id', id);
  },
  phrase: ({ op, value }, names) => `${op === 'in' ? 'that are' : 'other than'} ${listed(value, 'or', names.product)}`,
  vocabulary: { what: 'product', isLetterByLetter: true, of: ({ id }) => [id] },
  asked: {
    group: 'Products',
    questions: [
      { label: 'these products', op: 'in', start: null, value: 'products' },
      { label: 'other than these products', op: 'notIn', start: null, value: 'products' },
    ],
  },
});
