import { z } from 'zod';
import type { Subject } from '../model/subject.ts';
import { leafSchema, type FactQuestion } from './fact.ts';
import { numbers, rangeOf } from './matching.ts';
import type { FactScope, PredicateMaker } from './predicates.ts';

const Range = z.tuple([z.int(), z.int()]);

/** Leaves that compare whole numbers: five operators take one number, `between` takes two. */
export const countSchema = <const Name extends string>(fact: Name) =>
  z.discriminatedUnion('op', [
    leafSchema(fact, ['lt', 'lte', 'gt', 'gte', 'eq'], z.int()),
    leafSchema(fact, ['between'], Range),
  ]);

/** Leaves that compare a measure, such as a price: it is never asked for exactly. */
export const measureSchema = <const Name extends string>(fact: Name) =>
  z.discriminatedUnion('op', [
    leafSchema(fact, ['lt', 'lte', 'gt', 'gte'], z.int()),
    leafSchema(fact, ['between'], Range),
  ]);

/** Common definition of numeric facts. */
export const asNumber = (scope: FactScope, column: string, read: (subject: Subject) => number | null) => ({
  actual: read,
  operators: numbers(read),
  predicate: (leaf: Parameters<typeof rangeOf>[0], make: PredicateMaker) => make.between(scope, column, rangeOf(leaf)),
});

/** Common definition of facts that are measures. */
export const asMeasure = (...of: Parameters<typeof asNumber>) => {
  const { operators, ...rest } = asNumber(...of);
  const { eq: _, ...comparisons } = operators;
  return { ...rest, operators: comparisons };
};

const COUNT_WORDS = {
  lt: 'below',
  lte: 'at most',
  gt: 'above',
  gte: 'at least',
  eq: 'exactly',
} as const;
type CountWords = Readonly<Record<keyof typeof COUNT_WORDS, string>>;

/** Questions of the editor about a count: "variants with stock below", "… at most" and so on. */
export const countQuestions = (
  what: string,
  start: Readonly<Partial<Record<keyof typeof COUNT_WORDS, number>>> = {},
  words: CountWords = COUNT_WORDS,
): readonly FactQuestion<keyof typeof COUNT_WORDS | 'between'>[] => [
  ...(['lt', 'lte', 'gt', 'gte', 'eq'] as const).map((op) => ({
    label: `${what} ${words[op]}`,
    op,
    start: start[op] ?? (op === 'eq' ? 0 : 5),
    value: 'quantity' as const,
  })),
  { label: `${what} between`, op: 'between', start: [1, 5], value: 'range' },
];
