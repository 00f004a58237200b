import { barsOf, comingChanges } from '#core/analyse/calendar.ts';
import { Findings, type Looked } from '#core/analyse/findings.ts';
import type { Finding } from '#core/analyse/finding.ts';
import { ChangeGroups, comparing, groupKey, type Change, type ChangeGroup } from '#core/analyse/impact.ts';
import { instantsOf, type Dates, type Horizon } from '#core/analyse/instants.ts';
import { Representatives, type Looks, type Representative } from '#core/analyse/representatives.ts';
import { visitorOf } from '#core/decide/audience.ts';
import { DAY } from '#core/decide/calendar.ts';
import { compile } from '#core/decide/compile.ts';
import { decide, decideVariants } from '#core/decide/decide.ts';
import { decideListing } from '#core/decide/listing.ts';
import type { ProductFacts, ShopFacts } from '#core/decide/subject.ts';
import type { Decision } from '#core/contract/decision.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { wordsIn } from '#core/texts/locale.ts';

/** What every analysis is told beside the catalog. */
interface Base {
  readonly shop: ShopFacts;
  readonly audiences: readonly { readonly signedIn: boolean; readonly roles: readonly string[] }[];
  /** Epoch ms. */
  readonly moment: number;
}

export interface ImpactQuestion extends Base {
  readonly before: Rulebook;
  readonly after: Rulebook;
  readonly surface: 'product' | 'listing';
  /** Days from the moment on within which every coming change is looked at as well. */
  readonly days: number;
}
export interface ImpactPage {
  readonly group?: string | undefined;
  readonly search?: string | undefined;
  readonly skip: number;
  readonly limit: number;
}
export interface FoundChange extends Pick<Change, 'before' | 'after' | 'aspects' | 'visitor'> {
  readonly product: string;
  readonly variant: string | null;
  readonly title: string;
  readonly at: number;
}

/** The changes between two rulebooks, in columns: of each, where it is, and what its group is. */
export interface ImpactIndex {
  readonly looked: number;
  readonly changed: number;
  readonly moments: readonly number[];
  readonly groups: readonly ChangeGroup[];
  readonly product: number[];
  readonly variant: number[];
  readonly visitor: number[];
  readonly at: number[];
  readonly group: string[];
}

/** An analysis gives way after each product. */
type Steps<Answer> = Generator<undefined, Answer>;
export type Catalog = readonly ProductFacts[];

const datesIn = (catalog: Catalog): Dates => {
  const dates = new Map<string, Set<string>>();
  for (const { dates: own } of catalog)
    for (const [name, date] of Object.entries(own)) dates.set(name, (dates.get(name) ?? new Set()).add(date));
  return dates;
};

/** A change that is there at several moments counts once, at the first. */
export function* impactIndex(catalog: Catalog, question: ImpactQuestion): Steps<ImpactIndex> {
  const { shop, audiences, moment, surface, days } = question;
  const [before, after] = [compile(question.before, shop), compile(question.after, shop)];
  const rules = [...question.before.rules, ...question.after.rules];
  const coming =
    days > 0 ? instantsOf(rules, shop.zone, datesIn(catalog), { from: moment, until: moment + days * DAY }) : [];
  const moments = [moment, ...coming];
  const visitors = audiences.map(visitorOf);
  const looks = moments.map((at) => ({ at, changesOf: comparing({ before, after, visitors, surface, moment: at }) }));
  const groups = new ChangeGroups();
  const index = { product: [], variant: [], visitor: [], at: [], group: [] } as Pick<
    ImpactIndex,
    'product' | 'variant' | 'visitor' | 'at' | 'group'
  >;
  let looked = 0;
  for (const [place, product] of catalog.entries()) {
    looked += surface === 'listing' ? 1 : product.variants.length;
    const seen = new Set<string>();
    for (const { at, changesOf } of looks) {
      for (const change of changesOf(product)) {
        const group = groupKey(change);
        const key = `${change.variant?.id ?? ''} ${change.visitor} ${group}`;
        if (seen.has(key)) continue;
        seen.add(key);
        groups.add(change);
        index.product.push(place);
        index.variant.push(change.variant ? product.variants.indexOf(change.variant) : -1);
        index.visitor.push(change.visitor);
        index.at.push(at);
        index.group.push(group);
      }
    }
    yield;
  }
  return { looked, changed: groups.changed, moments, groups: groups.all(), ...index };
}

/** Some of the changes of an index, decided again. */
export function impactPage(
  catalog: Catalog,
  { before, after, shop, audiences, surface }: ImpactQuestion,
  index: ImpactIndex,
  { group, search, skip, limit }: ImpactPage,
): { readonly changes: readonly FoundChange[]; readonly more: boolean } {
  const wanted = search?.trim().toLowerCase() ?? '';
  const [was, is] = [compile(before, shop), compile(after, shop)];
  const visitors = audiences.map(visitorOf);
  const changes: FoundChange[] = [];
  let fitting = 0;
  for (let entry = 0; entry < index.product.length; entry++) {
    const product = catalog[index.product[entry] ?? -1];
    if (!product || (group !== undefined && index.group[entry] !== group)) continue;
    const variant = product.variants[index.variant[entry] ?? -1];
    const title = [wordsIn(product.title, null, shop.locales), variant?.title].filter(Boolean).join(', ');
    if (!`${title} ${variant?.id ?? ''} ${product.id}`.toLowerCase().includes(wanted)) continue;
    fitting += 1;
    if (fitting <= skip) continue;
    if (changes.length >= limit) return { changes, more: true };
    const [visitor, at] = [index.visitor[entry] ?? 0, index.at[entry] ?? 0];
    const facts = visitors[visitor];
    if (!facts) continue;
    const seen = { visitor: facts, moment: at, surface, page: null };
    const [one, other] = [was, is].map((rulebook) =>
      variant
        ? decide(rulebook, { ...seen, product, variant })
        : decideListing(decideVariants(rulebook, product, seen), product, facts.locale, shop),
    ) as [Decision, Decision];
    const aspects = JSON.parse(index.group[entry] ?? '[]') as [unknown, unknown, Change['aspects']];
    changes.push({
      product: product.id,
      variant: variant?.id ?? null,
      title,
      visitor,
      at,
      before: one,
      after: other,
      aspects: aspects[2],
    });
  }
  return { changes, more: false };
}

export interface FindingsQuestion extends Base, Pick<Looked, 'roles' | 'hasTerms'> {
  readonly rulebook: Rulebook;
  readonly missingPages: readonly string[];
  /** Goods that are not looked through within so many ms are left out, and it is said. */
  readonly within: number;
}
export interface FoundFinding extends Omit<Finding, 'witness'> {
  readonly witness: (NonNullable<Finding['witness']> & { readonly title: string }) | null;
}

/** So many of the coming changes are looked at beside now. */
const MOST_MOMENTS = 6;
const YEAR_AHEAD = 400 * DAY;

export function* findings(
  catalog: Catalog,
  { rulebook, shop, audiences, moment, roles, hasTerms, missingPages, within }: FindingsQuestion,
): Steps<{ readonly findings: readonly FoundFinding[]; readonly looked: number }> {
  const horizon = { from: moment, until: moment + YEAR_AHEAD };
  const coming = instantsOf(rulebook.rules, shop.zone, datesIn(catalog), horizon).slice(0, MOST_MOMENTS);
  const found = new Findings({
    rulebook: compile(rulebook, shop),
    visitors: audiences.map(visitorOf),
    moments: [moment, ...coming],
    roles,
    hasTerms,
    missingPages: new Set(missingPages),
  });
  const begun = performance.now();
  let looked = 0;
  for (const product of catalog) {
    if (performance.now() - begun > within) found.know(product);
    else {
      found.look(product);
      looked += 1;
    }
    yield;
  }
  const goods = new Map(catalog.map((product) => [product.id, product]));
  const titleOf = ({ product: id, variant: own }: NonNullable<Finding['witness']>) => {
    const product = goods.get(id);
    const variant = product?.variants.find((one) => one.id === own);
    return [product ? wordsIn(product.title, null, shop.locales) : id, variant?.title].filter(Boolean).join(', ');
  };
  const told = found.all().map((one) => ({
    ...one,
    witness: one.witness && { ...one.witness, title: titleOf(one.witness) },
  }));
  return { findings: told, looked };
}

export interface CalendarQuestion extends Base {
  readonly rulebook: Rulebook;
  readonly days: number;
}
export interface ComingInstant {
  readonly at: number;
  /** How many variants change for anybody. */
  readonly changed: number;
  readonly groups: readonly ChangeGroup[];
  /** Rules that begin, and that end, to count then. */
  readonly opens: readonly string[];
  readonly closes: readonly string[];
}

export function* calendar(
  catalog: Catalog,
  { rulebook, shop, audiences, moment, days }: CalendarQuestion,
): Steps<{
  readonly instants: readonly ComingInstant[];
  readonly bars: readonly { readonly rule: string; readonly bars: readonly Horizon[] }[];
}> {
  const horizon = { from: moment, until: moment + days * DAY };
  const compiled = compile(rulebook, shop);
  const visitors = audiences.map(visitorOf);
  const instants = new Map<number, { groups: ChangeGroups; opens: Set<string>; closes: Set<string> }>();
  for (const product of catalog) {
    for (const surface of ['product', 'listing'] as const) {
      for (const change of comingChanges(compiled, { visitors, surface }, horizon, [product])) {
        const known = instants.get(change.at) ?? { groups: new ChangeGroups(), opens: new Set(), closes: new Set() };
        instants.set(change.at, known);
        known.groups.add(change);
        for (const rule of change.opens) known.opens.add(rule);
        for (const rule of change.closes) known.closes.add(rule);
      }
    }
    yield;
  }
  const dates = datesIn(catalog);
  return {
    instants: [...instants]
      .sort(([a], [b]) => a - b)
      .map(([at, { groups, opens, closes }]) => ({
        at,
        changed: groups.changed,
        groups: groups.all(),
        opens: [...opens],
        closes: [...closes],
      })),
    bars: rulebook.rules.map((rule) => ({ rule: rule.id, bars: barsOf(rule, shop, dates, horizon) })),
  };
}

export interface RowsQuestion extends Base, Pick<Looks, 'surfaces'> {
  readonly rulebook: Rulebook;
  readonly moments: readonly number[];
}

export function* rows(
  catalog: Catalog,
  { rulebook, shop, audiences, moments, surfaces }: RowsQuestion,
): Steps<readonly Representative[]> {
  const looks = { visitors: audiences.map(visitorOf), moments, surfaces };
  const found = new Representatives(compile(rulebook, shop), looks);
  for (const product of catalog) {
    found.look(product);
    yield;
  }
  return found.chosen();
}
