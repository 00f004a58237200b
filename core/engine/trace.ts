import type { TraceEntry } from './decision.ts';
import { ASPECTS, setOf, type Aspect } from '../aspects/aspects.ts';
import { takesPart, type CompiledRule, type CompiledRulebook } from './compile.ts';
import { actualOf } from '../facts/facts.ts';
import type { Subject } from '../model/subject.ts';
import { decidedBy, winners } from './winners.ts';

/** Why: every rule in order with what became of it, and every condition with what was asked and what was so. */
export function trace(rulebook: CompiledRulebook, subject: Subject): TraceEntry[] {
  const won = winners(rulebook, subject, setOf(ASPECTS));
  const closer = rulebook.rules.find((rule) => takesPart(rule) && rule.closes && rule.counts(subject).matches);
  const open = closer ? rulebook.rules.indexOf(closer) : rulebook.rules.length;
  return rulebook.rules.map((compiled, index) => {
    const outcome = index > open && takesPart(compiled) ? 'closed' : outcomeOf(compiled, subject);
    const isWon = (aspect: Aspect) => decidedBy(won, compiled, aspect);
    return {
      ruleId: compiled.rule.id,
      outcome,
      decided: compiled.aspects.filter(isWon),
      lost: outcome === 'counts' ? compiled.aspects.filter((aspect) => !isWon(aspect)) : [],
      leaves: compiled.leaves.map(({ pointer, leaf, test }) => ({
        pointer,
        fact: leaf.fact,
        op: leaf.op,
        expected: leaf.value,
        actual: actualOf(leaf, subject, rulebook.shop),
        matched: test(subject).matches,
      })),
    };
  });
}

function outcomeOf(compiled: CompiledRule, subject: Subject): TraceEntry['outcome'] {
  if (!compiled.rule.on) return 'off';
  if (!takesPart(compiled)) return 'unfinished';
  if (compiled.counts(subject).matches) return 'counts';
  return compiled.test(subject).matches ? 'atCap' : 'fails';
}
