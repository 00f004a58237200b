import { isSellers, rulesIn } from '../rulebook/entries.ts';
import type { Condition } from '../rulebook/condition.ts';
import type { Leaf } from '../facts/facts.ts';
import type { Rule, Rulebook } from '../rulebook/rulebook.ts';
import { asAllowed, type SellerRules } from '../rulebook/sellers.ts';
import { sameName } from '../model/names.ts';
import { aspectOf, ASPECTS, setOf, type Aspect, type AspectSet, type Prepared } from '../aspects/aspects.ts';
import type { Outcome } from '../aspects/outcome.ts';
import { CandidateIndex } from './candidateIndex.ts';
import { claimsOf, type Claim } from './claims.ts';
import { KnownFacts } from './readings.ts';
import { groupOf, leavesOf } from '../rulebook/condition.ts';
import { allOf, anyOf, NEVER, noneOf, type TimedPredicate } from '../model/timedResult.ts';
import { factOf, testOf } from '../facts/facts.ts';
import type { ProductFacts, ShopFacts } from '../model/subject.ts';
import { unfinished, type Unfinished } from '../rulebook/unfinished.ts';

/** A rule's outcome, prepared for the subjects it wins for. */
export type PreparedOutcome = { readonly [A in Aspect]: Prepared<A> | undefined };

/** Rules in running order, with the index of candidates. */
export interface CompiledList {
  readonly rules: readonly CompiledRule[];
  readonly candidates: CandidateIndex;
}

/** A rulebook compiled for one shop: operators looked up and texts prepared, once. */
export interface CompiledRulebook extends CompiledList {
  readonly shop: ShopFacts;
  /** Ids of all entries, in running order. */
  readonly order: readonly string[];
  /** The owner's rules, without those of sellers. */
  readonly rules: readonly CompiledRule[];
  /** Sellers' rules; null if the rulebook does not read them. */
  readonly sellers: CompiledSellers | null;
  /** Cached readings of products, variants and visitors. */
  readonly known: KnownFacts<CompiledList>;
  /** Whether a rule can treat one customer differently from others with the same roles and status. */
  readonly distinguishesCustomers: boolean;
}

export interface CompiledSellers {
  /** Number of the owner's rules that outrank them. */
  readonly place: number;
  /** The rules of the seller whose product it is; null where they have none. */
  of(product: ProductFacts | null): CompiledList | null;
  /** All sellers who have rules. */
  all(): readonly { readonly names: readonly string[]; readonly list: CompiledList }[];
}

export interface CompiledRule {
  /** The rule as it is applied: a seller's rule is reduced to its allowance. */
  readonly rule: Rule;
  readonly missing: readonly Unfinished[];
  /** Whether its conditions hold. */
  readonly test: TimedPredicate;
  /** Whether it counts: its conditions hold, and its pre-order has not reached a cap that ends it. */
  readonly counts: TimedPredicate;
  /** Every condition with its place in the rule (RFC 6901), for the trace. */
  readonly leaves: readonly { readonly pointer: string; readonly leaf: Leaf; readonly test: TimedPredicate }[];
  readonly aspects: readonly Aspect[];
  readonly claims: readonly Claim[];
  readonly aspectSet: AspectSet;
  /** Whether nothing below it counts, where it does itself. */
  readonly closes: boolean;
  /** Its outcome for each aspect, prepared. */
  readonly prepared: PreparedOutcome;
}

/**
 * Compiles a rulebook. Pure: the same input gives the same result.
 * @param sellers with their rules, used if the rulebook has an entry for them
 */
export function compile(rulebook: Rulebook, shop: ShopFacts, sellers: readonly SellerRules[] = []): CompiledRulebook {
  const list = compileList(rulesIn(rulebook), shop);
  const place = rulebook.rules.findIndex((entry) => isSellers(entry) && entry.on);
  const read = place < 0 ? [] : sellers.filter(({ rules }) => rules.length > 0);
  const asked = [...list.rules.map(({ rule }) => rule), ...read.flatMap(({ rules }) => rules)];
  const compiled = read.length === 0 ? null : compileSellers(read, place, shop);
  return {
    shop,
    order: rulebook.rules.map(({ id }) => id),
    ...list,
    sellers: compiled,
    known: new KnownFacts(list.candidates, (product) => compiled?.of(product) ?? null),
    distinguishesCustomers: asked.some(({ when }) =>
      leavesOf(when).some((leaf) => factOf(leaf).distinguishesCustomers),
    ),
  };
}

function compileList(rules: readonly Rule[], shop: ShopFacts): CompiledList {
  const compiled = rules.map((rule) => compileRule(rule, shop));
  return {
    rules: compiled,
    candidates: new CandidateIndex(compiled.map((one) => (takesPart(one) ? one.rule : null))),
  };
}

/** Prepares a seller's rules when one of their products is first needed. */
function compileSellers(sellers: readonly SellerRules[], place: number, shop: ShopFacts): CompiledSellers {
  const made = new Map<SellerRules, CompiledList>();
  const listOf = (seller: SellerRules): CompiledList => {
    const known = made.get(seller);
    if (known) return known;
    const rules = seller.rules.map((rule) => asAllowed(rule, seller));
    const list = compileList(rules, shop);
    made.set(seller, list);
    return list;
  };
  // The first seller keeps a name that two share.
  const byName = new Map<string, SellerRules>();
  for (const seller of sellers.toReversed()) for (const name of seller.names) byName.set(sameName(name), seller);
  return {
    place,
    of: (product) => {
      const seller = product?.seller == null ? undefined : byName.get(sameName(product.seller));
      return seller ? listOf(seller) : null;
    },
    all: () => sellers.map((seller) => ({ names: seller.names, list: listOf(seller) })),
  };
}

/** All rules: the owner's and every seller's. */
export const everyRule = ({ rules, sellers }: CompiledRulebook): CompiledRule[] => [
  ...rules,
  ...(sellers?.all() ?? []).flatMap(({ list }) => list.rules),
];

/** Every rule that takes part in what is decided about a product, from the top. */
export const rulesAbout = (
  { rules, sellers }: CompiledRulebook,
  product: ProductFacts | null,
): readonly CompiledRule[] =>
  sellers ? rules.toSpliced(sellers.place, 0, ...(sellers.of(product)?.rules ?? [])) : rules;

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
    claims: claimsOf(rule.then, { endsGathering: rule.gather === false }),
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
