import type { CompiledRule } from '../engine/compile.ts';
import { leavesOf } from '../rulebook/condition.ts';
import type { FindingKind, QuickFix } from './finding.ts';
import { ruleTitle } from './ruleFindings.ts';

export const moveAbove = ({ rule }: CompiledRule): QuickFix => ({
  label: `Move it above ${ruleTitle(rule)}`,
  moveAbove: rule.id,
});

/** What mends a finding about goods; null where only the owner can say. */
export function quickFixOf(kind: FindingKind, { rule }: CompiledRule): QuickFix | null {
  if (kind === 'hiddenPriceSold' && (rule.then.control?.kind ?? 'buy') === 'buy')
    return {
      label: 'Ask for the price instead',
      becomes: { ...rule, then: { ...rule.then, control: { kind: 'quote' } } },
    };
  const without = leavesOf(rule.when).some(({ fact }) => fact === 'surface') ? withoutSurface(rule) : null;
  if ((kind === 'priceShownElsewhere' || kind.startsWith('guard')) && without)
    return { label: 'Make it count in all places', becomes: without };
  return null;
}

/** The rule without its conditions about places, where they only join; null where they do more. */
function withoutSurface(rule: CompiledRule['rule']): CompiledRule['rule'] | null {
  if (!('all' in rule.when)) return null;
  const all = rule.when.all.filter((part) => !('fact' in part && part.fact === 'surface'));
  const isGone = all.every((part) => leavesOf(part).every(({ fact }) => fact !== 'surface'));
  return isGone && all.length > 0 ? { ...rule, when: { all } } : null;
}
