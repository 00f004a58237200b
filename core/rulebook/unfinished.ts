import type { Rule } from './rulebook.ts';
import { factOf } from '../facts/facts.ts';
import { hasEmptyGroup, leavesOf } from './condition.ts';

/** Why a rule cannot count yet. */
export const UNFINISHED = ['noGoods', 'emptyGroup', 'emptyThen'] as const;
export type Unfinished = (typeof UNFINISHED)[number];

/**
 * Finds the parts that a rule still lacks. A rule that names no products, has an empty group or no outcome is unfinished:
 * it never matches and cannot be published. All products must be chosen explicitly.
 */
export function unfinished({ when, then }: Pick<Rule, 'when' | 'then'>): Unfinished[] {
  const found: Unfinished[] = [];
  if (!leavesOf(when).some((leaf) => factOf(leaf).about === 'products')) found.push('noGoods');
  if (hasEmptyGroup(when)) found.push('emptyGroup');
  if (Object.values(then).every((outcome) => outcome === undefined)) found.push('emptyThen');
  return found;
}
