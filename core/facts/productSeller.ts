import { sameName } from '../model/names.ts';
import type { Subject } from '../model/subject.ts';
import { defineFact, leafSchema, NameList, ofGoods } from './fact.ts';
import { oneOfNames } from './matching.ts';
import { listed } from './wording.ts';

const read = ({ product }: Subject) => product?.seller ?? null;

export const productSeller = defineFact({
  name: 'product.seller',
  schema: leafSchema('product.seller', ['in', 'notIn'], NameList),
  about: 'goods',
  rank: 1,
  dependsOn: ofGoods,
  actual: read,
  operators: { in: oneOfNames(read, true), notIn: oneOfNames(read, false) },
  predicate: ({ op, value }, make) =>
    make.among('product', 'seller', value.map(sameName), { holds: op === 'in', isSingle: true }),
  emitProduct: ({ seller }, emit) => {
    emit.name('seller', seller);
  },
  phrase: ({ op, value }) => `${op === 'in' ? '' : 'not '}sold by ${listed(value, 'or')}`,
  vocabulary: { kind: 'names', what: 'seller', of: ({ seller }) => [seller] },
});
