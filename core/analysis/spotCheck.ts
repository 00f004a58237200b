import { CONTROL_NAMES, type DecidedControl } from '../controls/controls.ts';
import type { Decision } from '../engine/decision.ts';
import { visitorOf, type AudienceFacts } from '../model/audience.ts';
import type { CompiledRulebook } from '../engine/compile.ts';
import { decide, decideVariants } from '../engine/decide.ts';
import { decideListing } from '../engine/listing.ts';
import type { ProductFacts, Surface, VariantFacts } from '../model/subject.ts';
import { SURFACE_NAMES } from '../facts/surface.ts';

/** The outcome that the owner expects a visitor to see for a variant. */
interface SpotCheck {
  readonly surface: Surface;
  readonly visitor: AudienceFacts & { readonly name: string };
  /** ISO 8601; null whenever it is checked. */
  readonly at: string | null;
  readonly expects: ShownOutcome;
}

/** Parts of a decision that a spot check compares; null if a part does not matter. */
export interface ShownOutcome {
  readonly kind: DecidedControl['kind'];
  readonly label: string | null;
  readonly priceShown: boolean | null;
}

export const shownOutcomeOf = ({
  control: { kind, label },
  price,
}: Pick<Decision, 'control' | 'price'>): ShownOutcome => ({
  kind,
  label,
  priceShown: price.show,
});

/**
 * Decides what a spot check's visitor sees (on listings, for the variant's product), at the check's own moment, or at
 * `moment` (epoch ms) if it has none.
 */
export function evaluateSpotCheck(
  rulebook: CompiledRulebook,
  { visitor, at, surface }: Pick<SpotCheck, 'visitor' | 'at' | 'surface'>,
  goods: { readonly product: ProductFacts; readonly variant: VariantFacts },
  moment: number,
): ShownOutcome {
  const { product, variant } = goods;
  const by = { visitor: visitorOf(visitor), moment: at === null ? moment : Date.parse(at), surface, page: null };
  return shownOutcomeOf(
    surface === 'listing'
      ? decideListing(decideVariants(rulebook, product, by), product, by.visitor.locale, rulebook.shop)
      : decide(rulebook, { ...by, product, variant }),
  );
}

/** Whether the outcome is the expected one; words and price count only if they are expected. */
export const fulfils = (expects: ShownOutcome, sight: ShownOutcome): boolean =>
  expects.kind === sight.kind &&
  (expects.label === null || expects.label === sight.label) &&
  (expects.priceShown === null || expects.priceShown === sight.priceShown);

/** Describes the outcome in words. */
export function shownOutcomeText({ kind, label, priceShown }: ShownOutcome): string {
  const control = label === null ? CONTROL_NAMES[kind] : `“${label}” (${CONTROL_NAMES[kind]})`;
  return priceShown === null ? control : `${control} ${priceShown ? 'and the price' : 'and no price'}`;
}

/**
 * A spot check as a sentence: "Guest sees “Sign in to buy” (a sign-in prompt) on Snowdrop, listings, on 3 March 2027."
 * @param when the check's moment in words, in the shop's zone
 */
export const spotCheckSentence = (
  { visitor, expects, surface, at }: Pick<SpotCheck, 'visitor' | 'expects' | 'surface' | 'at'>,
  title: string,
  when: string,
): string =>
  `${visitor.name} sees ${shownOutcomeText(expects)} for ${title} on ${SURFACE_NAMES[surface]}${at === null ? ', at any time' : `, on ${when}`}.`;
