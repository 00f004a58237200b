import type { Rulebook } from '#core/rulebook/rulebook.ts';

const revisions = new WeakMap<Rulebook, number>();
let newest = 0;

/** A number for a rulebook as it is in memory, the same whenever it is met again: query keys hold it in the document's place. */
export function revisionOf(rulebook: Rulebook): number {
  const known = revisions.get(rulebook);
  if (known !== undefined) return known;
  newest += 1;
  revisions.set(rulebook, newest);
  return newest;
}
