import type { Subject } from './subject.ts';

/**
 * Whether a condition holds, and until when that answer stands if only the clock moves: an instant in epoch ms,
 * Infinity when time alone never changes it. `until` may come early, never late.
 */
export interface Held {
  readonly holds: boolean;
  readonly until: number;
}

/** A condition made ready to ask. */
export type Test = (subject: Subject) => Held;

export const HOLDS: Held = { holds: true, until: Infinity };
export const FAILS: Held = { holds: false, until: Infinity };

/** A test that the clock has no part in. */
export function timeless(test: (subject: Subject) => boolean): Test {
  return (subject) => (test(subject) ? HOLDS : FAILS);
}

/** All of them: one that fails keeps it false for as long as it fails. */
export function allOf(tests: readonly Test[]): Test {
  return (subject) => every(tests, subject, true);
}

/** Any of them: one that holds keeps it true for as long as it holds. */
export function anyOf(tests: readonly Test[]): Test {
  return (subject) => every(tests, subject, false);
}

/** None of them. */
export function noneOf(tests: readonly Test[]): Test {
  return (subject) => {
    const { holds, until } = every(tests, subject, false);
    return { holds: !holds, until };
  };
}

/** `all` when wanted is true, `any` when it is false: the two are mirror images. */
function every(tests: readonly Test[], subject: Subject, wanted: boolean): Held {
  let whileAgreed = Infinity;
  let whileBroken = -Infinity;
  for (const test of tests) {
    const { holds, until } = test(subject);
    if (holds === wanted) whileAgreed = Math.min(whileAgreed, until);
    else whileBroken = Math.max(whileBroken, until);
    if (whileBroken === Infinity) break;
  }
  return whileBroken === -Infinity ? { holds: wanted, until: whileAgreed } : { holds: !wanted, until: whileBroken };
}
