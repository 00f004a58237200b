import type { Condition } from './condition.ts';
import type { Leaf } from '../facts/facts.ts';

/** The words that join a group's members. */
export type Join = 'all' | 'any' | 'none';

/** The joining word of a group and its members; null for a leaf. */
export function groupOf(condition: Condition): { join: Join; members: readonly Condition[] } | null {
  if ('all' in condition) return { join: 'all', members: condition.all };
  if ('any' in condition) return { join: 'any', members: condition.any };
  if ('none' in condition) return { join: 'none', members: condition.none };
  return null;
}

/** Every leaf of a condition, in reading order. */
export function leavesOf(condition: Condition): Leaf[] {
  const group = groupOf(condition);
  return group ? group.members.flatMap(leavesOf) : [condition as Leaf];
}
