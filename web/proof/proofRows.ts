import type { Decision, Visit } from '#core/engine/decision.ts';
import { visitorOf, type AudienceFacts } from '#core/model/audience.ts';
import type { CompiledRulebook } from '#core/engine/compile.ts';
import { decide, decideVariants, decidingRules } from '#core/engine/decide.ts';
import { VISIT_ASPECTS, type Aspect } from '#core/aspects/aspects.ts';
import { decideListing } from '#core/engine/listing.ts';
import { decideVisit, type DecidedVisit } from '#core/engine/visit.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import type { ProductSubject, ProductFacts, VariantFacts } from '#core/model/subject.ts';

export type ProofSurface = 'product' | 'listing' | 'cart';

/** Surface that shows a rule's effect: the cart if it decides nothing else. */
export function surfaceOf({ then }: Rule): ProofSurface {
  const aspects = Object.keys(then) as Aspect[];
  const isOfVisit = (aspect: Aspect) => VISIT_ASPECTS.some((one) => one === aspect);
  return aspects.length > 0 && aspects.every(isOfVisit) ? 'cart' : 'product';
}

/** A row of a proof: a variant, or on a listing a product. */
export interface Row {
  readonly key: string;
  readonly product: ProductFacts;
  /** On a listing, the first of the product's variants. */
  readonly variant: VariantFacts;
}

/** Rules shown. */
export type Which = 'draft' | 'live' | 'both';

/** Decision for a row and an audience, with that of the other rulebook. */
export interface Cell {
  readonly draft: Decision;
  readonly live: Decision;
  /** Visit decision for a cart with this variant only. */
  readonly visit: Visit;
  readonly liveVisit: Visit;
  readonly changed: boolean;
  /** Whether the rule in question decided any of it. */
  readonly byRule: boolean;
}

export interface Proof {
  readonly draft: CompiledRulebook;
  readonly live: CompiledRulebook;
  readonly audiences: readonly AudienceFacts[];
  readonly surface: ProofSurface;
  readonly moment: number;
}

export function rowsOf(products: readonly ProductFacts[], surface: ProofSurface): Row[] {
  return products.flatMap((product) => {
    const variants = surface === 'listing' ? product.variants.slice(0, 1) : product.variants;
    return variants.map((variant) => ({ key: surface === 'listing' ? product.id : variant.id, product, variant }));
  });
}

export const subjectOf = (
  { product, variant }: Row,
  audience: AudienceFacts,
  { surface, moment }: Proof,
): ProductSubject => ({
  product,
  variant,
  visitor: visitorOf(audience),
  surface,
  moment,
  page: null,
});

function decisionOf(rulebook: CompiledRulebook, row: Row, audience: AudienceFacts, proof: Proof): Decision {
  const subject = subjectOf(row, audience, proof);
  if (proof.surface !== 'listing') return decide(rulebook, subject);
  return decideListing(decideVariants(rulebook, row.product, subject), row.product, null, rulebook.shop);
}

/** A row's cells, one for each audience. */
export function cellsOf(row: Row, ruleId: string | null, proof: Proof): Cell[] {
  return proof.audiences.map((audience) => {
    const draft = decisionOf(proof.draft, row, audience, proof);
    const live = decisionOf(proof.live, row, audience, proof);
    const [visit, liveVisit] = [proof.draft, proof.live].map((rulebook) =>
      decideVisit(rulebook, { ...subjectOf(row, audience, proof), surface: 'cart' }, [row]),
    ) as [DecidedVisit, DecidedVisit];
    const isCart = proof.surface === 'cart';
    const reasons = isCart ? visit.visit.reasons : draft.reasons;
    return {
      draft,
      live,
      visit: visit.visit,
      liveVisit: liveVisit.visit,
      changed: isCart ? doorsOf(visit.visit) !== doorsOf(liveVisit.visit) : shownOf(draft) !== shownOf(live),
      byRule: ruleId !== null && Object.values(reasons).some((ids) => ids.includes(ruleId)),
    };
  });
}

/** All that a shopper could see of a decision. */
const shownOf = ({ reasons: _reasons, validUntil: _validUntil, ...shown }: Decision) => JSON.stringify(shown);
const doorsOf = ({ cart, checkout }: Visit) => JSON.stringify([cart, checkout]);

/** A decision's appearance, regardless of the price. */
const lookOf = ({ draft, visit, changed, byRule }: Cell) => {
  const { control, express, price, notes, limits, visibility, style } = draft;
  const { kind, label, beside } = control;
  const places = notes.map(({ place }) => place);
  const stand = [kind, label, beside, express, price.show, price.text, price.suffix, places, limits, visibility, style];
  return JSON.stringify([stand, doorsOf(visit), changed, byRule]);
};

/** Rows that a rule affects, and its best examples. */
export interface Reach {
  /** Rows that the rule decides, one of each appearance first. */
  readonly decided: readonly Row[];
  /** Rows that it leaves alone: some that other rules change, some that do not change. */
  readonly others: readonly Row[];
  /** Number of rows for which the rule decides something, for any audience. */
  readonly decidedCount: number;
  /** Number of rows that differ from the live edition, by any rule. */
  readonly changedCount: number;
}

const DECIDED_SHOWN = 6;
const OTHERS_SHOWN = 2;

/** Number of variants and products that each rule affects, for any audience, by rule id. */
export function reachOfAll(
  rulebook: CompiledRulebook,
  products: readonly ProductFacts[],
  audiences: readonly AudienceFacts[],
  moment: number,
): ReadonlyMap<string, { readonly variants: number; readonly products: number }> {
  const found = new Map<string, { variants: number; products: number }>();
  const seen = audiences.map((audience) => ({ visitor: visitorOf(audience), moment, page: null }));
  for (const product of products) {
    const ofProduct = new Set<string>();
    for (const variant of product.variants) {
      const ofVariant = new Set<string>();
      for (const look of seen) {
        for (const surface of ['product', 'listing'] as const) {
          const reasons = decidingRules(rulebook, { ...look, surface, product, variant });
          for (const id of Object.values(reasons).flat()) ofVariant.add(id);
        }
        const { reasons } = decideVisit(rulebook, { ...look, surface: 'cart' }, [{ product, variant }]).visit;
        for (const id of [...reasons.cart, ...reasons.checkout]) ofVariant.add(id);
      }
      for (const id of ofVariant) {
        const before = found.get(id) ?? { variants: 0, products: 0 };
        const isFirst = !ofProduct.has(id);
        found.set(id, { variants: before.variants + 1, products: before.products + (isFirst ? 1 : 0) });
        ofProduct.add(id);
      }
    }
  }
  return found;
}

/** Chooses rows, so that every look which the rule gives is seen, and its edge too. */
export function reachOf(rows: readonly Row[], ruleId: string, proof: Proof): Reach {
  const seen = rows.map((row) => {
    const cells = cellsOf(row, ruleId, proof);
    return {
      row,
      look: cells.map(lookOf).join(),
      isDecided: cells.some(({ byRule }) => byRule),
      isChanged: cells.some(({ changed }) => changed),
    };
  });
  const decided = seen.filter(({ isDecided }) => isDecided);
  const others = seen.filter(({ isDecided }) => !isDecided);
  return {
    decided: varied(decided, DECIDED_SHOWN),
    others: varied(others, OTHERS_SHOWN),
    decidedCount: decided.length,
    changedCount: seen.filter(({ isChanged }) => isChanged).length,
  };
}

/** Why a rule decides nothing of all that is looked at. */
export interface Idle {
  /** The places (RFC 6901) of conditions that must hold, and hold of nothing. */
  readonly neverMatched: readonly string[];
  /** Of how many rows it counts for anybody. */
  readonly counts: number;
  /** The ids of the rules that decide instead, where it counts. */
  readonly beatenBy: readonly string[];
}

export function idleOf(rows: readonly Row[], ruleId: string, proof: Proof): Idle {
  const compiled = proof.draft.rules.find(({ rule }) => rule.id === ruleId);
  const needed = compiled?.leaves.filter(({ pointer }) => !/\/(any|none)\//.test(pointer)) ?? [];
  const matched = new Set<string>();
  const beatenBy = new Set<string>();
  let counts = 0;
  for (const row of rows) {
    let isCounted = false;
    for (const audience of proof.audiences) {
      const subject = subjectOf(row, audience, proof);
      for (const { pointer, test } of needed) if (test(subject).matches) matched.add(pointer);
      if (!compiled?.counts(subject).matches) continue;
      isCounted = true;
      const reasons = decidingRules(proof.draft, subject);
      for (const aspect of compiled.aspects)
        if (aspect in reasons) for (const id of reasons[aspect as keyof typeof reasons]) beatenBy.add(id);
    }
    if (isCounted) counts += 1;
  }
  const neverMatched = needed.flatMap(({ pointer }) => (matched.has(pointer) ? [] : [pointer]));
  return { neverMatched, counts, beatenBy: [...beatenBy] };
}

/** The first row of each appearance, changed ones first, then others up to the limit. */
function varied(seen: readonly { row: Row; look: string; isChanged: boolean }[], count: number): Row[] {
  const looks = new Set<string>();
  const firsts = seen.filter(({ look }) => !looks.has(look) && looks.add(look));
  const ranked = [...firsts].sort((a, b) => Number(b.isChanged) - Number(a.isChanged));
  const more = seen.filter((one) => !firsts.includes(one));
  return [...ranked, ...more].slice(0, count).map(({ row }) => row);
}
