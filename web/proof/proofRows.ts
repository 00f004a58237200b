import type { Audience } from '#core/contract/shopCalls.ts';
import type { Decision } from '#core/contract/decision.ts';
import type { CompiledRulebook } from '#core/decide/compile.ts';
import { decide, decideListing, decideVariants } from '#core/decide/decide.ts';
import type { ProductFacts, Subject, VariantFacts, VisitorFacts } from '#core/decide/subject.ts';

export type ProofSurface = 'product' | 'listing';

/** A row of a proof: a variant, or on a listing a product. */
export interface Row {
  readonly key: string;
  readonly product: ProductFacts;
  /** On a listing, the first of the product's variants. */
  readonly variant: VariantFacts;
}

/** What a rulebook decides for a row and an audience, and what the other one did. */
export interface Cell {
  readonly draft: Decision;
  readonly changed: boolean;
  /** Whether the rule in question decided any of it. */
  readonly byRule: boolean;
}

export interface Proof {
  readonly draft: CompiledRulebook;
  readonly live: CompiledRulebook;
  readonly audiences: readonly Audience[];
  readonly surface: ProofSurface;
  readonly moment: number;
}

export function rowsOf(products: readonly ProductFacts[], surface: ProofSurface): Row[] {
  return products.flatMap((product) => {
    const variants = surface === 'listing' ? product.variants.slice(0, 1) : product.variants;
    return variants.map((variant) => ({ key: surface === 'listing' ? product.id : variant.id, product, variant }));
  });
}

export const visitorOf = ({ signedIn, roles }: Audience): VisitorFacts => ({
  signedIn,
  roles: roles.map((code) => ({ code, from: null, until: null })),
  customerId: null,
  locale: null,
});

export const subjectOf = ({ product, variant }: Row, audience: Audience, { surface, moment }: Proof): Subject => ({
  product,
  variant,
  visitor: visitorOf(audience),
  surface,
  moment,
});

function decisionOf(rulebook: CompiledRulebook, row: Row, audience: Audience, proof: Proof): Decision {
  const subject = subjectOf(row, audience, proof);
  if (proof.surface === 'product') return decide(rulebook, subject);
  return decideListing(decideVariants(rulebook, row.product, subject), row.product, null, rulebook.shop);
}

/** A row's cells, one for each audience. */
export function cellsOf(row: Row, ruleId: string, proof: Proof): Cell[] {
  return proof.audiences.map((audience) => {
    const draft = decisionOf(proof.draft, row, audience, proof);
    const live = decisionOf(proof.live, row, audience, proof);
    return {
      draft,
      changed: shownOf(draft) !== shownOf(live),
      byRule: Object.values(draft.reasons).some((ids) => ids.includes(ruleId)),
    };
  });
}

/** All that a shopper could see of a decision. */
const shownOf = ({ control, express, price }: Decision) => JSON.stringify([control, express, price]);

/** A decision's look, whatever the goods cost. */
const lookOf = ({ draft: { control, express, price }, changed, byRule }: Cell) =>
  JSON.stringify([control.kind, control.label, express, price.show, price.text, changed, byRule]);

/** What a rule touches, and the rows that show it best. */
export interface Reach {
  readonly rows: readonly Row[];
  /** Rows that the rule decides something of, for any audience. */
  readonly decided: number;
  /** Rows that differ from what is live, by whatever rule. */
  readonly changed: number;
}

const SHOWN = 7;

/**
 * Chooses rows: one for each look that occurs among those that the rule decides, those that change first; and one that
 * the rule leaves alone, so that its edge can be seen.
 */
export function reachOf(rows: readonly Row[], ruleId: string, proof: Proof): Reach {
  const seen = rows.map((row) => ({ row, cells: cellsOf(row, ruleId, proof) }));
  const looks = new Map<string, { row: Row; weight: number }>();
  let decided = 0;
  let changed = 0;
  for (const { row, cells } of seen) {
    const isChanged = cells.some((cell) => cell.changed);
    const isDecided = cells.some((cell) => cell.byRule);
    if (isChanged) changed += 1;
    if (isDecided) decided += 1;
    const look = cells.map(lookOf).join();
    if (!looks.has(look)) looks.set(look, { row, weight: (isDecided ? 2 : 0) + (isChanged ? 1 : 0) });
  }
  const ranked = [...looks.values()].sort((a, b) => b.weight - a.weight);
  const touched = ranked.filter(({ weight }) => weight > 0).slice(0, SHOWN - 1);
  // Looks are few; further rows that the rule decides fill up what is left of the sheet.
  const chosen = new Set(touched.map(({ row }) => row));
  const more = seen
    .filter(({ row, cells }) => !chosen.has(row) && cells.some((cell) => cell.byRule))
    .map(({ row }) => row);
  const untouched = ranked.filter(({ weight }) => weight === 0).map(({ row }) => row);
  const filled = [...touched.map(({ row }) => row), ...more].slice(0, SHOWN - 1);
  return { rows: [...filled, ...untouched].slice(0, Math.max(SHOWN, filled.length + 1)), decided, changed };
}
