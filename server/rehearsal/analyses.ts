import { rulesIn } from '#core/rulebook/entries.ts';
import { barsOf, comingInstants, type ComingInstant } from '#core/analysis/calendar.ts';
import type { ChangeGroup, ChangeList } from '#core/analysis/changeGroups.ts';
import { Columns } from '#core/analysis/columns.ts';
import { RuleMatcher } from '#core/analysis/ruleMatcher.ts';
import { Findings, type Looked } from '#core/analysis/findings.ts';
import type { Finding } from '#core/analysis/finding.ts';
import { impactOf } from '#core/analysis/impact.ts';
import { instantsOf, type Horizon } from '#core/analysis/instants.ts';
import { representativesOf, type ViewSpec, type Representative } from '#core/analysis/representatives.ts';
import type { VisibleChange } from '#core/analysis/outcomeDiffer.ts';
import type { Decision } from '#core/engine/decision.ts';
import { visitorOf, type AudienceFacts } from '#core/model/audience.ts';
import { DAY } from '#core/model/calendar.ts';
import { compile, everyRule, type CompiledRulebook } from '#core/engine/compile.ts';
import { decide, decideVariants } from '#core/engine/decide.ts';
import { decideListing } from '#core/engine/listing.ts';
import type { ProductFacts, ShopFacts, Surface } from '#core/model/subject.ts';
import type { SellerRules } from '#core/rulebook/sellers.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { wordsIn } from '#core/texts/locale.ts';

/** All goods, ready to be looked through. */
export interface Catalog {
  readonly products: readonly ProductFacts[];
  readonly columns: Columns;
  readonly counts: RuleMatcher;
  /**
   * A rulebook made ready, the same again for the same rules: what is known of where they count is known again.
   * @param isAlone without the rules of sellers
   */
  readonly compiled: (rulebook: Rulebook, shop: ShopFacts, isAlone?: boolean) => CompiledRulebook;
  /** The rulebooks made ready last. */
  readonly made: Map<string, CompiledRulebook>;
}

const MOST_COMPILED = 6;

export function catalogOf(products: readonly ProductFacts[]): Catalog {
  const columns = new Columns(products);
  const made = new Map<string, CompiledRulebook>();
  return { products, columns, counts: new RuleMatcher(columns), ...compiling(made, [], 0) };
}

/** Applies these sellers' rules to the catalog. @param sellersVersion changes whenever the sellers or their rules do */
export const withSellers = (catalog: Catalog, sellers: readonly SellerRules[], sellersVersion: number): Catalog =>
  sellers.length === 0 ? catalog : { ...catalog, ...compiling(catalog.made, sellers, sellersVersion) };

function compiling(
  made: Catalog['made'],
  sellers: readonly SellerRules[],
  sellersVersion: number,
): Pick<Catalog, 'made' | 'compiled'> {
  const compiled: Catalog['compiled'] = (rulebook, shop, isAlone = false) => {
    const read = isAlone ? [] : sellers;
    const key = JSON.stringify([read.length === 0 ? 0 : sellersVersion, rulebook, shop]);
    const one = made.get(key) ?? compile(rulebook, shop, read);
    made.delete(key);
    made.set(key, one);
    for (const old of [...made.keys()].slice(0, -MOST_COMPILED)) made.delete(old);
    return one;
  };
  return { made, compiled };
}

/** Input of every analysis, besides the catalog. */
interface Base {
  readonly shop: ShopFacts;
  readonly audiences: readonly AudienceFacts[];
  /** Epoch ms. */
  readonly moment: number;
}

export interface ImpactQuestion extends Base {
  readonly before: Rulebook;
  readonly after: Rulebook;
  readonly surface: Surface;
  /** Days from the moment on within which every coming change is looked at as well. */
  readonly days: number;
}
export interface ImpactPage {
  readonly group?: string | undefined;
  readonly search?: string | undefined;
  readonly skip: number;
  readonly limit: number;
}
export interface FoundChange extends Pick<VisibleChange, 'aspects'> {
  readonly product: string;
  readonly variant: string | null;
  readonly title: string;
  /** Its place among the audiences. */
  readonly visitor: number;
  /** Epoch ms. */
  readonly at: number;
  readonly before: Decision;
  readonly after: Decision;
}

/** The changes between two rulebooks: which there are, and their groups. */
export interface ImpactIndex {
  readonly looked: number;
  readonly changed: number;
  readonly moments: readonly number[];
  readonly groups: readonly ChangeGroup[];
  readonly changes: ChangeList;
  /** The key and the aspects of each group, by the places that changes name. */
  readonly kinds: readonly { readonly key: string; readonly aspects: VisibleChange['aspects'] }[];
}

/** An analysis gives way now and then, with the part of it that is done, from 0 to 1. */
export type Steps<Answer> = Generator<number, Answer>;

/** A change that is there at several moments counts once, at the first. */
export function* impactIndex(catalog: Catalog, question: ImpactQuestion): Steps<ImpactIndex> {
  const { products, columns, counts, compiled } = catalog;
  const { shop, audiences, moment, surface, days } = question;
  const [before, after] = [compiled(question.before, shop), compiled(question.after, shop)];
  const rules = [...everyRule(before), ...everyRule(after)].map(({ rule }) => rule);
  const coming =
    days > 0 ? instantsOf(rules, shop.zone, columns.dates, { from: moment, until: moment + days * DAY }) : [];
  const moments = [moment, ...coming];
  const isTogether = surface === 'listing';
  const onlookers = { visitors: audiences.map(visitorOf), surface, isTogether };
  const groups = yield* impactOf(counts, onlookers, before, after, moments);
  return {
    looked: isTogether ? products.length : columns.rows,
    changed: groups.changed,
    moments,
    groups: groups.all(),
    changes: groups.changes(),
    kinds: groups.kinds,
  };
}

/** Some of the changes of an index, decided again. */
export function impactPage(
  { columns, compiled }: Catalog,
  { before, after, shop, audiences, surface }: ImpactQuestion,
  { changes: list, kinds, moments }: ImpactIndex,
  { group, search, skip, limit }: ImpactPage,
): { readonly changes: readonly FoundChange[]; readonly more: boolean } {
  const wanted = search?.trim().toLowerCase() ?? '';
  const [was, is] = [compiled(before, shop), compiled(after, shop)];
  const visitors = audiences.map(visitorOf);
  const changes: FoundChange[] = [];
  let fitting = 0;
  for (const [entry, row] of list.row.entries()) {
    const kind = kinds[list.group[entry]!]!;
    if (group !== undefined && kind.key !== group) continue;
    const { product, variant } = columns.variantAt(row);
    const shownVariant = surface === 'listing' ? null : variant;
    const title = [wordsIn(product.title, null, shop.locales), shownVariant?.title].filter(Boolean).join(', ');
    if (!`${title} ${shownVariant?.id ?? ''} ${product.id}`.toLowerCase().includes(wanted)) continue;
    fitting += 1;
    if (fitting <= skip) continue;
    if (changes.length >= limit) return { changes, more: true };
    const visitor = list.visitor[entry]!;
    const at = moments[list.moment[entry]!]!;
    const facts = visitors[visitor]!;
    const seen = { visitor: facts, moment: at, surface, page: null };
    const [one, other] = [was, is].map((rulebook) =>
      shownVariant
        ? decide(rulebook, { ...seen, product, variant: shownVariant })
        : decideListing(decideVariants(rulebook, product, seen), product, facts.locale, shop),
    ) as [Decision, Decision];
    changes.push({
      product: product.id,
      variant: shownVariant?.id ?? null,
      title,
      visitor,
      at,
      before: one,
      after: other,
      aspects: kind.aspects,
    });
  }
  return { changes, more: false };
}

export interface FindingsQuestion extends Base, Pick<Looked, 'roles' | 'hasTerms'> {
  readonly rulebook: Rulebook;
  readonly missingPages: readonly string[];
  readonly methods: readonly string[] | null;
  /** Time limit in ms; products not reached are left out, and the answer says so. */
  readonly within: number;
}
export interface FoundFinding extends Omit<Finding, 'example'> {
  readonly example: (NonNullable<Finding['example']> & { readonly title: string }) | null;
}

/** Number of scheduled changes checked besides the present. */
const MOST_MOMENTS = 6;
const YEAR_AHEAD = 400 * DAY;

export function* findings(
  { products, columns, counts, compiled }: Catalog,
  { rulebook, shop, audiences, moment, roles, hasTerms, missingPages, methods, within }: FindingsQuestion,
): Steps<{ readonly findings: readonly FoundFinding[]; readonly looked: number }> {
  const horizon = { from: moment, until: moment + YEAR_AHEAD };
  const coming = instantsOf(rulesIn(rulebook), shop.zone, columns.dates, horizon).slice(0, MOST_MOMENTS);
  const looked = {
    // Checks the owner's own rules; each seller sees findings about theirs.
    rulebook: compiled(rulebook, shop, true),
    isOfSeller: false,
    visitors: audiences.map(visitorOf),
    moments: [moment, ...coming],
    roles,
    hasTerms,
    missingPages: new Set(missingPages),
    methods: methods && new Set(methods),
  };
  const found = new Findings(looked, counts);
  const begun = performance.now();
  for (const part of found.look()) {
    if (performance.now() - begun > within) break;
    yield part;
  }
  const goods = new Map(products.map((product) => [product.id, product]));
  const titleOf = ({ product: id, variant: variantId }: NonNullable<Finding['example']>) => {
    const product = goods.get(id);
    const variant = product?.variants.find((one) => one.id === variantId);
    return [product ? wordsIn(product.title, null, shop.locales) : id, variant?.title].filter(Boolean).join(', ');
  };
  const described = found.all().map((one) => ({
    ...one,
    example: one.example && { ...one.example, title: titleOf(one.example) },
  }));
  return { findings: described, looked: found.products };
}

export interface CalendarQuestion extends Base {
  readonly rulebook: Rulebook;
  readonly days: number;
}

export function* calendar(
  { columns, counts, compiled }: Catalog,
  { rulebook, shop, audiences, moment, days }: CalendarQuestion,
): Steps<{
  readonly instants: readonly ComingInstant[];
  readonly bars: readonly { readonly rule: string; readonly bars: readonly Horizon[] }[];
}> {
  const horizon = { from: moment, until: moment + days * DAY };
  const instants = yield* comingInstants(counts, compiled(rulebook, shop), audiences.map(visitorOf), horizon);
  const { dates } = columns;
  return {
    instants,
    bars: rulesIn(rulebook).map((rule) => ({ rule: rule.id, bars: barsOf(rule, shop, dates, horizon) })),
  };
}

export interface RowsQuestion extends Base, Pick<ViewSpec, 'surfaces'> {
  readonly rulebook: Rulebook;
  readonly moments: readonly number[];
}

export function rows(
  { counts, compiled }: Catalog,
  { rulebook, shop, audiences, moments, surfaces }: RowsQuestion,
): Steps<readonly Representative[]> {
  return representativesOf(counts, compiled(rulebook, shop), { visitors: audiences.map(visitorOf), moments, surfaces });
}
