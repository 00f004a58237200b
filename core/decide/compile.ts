import type { Condition } from '../rulebook/condition.ts';
import type { Leaf } from '../rulebook/leaf.ts';
import type { Rule, Rulebook } from '../rulebook/rulebook.ts';
import { ASPECTS, bitOf, isGathered, setOf, type Aspect, type AspectSet, type Gathered } from './aspects.ts';
import { Candidates } from './candidates.ts';
import { groupOf } from './group.ts';
import { allOf, anyOf, FAILS, noneOf, type Test } from './held.ts';
import { testOf } from './operators.ts';
import { preparePresent, type Present } from './present.ts';
import type { ShopFacts } from './subject.ts';
import { unfinished, type Unfinished } from './unfinished.ts';

/** A rulebook made ready to decide for one shop: every operator looked up, every text prepared, once. */
export interface CompiledRulebook {
  readonly shop: ShopFacts;
  /** All rules in their running order. */
  readonly rules: readonly CompiledRule[];
  readonly candidates: Candidates;
}

export interface CompiledRule {
  readonly rule: Rule;
  readonly lacks: readonly Unfinished[];
  /** Whether its conditions hold. */
  readonly test: Test;
  /** Whether it counts: its conditions hold, and its pre-order has not reached a cap that ends it. */
  readonly counts: Test;
  /** Every condition with its place in the rule (RFC 6901), for the trace. */
  readonly leaves: readonly { readonly pointer: string; readonly leaf: Leaf; readonly test: Test }[];
  readonly speaksTo: readonly Aspect[];
  /** The same, each with its bit, with how it gathers, and with whether nothing below has a say in it then. */
  readonly says: readonly {
    readonly aspect: Aspect;
    readonly bit: AspectSet;
    readonly gathers: Gathered | null;
    readonly settles: boolean;
  }[];
  readonly saysSet: AspectSet;
  /** Whether nothing below it counts, where it does itself. */
  readonly closes: boolean;
  readonly present: Present;
}

/** Prepares a rulebook. Pure: what comes out depends on the rulebook and the shop alone. */
export function compile(rulebook: Rulebook, shop: ShopFacts): CompiledRulebook {
  const rules = rulebook.rules.map((rule) => compileRule(rule, shop));
  const candidates = new Candidates(rules.map((compiled) => (takesPart(compiled) ? compiled.rule : null)));
  return { shop, rules, candidates };
}

function compileRule(rule: Rule, shop: ShopFacts): CompiledRule {
  const leaves: CompiledRule['leaves'][number][] = [];
  const testFor = (condition: Condition, pointer: string): Test => {
    const group = groupOf(condition);
    if (group) {
      const tests = group.members.map((member, index) => testFor(member, `${pointer}/${group.join}/${index}`));
      return JOINED[group.join](tests);
    }
    const leaf = condition as Leaf;
    const test = testOf(leaf, shop);
    leaves.push({ pointer, leaf, test });
    return test;
  };
  const test = testFor(rule.when, '/when');
  const present = preparePresent(rule.then, shop);
  const speaksTo = ASPECTS.filter((aspect) => rule.then[aspect] !== undefined);
  return {
    rule,
    lacks: unfinished(rule),
    test,
    counts: (subject) => (present.isAtCap?.(subject) ? FAILS : test(subject)),
    leaves,
    speaksTo,
    says: speaksTo.map((aspect) => ({
      aspect,
      bit: bitOf(aspect),
      gathers: isGathered(aspect) ? aspect : null,
      settles: !isGathered(aspect) || rule.gather === false,
    })),
    saysSet: setOf(speaksTo),
    closes: rule.stopHere === true,
    present,
  };
}

/** Whether a rule takes part at all. */
export const takesPart = ({ rule, lacks }: Pick<CompiledRule, 'rule' | 'lacks'>): boolean =>
  rule.on && lacks.length === 0;

const JOINED = { all: allOf, any: anyOf, none: noneOf } as const;
