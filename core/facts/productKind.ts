import { sameName } from '../model/names.ts';
import type { Subject } from '../model/subject.ts';
import { defineFact, leafSchema, NameList, ofGoods } from './fact.ts';
import { oneOfNames } from './matching.ts';
import { listed } from './wording.ts';

const read = ({ product }: Subject) => product?.kind ?? null;

export const productKind = defineFact({
  name: 'product.kind',
  schema: leafSchema('product.kind', ['in', 'notIn'], NameList),
  about: 'goods',
  rank: 1,
  dependsOn: ofGoods,
  actual: read,
  operators: { in: oneOfNames(read, true), notIn: oneOfNames(read, false) },
  predicate: ({ op, value }, make) =>
    make.among('product', 'kind', value.map(sameName), { holds: op === 'in', isSingle: true }),
  emitProduct: ({ kind }, emit) => {
    emit.name('kind', kind);
  },
  phrase: ({ op, value }) => `${op === 'in' ? '' : 'not '}of the kind ${listed(value, 'or')}`,
  vocabulary: { kind: 'names', what: 'kind', of: ({ kind }) => [kind] },
});
