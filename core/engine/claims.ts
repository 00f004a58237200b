import {
  aspectOf,
  ASPECTS,
  bitOf,
  isGathered,
  type Aspect,
  type AspectSet,
  type Gathered,
} from '../aspects/aspects.ts';
import type { Outcome } from '../aspects/outcome.ts';

/**
 * A rule's claim to one aspect: the single description of who wins. Where the rule counts, it takes the aspect if every aspect
 * that the claim needs is still open; settling it closes it to the rules below. `winners.ts` applies claims to one decision,
 * `core/analysis/batchResolver.ts` to 32 rows of the catalog at once.
 */
export interface Claim {
  readonly aspect: Aspect;
  /** Place of the aspect among all. */
  readonly slot: number;
  /** Aspects that have to be open: itself, and the rule's control where it comes with that. */
  readonly needs: AspectSet;
  /** Slot that also has to be open: the control's where the aspect comes with it, otherwise its own. */
  readonly with: number;
  /** The aspect's list, if rules add to it rather than decide it. */
  readonly gathers: Gathered | null;
  /** The aspect as a bit if the rules below have no say in it, otherwise 0. */
  readonly settles: AspectSet;
}

const CONTROL = ASPECTS.indexOf('control');

/** Lists the claims of an outcome, those that need another aspect first: that is still open then, where it was before. */
export function claimsOf(then: Outcome, { endsGathering }: { readonly endsGathering: boolean }): readonly Claim[] {
  const claims = ASPECTS.filter((aspect) => then[aspect] !== undefined).map((aspect): Claim => {
    const isTied = then.control !== undefined && aspectOf(aspect).comesWithControl === true;
    const slot = ASPECTS.indexOf(aspect);
    const gathers = isGathered(aspect) ? aspect : null;
    return {
      aspect,
      slot,
      needs: bitOf(aspect) | (isTied ? bitOf('control') : 0),
      with: isTied ? CONTROL : slot,
      gathers,
      settles: gathers === null || endsGathering ? bitOf(aspect) : 0,
    };
  });
  return claims.sort((a, b) => Number(b.with !== b.slot) - Number(a.with !== a.slot));
}
