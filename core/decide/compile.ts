import type { Condition } from '../rulebook/condition.ts';
import type { Leaf } from '../rulebook/leaf.ts';
import type { Rule, Rulebook } from '../rulebook/rulebook.ts';
import { SPOKEN_ASPECTS, type SpokenAspect } from './aspects.ts';
import { groupOf } from './group.ts';
import { allOf, anyOf, noneOf, type Test } from './held.ts';
import { testOf } from './operators.ts';
import { preparePresent, type Present } from './present.ts';
import type { ShopFacts } from './subject.ts';
import { unfinished, type Unfinished } from './unfinished.ts';

/** A rulebook made ready to decide for one shop: every operator looked up, every text prepared, once. */
export interface CompiledRulebook {
  readonly shop: ShopFacts;
  /** All rules in their running order. */
  readonly rules: readonly CompiledRule[];
}

export interface CompiledRule {
  readonly rule: Rule;
  readonly lacks: readonly Unfinished[];
  readonly test: Test;
  /** Every condition with its place in the rule (RFC 6901), for the trace. */
  readonly leaves: readonly { readonly pointer: string; readonly leaf: Leaf; readonly test: Test }[];
  readonly speaksTo: readonly SpokenAspect[];
  readonly present: Present;
}

/** Prepares a rulebook. Pure: what comes out depends on the rulebook and the shop alone. */
export function compile(rulebook: Rulebook, shop: ShopFacts): CompiledRulebook {
  return { shop, rules: rulebook.rules.map((rule) => compileRule(rule, shop)) };
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
  return {
    rule,
    lacks: unfinished(rule),
    test,
    leaves,
    speaksTo: SPOKEN_ASPECTS.filter((aspect) => rule.then[aspect] !== undefined),
    present: preparePresent(rule.then, shop),
  };
}

const JOINED = { all: allOf, any: anyOf, none: noneOf } as const;
