import type { Subject } from './subject.ts';

/**
 * Whether a condition holds, and until when that answer stands if only the clock moves: an instant in epoch ms,
 * Infinity when time alone never changes it. `until` may come early, never late.
 */
export interface TimedResult {
  readonly matches: boolean;
  readonly validUntil: number;
}

/** A condition made ready to ask. */
export type TimedPredicate = (subject: Subject) => TimedResult;

export const ALWAYS: TimedResult = { matches: true, validUntil: Infinity };
export const NEVER: TimedResult = { matches: false, validUntil: Infinity };

/** A test that the clock has no part in. */
export function timeless(test: (subject: Subject) => boolean): TimedPredicate {
  return (subject) => (test(subject) ? ALWAYS : NEVER);
}

/** Conjunction: false while one of its parts is false. */
export function allOf(tests: readonly TimedPredicate[]): TimedPredicate {
  return (subject) => every(tests, subject, true);
}

/** Disjunction: true while one of its parts is true. */
export function anyOf(tests: readonly TimedPredicate[]): TimedPredicate {
  return (subject) => every(tests, subject, false);
}

/** None of them. */
export function noneOf(tests: readonly TimedPredicate[]): TimedPredicate {
  return (subject) => {
    const { matches: holds, validUntil: until } = every(tests, subject, false);
    return { matches: !holds, validUntil: until };
  };
}

/** `all` when wanted is true, `any` when it is false: the two are mirror images. */
function every(tests: readonly TimedPredicate[], subject: Subject, wanted: boolean): TimedResult {
  let whileAgreed = Infinity;
  let whileBroken = -Infinity;
  for (const test of tests) {
    const { matches: holds, validUntil: until } = test(subject);
    if (holds === wanted) whileAgreed = Math.min(whileAgreed, until);
    else whileBroken = Math.max(whileBroken, until);
    if (whileBroken === Infinity) break;
  }
  return whileBroken === -Infinity
    ? { matches: wanted, validUntil: whileAgreed }
    : { matches: !wanted, validUntil: whileBroken };
}
