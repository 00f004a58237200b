import { sameName } from '../model/names.ts';
import type { Subject } from '../model/subject.ts';
import { defineFact, leafSchema, NameList, ofGoods } from './fact.ts';
import { oneOfNames } from './matching.ts';
import { listed } from './wording.ts';

const read = ({ product }: Subject) => product?.brand ?? null;

export const productBrand = defineFact({
  name: 'product.brand',
  schema: leafSchema('product.brand', ['in', 'notIn'], NameList),
  about: 'goods',
  rank: 1,
  dependsOn: ofGoods,
  actual: read,
  operators: { in: oneOfNames(read, true), notIn: oneOfNames(read, false) },
  predicate: ({ op, value }, make) =>
    make.among('product', 'brand', value.map(sameName), { holds: op === 'in', isSingle: true }),
  emitProduct: ({ brand }, emit) => {
    emit.name('brand', brand);
  },
  phrase: ({ op, value }) => `${op === 'in' ? '' : 'not '}of the brand ${listed(value, 'or')}`,
  vocabulary: { kind: 'names', what: 'brand', of: ({ brand }) => [brand] },
});
