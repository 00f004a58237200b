import type { TraceEntry } from '../contract/decision.ts';
import type { SpokenAspect } from './aspects.ts';
import type { CompiledRule, CompiledRulebook } from './compile.ts';
import { actualOf } from './operators.ts';
import type { Subject } from './subject.ts';
import { closes, takesPart, winners } from './winners.ts';

/** Why: every rule in order with what became of it, and every condition with what was asked and what was so. */
export function trace(rulebook: CompiledRulebook, subject: Subject): TraceEntry[] {
  const { by } = winners(rulebook, subject);
  const closer = rulebook.rules.find((rule) => takesPart(rule) && closes(rule) && rule.test(subject).holds);
  const open = closer ? rulebook.rules.indexOf(closer) : rulebook.rules.length;
  return rulebook.rules.map((compiled, index) => {
    const outcome = index > open && takesPart(compiled) ? 'closed' : outcomeOf(compiled, subject);
    const won = (aspect: SpokenAspect) => by[aspect] === compiled;
    return {
      ruleId: compiled.rule.id,
      outcome,
      decided: compiled.speaksTo.filter(won),
      lost: outcome === 'counts' ? compiled.speaksTo.filter((aspect) => !won(aspect)) : [],
      leaves: compiled.leaves.map(({ pointer, leaf, test }) => ({
        pointer,
        fact: leaf.fact,
        op: leaf.op,
        asked: leaf.value,
        actual: actualOf(leaf, subject, rulebook.shop),
        held: test(subject).holds,
      })),
    };
  });
}

function outcomeOf(compiled: CompiledRule, subject: Subject): TraceEntry['outcome'] {
  if (!compiled.rule.on) return 'off';
  if (!takesPart(compiled)) return 'unfinished';
  return compiled.test(subject).holds ? 'counts' : 'fails';
}
