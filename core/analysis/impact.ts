import type { CompiledRulebook } from '../engine/compile.ts';
import type { ViewContext, ShopFacts, Surface, VisitorFacts } from '../model/subject.ts';
import { ChangeGroups } from './changeGroups.ts';
import { RuleSetDiff } from './ruleSetDiff.ts';
import type { RuleMatch, RuleMatcher } from './ruleMatcher.ts';
import type { WinnerSlots } from './batchResolver.ts';
import { ListingDiffer } from './listingDiffer.ts';
import { OutcomeDiffer, type VisibleChange } from './outcomeDiffer.ts';

/** Rules at a moment (epoch ms). */
export interface ImpactView {
  readonly rulebook: CompiledRulebook;
  readonly moment: number;
}

/** Visitors and surfaces. */
export interface Viewers {
  readonly visitors: readonly VisitorFacts[];
  readonly surface: Surface;
  /** Whether a product's variants speak together, as on a listing, or each for itself. */
  readonly isTogether: boolean;
}

/** Destination of the changes found. */
export interface Gathering {
  /** Of each visitor. */
  readonly contrasts: readonly RuleSetDiff[];
  readonly groups: ChangeGroups;
  /** Index of their moment in the caller's list. */
  readonly moment: number;
  /** Comparisons made for the same groups already, which are skipped. */
  readonly seen: Set<string>;
  /** Hears of every change that was not there yet, where variants speak for themselves. */
  readonly found?: (contrast: RuleSetDiff, row: number, won: WinnerSlots, wins: WinnerSlots, at: number) => void;
}

/**
 * Finds the differences that visitors see between two states of the catalog or rulebook: the same as deciding each variant
 * in both. Where rules with equal outcomes win all aspects, nothing can differ; elsewhere outcomes are resolved once for all rows
 * that are alike in what those rules look at.
 */
export class Impact {
  private readonly speech: OutcomeDiffer;
  private readonly listings: ListingDiffer;

  constructor(
    private readonly counts: RuleMatcher,
    private readonly onlookers: Viewers,
  ) {
    this.speech = new OutcomeDiffer(counts.columns);
    this.listings = new ListingDiffer(counts.columns);
  }

  /** Rows where rules match, for each visitor. */
  at({ rulebook, moment }: ImpactView): RuleMatch[][] {
    const { visitors, surface } = this.onlookers;
    return visitors.map((visitor) => this.counts.of(rulebook, { visitor, moment, surface, page: null }));
  }

  /** Adds the differences to the groups; yields its progress. */
  *compare(was: ImpactView, is: ImpactView, { contrasts, groups, moment, seen, found }: Gathering): Generator<number> {
    const { visitors, surface, isTogether } = this.onlookers;
    for (const [visitor, contrast] of contrasts.entries()) {
      const key = `${visitor} ${contrast.key}`;
      if (seen.has(key)) continue;
      seen.add(key);
      const look = { visitor: visitors[visitor]!, surface, page: null };
      const before = { ...look, moment: was.moment };
      const after = { ...look, moment: is.moment };
      const differ = this.speech.between(contrast, { shop: is.rulebook.shop, before, after });
      const steps = isTogether
        ? this.listed(contrast, is.rulebook.shop, before, after, (outcome, row) => {
            groups.add(outcome, row, visitor, moment);
          })
        : contrast.visit((row, won, wins, at) => {
            const outcome = differ(row, won, wins, at);
            if (outcome && groups.add(outcome, row, visitor, moment)) found?.(contrast, row, won, wins, at);
          });
      for (const part of steps) yield (visitor + part) / visitors.length;
    }
  }

  /** A product is decided as a whole where any of its variants may differ; its row is that of its first variant. */
  private *listed(
    contrast: RuleSetDiff,
    shop: ShopFacts,
    before: ViewContext,
    after: ViewContext,
    differs: (outcome: VisibleChange, row: number) => void,
  ): Generator<number> {
    const { columns } = this.counts;
    const touched = columns.none();
    const finding = contrast.visit((row) => {
      columns.setProduct(touched, columns.placeOf(row));
    });
    for (const part of finding) yield part / 2;
    const differ = this.listings.between(contrast, { shop, before, after });
    const deciding = contrast.visitAll(touched, (row, won, wins, at) => {
      const outcome = differ(row, won, wins, at);
      if (outcome) differs(outcome, columns.firstOf(columns.placeOf(row)));
    });
    for (const part of deciding) yield (1 + part) / 2;
  }
}

/** Differences between the two rule sets, for each visitor. */
export const contrastsOf = (was: readonly RuleMatch[][], is: readonly RuleMatch[][]): RuleSetDiff[] =>
  was.map((own, visitor) => new RuleSetDiff(own, is[visitor] ?? []));

/** Every change that rules make at any of these moments (epoch ms): each once, at the first; yields its progress. */
export function* impactOf(
  counts: RuleMatcher,
  onlookers: Viewers,
  before: CompiledRulebook,
  after: CompiledRulebook,
  moments: readonly number[],
): Generator<number, ChangeGroups> {
  const impact = new Impact(counts, onlookers);
  const groups = new ChangeGroups(counts.columns);
  const seen = new Set<string>();
  for (const [place, moment] of moments.entries()) {
    const [was, is] = [
      { rulebook: before, moment },
      { rulebook: after, moment },
    ];
    const gathering = { contrasts: contrastsOf(impact.at(was), impact.at(is)), groups, moment: place, seen };
    for (const part of impact.compare(was, is, gathering)) yield (place + part) / moments.length;
    yield (place + 1) / moments.length;
  }
  return groups;
}
