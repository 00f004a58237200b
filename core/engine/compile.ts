import type { Condition } from '../rulebook/condition.ts';
import type { Leaf } from '../facts/facts.ts';
import type { Rule, Rulebook } from '../rulebook/rulebook.ts';
import {
  aspectOf,
  ASPECTS,
  bitOf,
  isGathered,
  setOf,
  type Aspect,
  type AspectSet,
  type Gathered,
  type Prepared,
} from '../aspects/aspects.ts';
import type { Outcome } from '../aspects/outcome.ts';
import { CandidateIndex } from './candidateIndex.ts';
import { groupOf } from '../rulebook/condition.ts';
import { allOf, anyOf, NEVER, noneOf, type TimedPredicate } from '../model/timedResult.ts';
import { factOf, testOf } from '../facts/facts.ts';
import type { ShopFacts } from '../model/subject.ts';
import { unfinished, type Unfinished } from '../rulebook/unfinished.ts';

/** What a rule's outcome says to a subject, should it win. */
export type PreparedOutcome = { readonly [A in Aspect]: Prepared<A> | undefined };

/** A rulebook made ready to decide for one shop: every operator looked up, every text prepared, once. */
export interface CompiledRulebook {
  readonly shop: ShopFacts;
  /** All rules in their running order. */
  readonly rules: readonly CompiledRule[];
  readonly candidates: CandidateIndex;
  /** Whether a rule may say something else to one visitor than to all others who are like them. */
  readonly tellsVisitorsApart: boolean;
}

export interface CompiledRule {
  readonly rule: Rule;
  readonly missing: readonly Unfinished[];
  /** Whether its conditions hold. */
  readonly test: TimedPredicate;
  /** Whether it counts: its conditions hold, and its pre-order has not reached a cap that ends it. */
  readonly counts: TimedPredicate;
  /** Every condition with its place in the rule (RFC 6901), for the trace. */
  readonly leaves: readonly { readonly pointer: string; readonly leaf: Leaf; readonly test: TimedPredicate }[];
  readonly aspects: readonly Aspect[];
  /** The same, each with its bit, with how it gathers, and with whether nothing below has a say in it then. */
  readonly outcomes: readonly {
    readonly aspect: Aspect;
    readonly bit: AspectSet;
    readonly gathers: Gathered | null;
    readonly settles: boolean;
  }[];
  readonly aspectSet: AspectSet;
  /** Whether nothing below it counts, where it does itself. */
  readonly closes: boolean;
  /** What it says of each aspect, made ready. */
  readonly prepared: PreparedOutcome;
}

/** Prepares a rulebook. Pure: what comes out depends on the rulebook and the shop alone. */
export function compile(rulebook: Rulebook, shop: ShopFacts): CompiledRulebook {
  const rules = rulebook.rules.map((rule) => compileRule(rule, shop));
  const candidates = new CandidateIndex(rules.map((compiled) => (takesPart(compiled) ? compiled.rule : null)));
  const tellsVisitorsApart = rules.some(({ leaves }) => leaves.some(({ leaf }) => factOf(leaf).tellsVisitorsApart));
  return { shop, rules, candidates, tellsVisitorsApart };
}

function compileRule(rule: Rule, shop: ShopFacts): CompiledRule {
  const leaves: CompiledRule['leaves'][number][] = [];
  const testFor = (condition: Condition, pointer: string): TimedPredicate => {
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
  const prepared = prepareOutcome(rule.then, shop);
  const aspects = ASPECTS.filter((aspect) => rule.then[aspect] !== undefined);
  return {
    rule,
    missing: unfinished(rule),
    test,
    counts: (subject) => (prepared.control?.isAtCap?.(subject) ? NEVER : test(subject)),
    leaves,
    aspects,
    outcomes: aspects.map((aspect) => ({
      aspect,
      bit: bitOf(aspect),
      gathers: isGathered(aspect) ? aspect : null,
      settles: !isGathered(aspect) || rule.gather === false,
    })),
    aspectSet: setOf(aspects),
    closes: rule.stopHere === true,
    prepared,
  };
}

/** Prepares the words of a rule's outcome. All aspects are named, so that all outcomes have one shape and are quick to read. */
function prepareOutcome(then: Outcome, shop: ShopFacts): PreparedOutcome {
  const prepared: Partial<Record<Aspect, unknown>> = {};
  for (const aspect of ASPECTS) {
    const value = then[aspect];
    prepared[aspect] = value === undefined ? undefined : aspectOf(aspect).prepare(value as never, shop as never);
  }
  return prepared as PreparedOutcome;
}

/** Whether a rule takes part at all. */
export const takesPart = ({ rule, missing }: Pick<CompiledRule, 'rule' | 'missing'>): boolean =>
  rule.on && missing.length === 0;

const JOINED = { all: allOf, any: anyOf, none: noneOf } as const;
