import { controlOf } from '../controls/controls.ts';
import type { CompiledRule } from '../engine/compile.ts';
import { leavesOf } from '../rulebook/condition.ts';
import { type Entry, type Rule } from '../rulebook/rulebook.ts';
import type { FindingKind, QuickFix } from './finding.ts';

export const moveAbove = ({ rule }: CompiledRule): QuickFix => ({ kind: 'moveAbove', rule: rule.id });

export const switchOff = (rule: Rule): QuickFix => ({ kind: 'switchOff', becomes: { ...rule, on: false } });

/** Finds a change that resolves a finding about products; null if only the owner can decide. */
export const quickFixOf = (kind: FindingKind, { rule }: CompiledRule): QuickFix | null => FIXES[kind]?.(rule) ?? null;

function askForPrice(rule: Rule): QuickFix | null {
  const { control } = rule.then;
  if (control && !controlOf(control).isShopButton) return null;
  return { kind: 'askForPrice', becomes: { ...rule, then: { ...rule.then, control: { kind: 'quote' } } } };
}

function countEverywhere(rule: Rule): QuickFix | null {
  const without = leavesOf(rule.when).some(({ fact }) => fact === 'surface') ? withoutSurface(rule) : null;
  return without && { kind: 'allPlaces', becomes: without };
}

const FIXES: Readonly<Partial<Record<FindingKind, (rule: Rule) => QuickFix | null>>> = {
  hiddenPriceSold: askForPrice,
  priceShownElsewhere: countEverywhere,
  guardLetsThrough: countEverywhere,
  guardRefuses: countEverywhere,
};

/** The rule without its conditions about places, where they only join; null where they do more. */
function withoutSurface(rule: Rule): Rule | null {
  if (!('all' in rule.when)) return null;
  const all = rule.when.all.filter((part) => !('fact' in part && part.fact === 'surface'));
  const isGone = all.every((part) => leavesOf(part).every(({ fact }) => fact !== 'surface'));
  return isGone && all.length > 0 ? { ...rule, when: { all } } : null;
}

/** The rules after a fix of a finding about one of them; as they are where the rules that it names are gone. */
export function withQuickFix<E extends Entry>(rules: readonly E[], ruleId: string, fix: QuickFix): (E | Rule)[] {
  if ('becomes' in fix) return rules.map((rule) => (rule.id === ruleId ? fix.becomes : rule));
  const moved = rules.find(({ id }) => id === ruleId);
  const others = rules.filter(({ id }) => id !== ruleId);
  const place = others.findIndex(({ id }) => id === fix.rule);
  return moved && place >= 0 ? others.toSpliced(place, 0, moved) : [...rules];
}
