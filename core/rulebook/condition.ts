import { z } from 'zod';
import { groupOf } from './group.ts';
import { Leaf } from '../facts/facts.ts';

/** What a rule asks: a leaf, or a group of conditions joined by all, any or none. */
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
