import { z } from 'zod';
import type { Join } from '../model/join.ts';
import { factOf, Leaf } from '../facts/facts.ts';

/** Condition of a rule: a leaf, or a group joined by all, any or none. */
export type Condition = Leaf | { all: Condition[] } | { any: Condition[] } | { none: Condition[] };

export const Condition: z.ZodType<Condition> = z
  .lazy(() => {
    const members = z.array(Condition);
    return z.union([
      z.strictObject({ all: members }),
      z.strictObject({ any: members }),
      z.strictObject({ none: members }),
      Leaf,
    ]);
  })
  .meta({ id: 'Condition' });

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

export const MAX_DEPTH = 8;
export const MAX_LEAVES = 200;

/** Levels of groups, and leaves, of a condition. */
export function measure(condition: Condition): { depth: number; leaves: number } {
  const group = groupOf(condition);
  if (!group) return { depth: 0, leaves: 1 };
  const inner = group.members.map(measure);
  return {
    depth: 1 + Math.max(0, ...inner.map(({ depth }) => depth)),
    leaves: inner.reduce((sum, { leaves }) => sum + leaves, 0),
  };
}

/** Whether a group in it has no condition. */
export function hasEmptyGroup(condition: Condition): boolean {
  const members = groupOf(condition)?.members;
  return members !== undefined && (members.length === 0 || members.some(hasEmptyGroup));
}

/** Whether it asks about goods alone, so that it can be asked of a catalog without anybody who looks. */
export const isAboutProducts = (condition: Condition): boolean =>
  leavesOf(condition).every((leaf) => factOf(leaf).about === 'products' || factOf(leaf).dependsOn(leaf) === 'products');
