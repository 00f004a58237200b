import type { Decision } from '../contract/decision.ts';
import type { CompiledRulebook } from '../decide/compile.ts';
import { decide } from '../decide/decide.ts';
import type { ProductFacts, Surface, VisitorFacts } from '../decide/subject.ts';

/** A variant that shows outcomes which those before it did not. */
export interface Representative {
  readonly product: string;
  readonly variant: string;
  /** How many of them. */
  readonly shows: number;
}

/** Who looks, when and where. */
export interface Looks {
  readonly visitors: readonly VisitorFacts[];
  /** Epoch ms. */
  readonly moments: readonly number[];
  readonly surfaces: readonly Surface[];
}

/** What tells outcomes apart: which rules decided what, and what stands in the control's place. */
export const outcomeOf = ({ control: { kind, beside }, reasons }: Decision): string =>
  JSON.stringify([kind, beside, reasons]);

/** Gathers outcomes variant by variant, and keeps of variants that show the same only the first. */
export class Representatives {
  /** By all that a variant shows. */
  private readonly shown = new Map<string, { product: string; variant: string; outcomes: ReadonlySet<string> }>();

  constructor(
    private readonly rulebook: CompiledRulebook,
    private readonly looks: Looks,
  ) {}

  look(product: ProductFacts): void {
    const { visitors, moments, surfaces } = this.looks;
    for (const variant of product.variants) {
      const outcomes = new Set<string>();
      for (const visitor of visitors)
        for (const moment of moments)
          for (const surface of surfaces)
            outcomes.add(outcomeOf(decide(this.rulebook, { product, variant, visitor, moment, surface, page: null })));
      const key = [...outcomes].sort().join();
      if (!this.shown.has(key)) this.shown.set(key, { product: product.id, variant: variant.id, outcomes });
    }
  }

  /** Few variants that show every outcome: each time the one that shows most of what is left (greedy set cover). */
  chosen(): Representative[] {
    const left = new Set([...this.shown.values()].flatMap(({ outcomes }) => [...outcomes]));
    const chosen: Representative[] = [];
    while (left.size > 0) {
      let best: { product: string; variant: string; shows: string[] } | null = null;
      for (const { product, variant, outcomes } of this.shown.values()) {
        const shows = [...outcomes].filter((outcome) => left.has(outcome));
        if (shows.length > (best?.shows.length ?? 0)) best = { product, variant, shows };
      }
      if (!best) break;
      for (const outcome of best.shows) left.delete(outcome);
      chosen.push({ product: best.product, variant: best.variant, shows: best.shows.length });
    }
    return chosen;
  }
}
