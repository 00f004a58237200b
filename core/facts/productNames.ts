import { sameName } from '../model/names.ts';
import type { NameColumn } from '../model/productColumns.ts';
import type { ProductFacts, Subject } from '../model/subject.ts';
import { ofProducts, type Emit, type FactVocabulary } from './fact.ts';
import { oneOfNames } from './matching.ts';
import type { PredicateMaker } from './predicates.ts';

/** Common definition of facts that hold one name, such as a brand, in a column of that name. */
export const asProductName = (name: NameColumn) => {
  const read = ({ product }: Subject) => product?.[name] ?? null;
  return {
    about: 'products' as const,
    rank: 1 as const,
    dependsOn: ofProducts,
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
