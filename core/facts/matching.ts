import { timeless, type TimedPredicate } from '../model/timedResult.ts';
import { sameName, samePath } from '../model/names.ts';
import type { Subject } from '../model/subject.ts';
import type { Operator } from './fact.ts';

type Read<Value> = (subject: Subject) => Value | null;

/** Tests for one of the expected values, compared exactly; a missing value is none of them. */
export const oneOf =
  (read: Read<string>, wanted: boolean): Operator<readonly string[]> =>
  (expected) => {
    const set = new Set<string | null>(expected);
    return timeless((subject) => set.has(read(subject)) === wanted);
  };

/** The same, compared as names. */
export const oneOfNames =
  (read: Read<string>, wanted: boolean): Operator<readonly string[]> =>
  (expected, shop) =>
    oneOf((subject) => {
      const name = read(subject);
      return name === null ? null : sameName(name);
    }, wanted)(expected.map(sameName), shop);

/** Tests a named value, such as an attribute, for one of the expected ones. */
export const valueOfName =
  (
    read: (subject: Subject) => Readonly<Record<string, string>>,
    wanted: boolean,
  ): Operator<{ name: string; values: readonly string[] }> =>
  ({ name, values }, shop) =>
    oneOfNames((subject) => valueIn(read(subject), name), wanted)(values, shop);

export const valueIn = (record: Readonly<Record<string, string>>, name: string): string | null =>
  Object.hasOwn(record, name) ? (record[name] ?? null) : null;

/** Compares paths; a missing path never matches. */
export function paths(read: Read<string>) {
  const when =
    (matches: (actual: string, expected: string) => boolean): Operator<string> =>
    (expected) => {
      const wanted = samePath(expected);
      return timeless((subject) => {
        const actual = read(subject);
        return actual !== null && matches(samePath(actual), wanted);
      });
    };
  return {
    equals: when((actual, expected) => actual === expected),
    startsWith: when((actual, expected) => actual.startsWith(expected)),
    contains: when((actual, expected) => actual.includes(expected)),
  };
}

/** Compares numbers; a missing number never matches. */
export function numbers(read: Read<number>) {
  const when =
    <Value>(matches: (actual: number, expected: Value) => boolean): Operator<Value> =>
    (expected): TimedPredicate =>
      timeless((subject) => {
        const actual = read(subject);
        return actual !== null && matches(actual, expected);
      });
  return {
    lt: when<number>((actual, expected) => actual < expected),
    lte: when<number>((actual, expected) => actual <= expected),
    gt: when<number>((actual, expected) => actual > expected),
    gte: when<number>((actual, expected) => actual >= expected),
    eq: when<number>((actual, expected) => actual === expected),
    between: when<readonly [number, number]>((actual, [low, high]) => low <= actual && actual <= high),
  };
}

type Comparison =
  | { readonly op: 'lt' | 'lte' | 'gt' | 'gte' | 'eq'; readonly value: number }
  | { readonly op: 'between'; readonly value: readonly [number, number] };

/** Range of whole numbers that satisfy a comparison. */
export function rangeOf({ op, value }: Comparison): readonly [number, number] {
  switch (op) {
    case 'lt':
      return [-Infinity, value - 1];
    case 'lte':
      return [-Infinity, value];
    case 'gt':
      return [value + 1, Infinity];
    case 'gte':
      return [value, Infinity];
    case 'eq':
      return [value, value];
    case 'between':
      return value;
  }
}
