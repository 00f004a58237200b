import type { Subject } from '../model/subject.ts';
import { defineFact, leafSchema, NameList, ofProducts } from './fact.ts';
import { oneOf } from './matching.ts';
import { listed, plural } from './wording.ts';

const read = ({ variant }: Subject) => variant?.id ?? null;

export const variantId = defineFact({
  name: 'variant.id',
  schema: leafSchema('variant.id', ['in', 'notIn'], NameList),
  about: 'products',
  rank: 2,
  dependsOn: ofProducts,
  actual: read,
  operators: { in: oneOf(read, true), notIn: oneOf(read, false) },
  predicate: ({ op, value }, make) =>
    make.among('variant', 'id', value, { holds: op === 'in', isSingle: true, isUnique: true }),
  emitVariant: ({ id }, _product, emit) => {
    emit.id('id', id);
  },
  phrase: ({ op, value }, { variant }) =>
    `in ${op === 'in' ? plural('the variant', value) : 'variants other than'} ${listed(value, 'or', variant)}`,
  vocabulary: {
    what: 'variant',
    isLetterByLetter: true,
    of: ({ variants }) => variants.map(({ id }) => id),
  },
  asked: {
    group: 'Variants',
    questions: [
      { label: 'these variants', op: 'in', start: null, value: 'variants' },
      { label: 'other than these variants', op: 'notIn', start: null, value: 'variants' },
    ],
  },
});
