import type { DecidedControl, Decision } from '../contract/decision.ts';
import type { SpotCheck } from '../contract/spotCheckCalls.ts';
import { visitorOf } from '../decide/audience.ts';
import type { CompiledRulebook } from '../decide/compile.ts';
import { decide, decideVariants } from '../decide/decide.ts';
import { decideListing } from '../decide/listing.ts';
import type { ProductFacts, VariantFacts } from '../decide/subject.ts';
import { SURFACE } from '../rulebook/phrases.ts';

/** What of a decision a spot check looks at. */
export type Sight = SpotCheck['expects'];

export const sightOf = ({ control: { kind, label }, price }: Pick<Decision, 'control' | 'price'>): Sight => ({
  kind,
  label,
  priceShown: price.show,
});

/**
 * What a spot check's visitor sees by a rulebook (on listings of the variant's product, as it is listed), at the check's own moment, or at
 * `moment` (epoch ms) where it has none.
 */
export function seen(
  rulebook: CompiledRulebook,
  { visitor, at, surface }: Pick<SpotCheck, 'visitor' | 'at' | 'surface'>,
  goods: { readonly product: ProductFacts; readonly variant: VariantFacts },
  moment: number,
): Sight {
  const { product, variant } = goods;
  const by = { visitor: visitorOf(visitor), moment: at === null ? moment : Date.parse(at), surface, page: null };
  return sightOf(
    surface === 'listing'
      ? decideListing(decideVariants(rulebook, product, by), product, by.visitor.locale, rulebook.shop)
      : decide(rulebook, { ...by, product, variant }),
  );
}

/** Whether what is seen is what is expected; words and price count only where something is expected of them. */
export const fulfils = (expects: Sight, sight: Sight): boolean =>
  expects.kind === sight.kind &&
  (expects.label === null || expects.label === sight.label) &&
  (expects.priceShown === null || expects.priceShown === sight.priceShown);

/** How a sentence calls what stands in the control’s place. */
export const STANDS: Readonly<Record<DecidedControl['kind'], string>> = {
  buy: 'the shop’s own button',
  choose: 'a way to choose',
  preorder: 'a pre-order',
  waitlist: 'a waitlist',
  quote: 'a price on request',
  enquiry: 'an enquiry',
  link: 'a link',
  signIn: 'a sign-in prompt',
  notice: 'a line of text',
  nothing: 'nothing',
  ownPrice: 'a price of their own',
  severalAtOnce: 'several at once',
};

/** What is seen, in words. */
export function sightWords({ kind, label, priceShown }: Sight): string {
  const stands = label === null ? STANDS[kind] : `“${label}” (${STANDS[kind]})`;
  return priceShown === null ? stands : `${stands} ${priceShown ? 'and the price' : 'and no price'}`;
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
  `${visitor.name} sees ${sightWords(expects)} for ${title} on ${SURFACE[surface]}${at === null ? ', at any time' : `, on ${when}`}.`;
