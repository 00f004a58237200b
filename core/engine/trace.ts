import type { TraceEntry } from './decision.ts';
import { ASPECTS, setOf, type Aspect } from '../aspects/aspects.ts';
import { rulesAbout, takesPart, type CompiledRule, type CompiledRulebook } from './compile.ts';
import { actualOf } from '../facts/facts.ts';
import type { Subject } from '../model/subject.ts';
import { decidedBy, winners } from './winners.ts';

/** Trace of a decision: every rule in order with its result, and every condition with its expected and actual value. */
export function trace(rulebook: CompiledRulebook, subject: Subject): TraceEntry[] {
  const won = winners(rulebook, subject, setOf(ASPECTS));
  const rules = rulesAbout(rulebook, subject.product);
  // A seller closes their own list alone, and an owner's rule above closes it too.
  const own = rulebook.sellers?.of(subject.product)?.rules ?? [];
  const isClosed = closedBelow(rulebook.rules, subject);
  const isClosedOfOwn = closedBelow(own, subject);
  const isSellersClosed = rulebook.rules.slice(0, rulebook.sellers?.place).some(isCloser(subject));
  return rules.map((compiled) => {
    const closed = own.includes(compiled) ? isSellersClosed || isClosedOfOwn(compiled) : isClosed(compiled);
    const outcome = closed && takesPart(compiled) ? 'closed' : outcomeOf(compiled, subject);
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

const isCloser =
  (subject: Subject) =>
  (rule: CompiledRule): boolean =>
    takesPart(rule) && rule.closes && rule.counts(subject).matches;

/** Tells which rules of a list stand below one that counts and says that nothing below it does. */
function closedBelow(list: readonly CompiledRule[], subject: Subject): (rule: CompiledRule) => boolean {
  const closer = list.findIndex(isCloser(subject));
  const closed = new Set(closer < 0 ? [] : list.slice(closer + 1));
  return (rule) => closed.has(rule);
}

function outcomeOf(compiled: CompiledRule, subject: Subject): TraceEntry['outcome'] {
  if (!compiled.rule.on) return 'off';
  if (!takesPart(compiled)) return 'unfinished';
  if (compiled.counts(subject).matches) return 'counts';
  return compiled.test(subject).matches ? 'atCap' : 'fails';
}
