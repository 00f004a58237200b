import { possible } from '../engine/possible.ts';
import { everyRule, takesPart, type CompiledRulebook } from '../engine/compile.ts';
import { leavesOf } from '../rulebook/condition.ts';
import type { ShopFacts, VisitorFacts } from '../model/subject.ts';
import type { Condition } from '../rulebook/condition.ts';
import type { Rule } from '../rulebook/rulebook.ts';
import { ChangeGroups, type ChangeGroup } from './changeGroups.ts';
import type { RuleMatcher } from './ruleMatcher.ts';
import { contrastsOf, Impact } from './impact.ts';
import { NO_PRODUCT, NOBODY } from '../model/nobody.ts';
import { instantsOf, type Dates, type Horizon } from './instants.ts';

/** An instant (epoch ms) at which the clock alone changes what some audience sees. */
export interface ComingInstant {
  readonly at: number;
  /** Number of variants that change for anybody, on their page or on a listing. */
  readonly changed: number;
  readonly groups: readonly ChangeGroup[];
  /** The ids of rules that begin or end to count then, and so make a change; those they overrule are not named. */
  readonly opens: readonly string[];
  readonly closes: readonly string[];
}

const SURFACES = ['product', 'listing'] as const;

/** Every instant within the horizon at which the clock alone changes a decision; yields its progress. */
export function* comingInstants(
  counts: RuleMatcher,
  rulebook: CompiledRulebook,
  visitors: readonly VisitorFacts[],
  horizon: Horizon,
): Generator<number, ComingInstant[]> {
  const { shop } = rulebook;
  const written = everyRule(rulebook).map(({ rule }) => rule);
  const edges = [...instantsOf(written, shop.zone, counts.columns.dates, horizon), ...edgesOf(visitors, horizon)];
  const instants = [...new Set(edges)].sort((a, b) => a - b);
  const impacts = SURFACES.map((surface) => new Impact(counts, { visitors, surface, isTogether: false }));
  // Changes that repeat weekly are computed once.
  const known = new Map<string, Omit<ComingInstant, 'at'>>();
  const coming: ComingInstant[] = [];
  // Nothing changes between two instants, so the state before one equals that after the other.
  let stood = impacts.map((impact) => impact.at({ rulebook, moment: horizon.from }));
  for (const [place, at] of instants.entries()) {
    const [was, is] = [
      { rulebook, moment: at - 1 },
      { rulebook, moment: at },
    ];
    const states = impacts.map((impact) => impact.at(is));
    const contrasts = states.map((after, index) => contrastsOf(stood[index]!, after));
    stood = states;
    const key = contrasts.map((diffs) => diffs.map((contrast) => contrast.key).join(';')).join('|');
    let turn = known.get(key);
    if (!turn) {
      const groups = new ChangeGroups(counts.columns);
      const [opens, closes] = [new Set<string>(), new Set<string>()];
      for (const [index, impact] of impacts.entries()) {
        const steps = impact.compare(was, is, {
          contrasts: contrasts[index]!,
          groups,
          moment: place,
          seen: new Set(),
          found: (contrast, ...where) => {
            const turned = contrast.changedRulesAt(...where);
            for (const rule of turned.opens) opens.add(rule);
            for (const rule of turned.closes) closes.add(rule);
          },
        });
        for (const part of steps) yield (place + (index + part) / impacts.length) / instants.length;
      }
      turn = { changed: groups.changed, groups: groups.all(), opens: [...opens], closes: [...closes] };
      known.set(key, turn);
    }
    if (turn.changed > 0) coming.push({ at, ...turn });
    yield (place + 1) / instants.length;
  }
  return coming;
}

/** Starts and ends of visitors' memberships. */
const edgesOf = (visitors: readonly VisitorFacts[], { from, until }: Horizon): number[] =>
  visitors
    .flatMap(({ roles, invitations }) => [
      ...roles.flatMap((role) => [role.from, role.until]),
      ...invitations.map((invitation) => invitation.until),
    ])
    .filter((at) => at !== null)
    .filter((at) => at > from && at < until);

/** When a rule may count as far as time has a say: for any goods of the shop, and any visitor. */
export function barsOf(rule: Rule, shop: ShopFacts, dates: Dates, horizon: Horizon): Horizon[] {
  if (!takesPart({ rule, missing: [] }) || horizon.from >= horizon.until) return [];
  const timed = leavesOf(rule.when).filter((leaf) => leaf.fact === 'moment');
  if (timed.length === 0) return [horizon];
  const edges = [horizon.from, ...instantsOf([rule], shop.zone, dates, horizon), horizon.until];
  const names = [...new Set(timed.flatMap((leaf) => (leaf.op === 'around' ? [leaf.value.date] : [])))];
  const goods = combinations(names, dates);
  const test = possibleAt(rule.when, shop);
  const bars: { from: number; until: number }[] = [];
  edges.slice(0, -1).forEach((from, index) => {
    if (!goods.some((productDates) => test(from, productDates))) return;
    const until = edges[index + 1] ?? horizon.until;
    const last = bars.at(-1);
    if (last?.until === from) last.until = until;
    else bars.push({ from, until });
  });
  return bars;
}

type ProductDates = Readonly<Record<string, string>>;

/** Goods that differ in the dates a rule looks at: each date there is of each name, or none. */
const combinations = (names: readonly string[], dates: Dates): ProductDates[] =>
  names.reduce<ProductDates[]>(
    (all, name) =>
      all.flatMap((chosen) => [chosen, ...[...(dates.get(name) ?? [])].map((date) => ({ ...chosen, [name]: date }))]),
    [{}],
  );

/** Whether a condition may hold at a moment, ignoring other facts. */
function possibleAt(when: Condition, shop: ShopFacts): (moment: number, dates: ProductDates) => boolean {
  const mayMatch = possible(when, shop, ({ fact }) => fact === 'moment' || fact === 'product');
  return (moment, dates) => mayMatch({ ...NOBODY, product: { ...NO_PRODUCT, dates }, moment });
}
