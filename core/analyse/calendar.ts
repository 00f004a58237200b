import type { Decision } from '../contract/decision.ts';
import { GOODS_ASPECTS, setOf, type GoodsAspect } from '../decide/aspects.ts';
import { takesPart, type CompiledRulebook } from '../decide/compile.ts';
import { decide } from '../decide/decide.ts';
import { groupOf, leavesOf } from '../decide/group.ts';
import { testOf } from '../decide/operators.ts';
import type { GoodsSubject, ProductFacts, ShopFacts, Subject, VariantFacts, VisitorFacts } from '../decide/subject.ts';
import { winners } from '../decide/winners.ts';
import type { Condition } from '../rulebook/condition.ts';
import type { Leaf } from '../rulebook/leaf.ts';
import type { Rule } from '../rulebook/rulebook.ts';
import { aspectsBetween, type Change } from './impact.ts';
import { instantsOf, type Dates, type Horizon } from './instants.ts';

/** A change that the clock alone makes, at that instant (epoch ms). */
export interface ComingChange extends Change {
  readonly variant: VariantFacts;
  readonly at: number;
  /** The ids of rules that begin or end to count then, and so make the change; those they overrule are not named. */
  readonly opens: readonly string[];
  readonly closes: readonly string[];
}

const ALL = setOf(GOODS_ASPECTS);

/**
 * Every change that the clock alone makes within the horizon, for these visitors on one surface: each decision is asked
 * until when it stands, and made again then.
 */
export function* comingChanges(
  rulebook: CompiledRulebook,
  { visitors, surface }: { readonly visitors: readonly VisitorFacts[]; readonly surface: 'product' | 'listing' },
  { from, until }: Horizon,
  products: Iterable<ProductFacts>,
): Generator<ComingChange> {
  for (const product of products) {
    for (const variant of product.variants) {
      for (const [visitor, facts] of visitors.entries()) {
        const at = (moment: number) => ({ product, variant, visitor: facts, moment, surface, page: null });
        let before: Decision | null = null;
        for (let moment = from; ;) {
          const { until: next } = winners(rulebook, at(moment), ALL);
          if (next >= until) break;
          before ??= decide(rulebook, at(moment));
          const after: Decision = decide(rulebook, at(next));
          const aspects: GoodsAspect[] = aspectsBetween(before, after);
          if (aspects.length > 0) {
            const turned = turnedBetween(rulebook, before, after, at(moment), at(next));
            yield { product, variant, visitor, at: next, before, after, aspects, ...turned };
          }
          before = after;
          moment = next;
        }
      }
    }
  }
}

/** Of the rules that decided before or decide after, those that count at one of the two moments only. */
function turnedBetween(
  { rules }: CompiledRulebook,
  before: Decision,
  after: Decision,
  earlier: GoodsSubject,
  later: GoodsSubject,
): Pick<ComingChange, 'opens' | 'closes'> {
  const named = new Set([before, after].flatMap(({ reasons }) => Object.values(reasons).flat()));
  const concerned = rules.filter(({ rule }) => named.has(rule.id));
  const turned = (from: GoodsSubject, to: GoodsSubject) =>
    concerned.filter((rule) => !rule.counts(from).holds && rule.counts(to).holds).map(({ rule }) => rule.id);
  return { opens: turned(earlier, later), closes: turned(later, earlier) };
}

/** When a rule may count as far as time has a say: for any goods of the shop, and any visitor. */
export function barsOf(rule: Rule, shop: ShopFacts, dates: Dates, horizon: Horizon): Horizon[] {
  if (!takesPart({ rule, lacks: [] }) || horizon.from >= horizon.until) return [];
  const timed = leavesOf(rule.when).filter((leaf) => leaf.fact === 'moment');
  if (timed.length === 0) return [horizon];
  const edges = [horizon.from, ...instantsOf([rule], shop.zone, dates, horizon), horizon.until];
  const names = [...new Set(timed.flatMap((leaf) => (leaf.op === 'around' ? [leaf.value.date] : [])))];
  const goods = combinations(names, dates);
  const test = possible(rule.when, shop);
  const bars: { from: number; until: number }[] = [];
  edges.slice(0, -1).forEach((from, index) => {
    if (!goods.some((own) => test(from, own))) return;
    const until = edges[index + 1] ?? horizon.until;
    const last = bars.at(-1);
    if (last?.until === from) last.until = until;
    else bars.push({ from, until });
  });
  return bars;
}

type OwnDates = Readonly<Record<string, string>>;

/** Goods that differ in the dates a rule looks at: each date there is of each name, or none. */
const combinations = (names: readonly string[], dates: Dates): OwnDates[] =>
  names.reduce<OwnDates[]>(
    (all, name) =>
      all.flatMap((own) => [own, ...[...(dates.get(name) ?? [])].map((date) => ({ ...own, [name]: date }))]),
    [{}],
  );

/** Whether a condition may hold at a moment, whatever is not about time. */
function possible(when: Condition, shop: ShopFacts): (moment: number, dates: OwnDates) => boolean {
  type May = (subject: Subject) => { readonly hold: boolean; readonly fail: boolean };
  const may = (condition: Condition): May => {
    const group = groupOf(condition);
    if (!group) {
      const leaf = condition as Leaf;
      if (leaf.fact !== 'moment') return () => ({ hold: true, fail: leaf.fact !== 'product' });
      const test = testOf(leaf, shop);
      return (subject) => {
        const { holds } = test(subject);
        return { hold: holds, fail: !holds };
      };
    }
    const members = group.members.map(may);
    return (subject) => {
      const said = members.map((member) => member(subject));
      const [some, every] = [said.some(({ hold }) => hold), said.every(({ hold }) => hold)];
      const [someFail, everyFails] = [said.some(({ fail }) => fail), said.every(({ fail }) => fail)];
      if (group.join === 'all') return { hold: every, fail: someFail };
      if (group.join === 'any') return { hold: some, fail: everyFails };
      return { hold: everyFails, fail: some };
    };
  };
  const asked = may(when);
  return (moment, dates) => asked({ ...NOBODY, product: { ...NO_GOODS, dates }, moment }).hold;
}

const NO_GOODS: ProductFacts = {
  id: '',
  title: '',
  path: null,
  brand: null,
  kind: null,
  seller: null,
  tags: [],
  attributes: {},
  categories: [],
  dates: {},
  waiting: 0,
  variants: [],
};
const NOBODY: Omit<Subject, 'moment'> = {
  product: NO_GOODS,
  variant: null,
  visitor: { signedIn: false, roles: [], customerId: null, locale: null, invitations: [] },
  surface: 'product',
  page: null,
};
