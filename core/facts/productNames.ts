import { sameName } from '../model/names.ts';
import type { ProductFacts, Subject } from '../model/subject.ts';
import { ofGoods, type Emit, type FactVocabulary } from './fact.ts';
import { oneOfNames } from './matching.ts';
import type { PredicateMaker } from './predicates.ts';

/** Common definition of facts that hold one name, such as a brand. */
export const asProductName = (name: 'brand' | 'kind' | 'seller') => {
  const read = ({ product }: Subject) => product?.[name] ?? null;
  return {
    about: 'goods' as const,
    rank: 1 as const,
    dependsOn: ofGoods,
    actual: read,
    operators: { in: oneOfNames(read, true), notIn: oneOfNames(read, false) },
    predicate: ({ op, value }: { op: 'in' | 'notIn'; value: readonly string[] }, make: PredicateMaker) =>
      make.among('product', name, value.map(sameName), { holds: op === 'in', isSingle: true }),
    emitProduct: (product: ProductFacts, emit: Emit) => {
      emit.name(name, product[name]);
    },
    vocabulary: {
      what: name,
      of: (product: ProductFacts) => [product[name]],
    } satisfies FactVocabulary as FactVocabulary,
  };
};
