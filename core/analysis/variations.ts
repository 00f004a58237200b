import type { BatchResolver } from './batchResolver.ts';
import { RuleSetDiff } from './ruleSetDiff.ts';

/** One of several ways to look at the same rows, and how it differs from the one before it that is most like it. */
interface Variation<T> {
  readonly look: T;
  /** Null for the first of its sort. */
  readonly differs: readonly RuleSetDiff[] | null;
}

/** Finds differences between views, each against an earlier one. @param sort only views of one sort are compared @param sidesOf the same number for all of one sort */
export function variationsOf<T>(
  looks: readonly T[],
  sort: (look: T) => string,
  sidesOf: (look: T) => readonly BatchResolver[],
): Variation<T>[] {
  return looks.map((look, index) => {
    const sides = sidesOf(look);
    const candidates = looks
      .slice(0, index)
      .filter((other) => sort(other) === sort(look))
      .map((other) => sidesOf(other).map((side, place) => new RuleSetDiff(side.list, sides[place]!.list)));
    const sizeOf = (diffs: readonly RuleSetDiff[]) => diffs.reduce((sum, { size }) => sum + size, 0);
    const [differs = null] = candidates.sort((a, b) => sizeOf(a) - sizeOf(b));
    return { look, differs };
  });
}

/** The rows of a word at which somebody before has not seen the same already. */
export const newRows = (differs: readonly RuleSetDiff[] | null, word: number, rows: number): number =>
  differs === null ? rows : rows & differs.reduce((touched, diff) => touched | diff.touchedIn(word), 0);
