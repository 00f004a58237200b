import { isSellers } from './entries.ts';
import { controlOf } from '../controls/controls.ts';
import { factOf } from '../facts/facts.ts';
import { leavesOf } from './condition.ts';
import type { Rule, Rulebook } from './rulebook.ts';

/**
 * Whether a rule is a closure: it takes goods off sale, for a time, for some people or altogether, and does not just answer
 * to what is in stock.
 */
export function isClosure({ when, then }: Pick<Rule, 'when' | 'then'>): boolean {
  const { control, cart, checkout, visibility } = then;
  const isWithheld =
    control !== undefined && controlOf(control).isClosure === true && !('beside' in control && control.beside);
  const isShut = cart?.open === false || checkout?.open === false || visibility?.state === 'blocked';
  return (isWithheld || isShut) && leavesOf(when).every((leaf) => !factOf(leaf).isSupply);
}

/** Index of a new rule: closures go on top, others below them. */
export function placeForNew({ rules }: Rulebook, rule: Pick<Rule, 'when' | 'then'>): number {
  if (isClosure(rule)) return 0;
  const first = rules.findIndex((other) => isSellers(other) || !isClosure(other));
  return first < 0 ? rules.length : first;
}
