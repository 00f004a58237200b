import type { Rule } from './rulebook.ts';
import { factOf } from '../facts/facts.ts';
import { hasEmptyGroup, leavesOf } from './condition.ts';

/** Why a rule cannot count yet. */
export const UNFINISHED = ['noGoods', 'emptyGroup', 'emptyThen'] as const;
export type Unfinished = (typeof UNFINISHED)[number];

/**
 * What a rule still lacks. "Everything" is only ever meant on purpose: a rule that names no goods, has an empty group or
 * says nothing is unfinished. It never counts and cannot be published.
 */
export function unfinished({ when, then }: Pick<Rule, 'when' | 'then'>): Unfinished[] {
  const found: Unfinished[] = [];
  if (!leavesOf(when).some((leaf) => factOf(leaf).about === 'goods')) found.push('noGoods');
  if (hasEmptyGroup(when)) found.push('emptyGroup');
  if (Object.values(then).every((outcome) => outcome === undefined)) found.push('emptyThen');
  return found;
}
