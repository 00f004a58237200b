import { z } from 'zod';
import type { Subject } from '../model/subject.ts';
import { leafSchema } from './fact.ts';
import { numbers, rangeOf } from './matching.ts';
import type { FactScope, PredicateMaker } from './predicates.ts';

export const Range = z.tuple([z.int(), z.int()]);

/** Leaves that compare whole numbers: five operators take one number, `between` takes two. */
export const countSchema = <const Name extends string>(fact: Name) =>
  z.discriminatedUnion('op', [
    leafSchema(fact, ['lt', 'lte', 'gt', 'gte', 'eq'], z.int()),
    leafSchema(fact, ['between'], Range),
  ]);

/** Common definition of numeric facts. */
export const asNumber = (scope: FactScope, column: string, read: (subject: Subject) => number | null) => ({
  actual: read,
  operators: numbers(read),
  predicate: (leaf: Parameters<typeof rangeOf>[0], make: PredicateMaker) => make.between(scope, column, rangeOf(leaf)),
});
