import { z } from 'zod';
import { MOST_UNITS } from '../model/units.ts';
import { Outcome } from '../aspects/outcome.ts';
import { showsPrice } from '../aspects/price.ts';
import { PRODUCT_ASPECTS, type Aspect, type ProductAspect } from '../aspects/aspects.ts';
import { type ControlKind, controlOf, type PlainControl, RULE_KINDS } from '../controls/controls.ts';
import { sellerRuleId } from './entries.ts';
import type { Rule } from './rulebook.ts';

/** Aspects that a seller may decide besides the control. Aspects of the visit are excluded: it includes others' products. */
export type SellerAspect = Exclude<ProductAspect, 'control'>;
export const SELLER_ASPECTS = PRODUCT_ASPECTS.filter((aspect): aspect is SellerAspect => aspect !== 'control');

/** Decisions that a marketplace's owner allows a seller for their own products. */
export const SellerAllowance = z
  .strictObject({
    kinds: z.array(z.enum(RULE_KINDS)).describe('What may stand in the button’s place'),
    aspects: z
      .array(z.enum(SELLER_ASPECTS))
      .describe('What else their rules may decide; prices are changed, not hidden'),
    hidesPrices: z.boolean().default(false).describe('Whether their rules may hide prices'),
    ownWords: z
      .boolean()
      .describe('Whether their own words are shown; else the shop’s stand where a rule of theirs says something'),
    mostUnits: z
      .int()
      .min(1)
      .max(MOST_UNITS)
      .nullable()
      .describe('What a pre-order of theirs takes at most; null for as many as they say'),
  })
  .meta({ id: 'SellerAllowance' });
export type SellerAllowance = z.infer<typeof SellerAllowance>;

/** A seller with the rules that they made. */
export interface SellerRules {
  readonly id: string;
  /** Names in the catalog (`product.seller`), compared as names. No two sellers share one. */
  readonly names: readonly string[];
  readonly allowed: SellerAllowance;
  readonly rules: readonly Rule[];
}

/** Reduces a seller's rule to its allowance, and restricts it to the seller's own products. */
export const asAllowed = (rule: Rule, { id, allowed }: Pick<SellerRules, 'id' | 'allowed'>): Rule => ({
  ...rule,
  id: sellerRuleId(id, rule.id),
  then: allowedOutcome(rule.then, allowed),
});

/** Reduces an outcome to an allowance. */
export function allowedOutcome(then: Outcome, allowed: SellerAllowance): Outcome {
  const { kinds, ownWords, mostUnits } = allowed;
  const left: Record<string, unknown> = {};
  for (const aspect of PRODUCT_ASPECTS) {
    const said = then[aspect];
    if (said === undefined || (aspect !== 'control' && !mayDecide(aspect, then, allowed))) continue;
    const value = aspect === 'control' ? allowedControl(said as Control, kinds, mostUnits) : said;
    const spoken = value !== null && !ownWords ? withoutWords(value) : value;
    // Parts that need a text of one's own are removed.
    if (spoken !== null && Outcome.safeParse({ [aspect]: spoken }).success) left[aspect] = spoken;
  }
  return left;
}

/** Hiding a price is a right apart from changing it: shoppers then have to ask. */
const mayDecide = (aspect: SellerAspect, { price }: Outcome, { aspects, hidesPrices }: SellerAllowance): boolean =>
  aspect === 'price' && price !== undefined && !showsPrice(price) ? hidesPrices : aspects.includes(aspect);

/** Part of a rule that an allowance takes away. */
export interface BeyondAllowance {
  readonly rule: Rule;
  readonly aspect: Aspect;
}

/** Finds what rules decide beyond an allowance. Rules that are switched off decide nothing. */
export const beyondAllowance = (rules: readonly Rule[], allowed: SellerAllowance): BeyondAllowance[] =>
  rules.flatMap((rule) => {
    const left = rule.on ? allowedOutcome(rule.then, allowed) : rule.then;
    const aspects = Object.keys(rule.then) as Aspect[];
    return aspects.filter((aspect) => !(aspect in left)).map((aspect) => ({ rule, aspect }));
  });

type Control = NonNullable<Outcome['control']>;

function allowedControl(control: Control, kinds: readonly ControlKind[], mostUnits: number | null): Control | null {
  if (!kinds.includes(control.kind)) return null;
  const { onListing, ...own } = control;
  const isKept = onListing !== undefined && (!('kind' in onListing) || kinds.includes(onListing.kind));
  const capped = (one: PlainControl) => (mostUnits === null ? one : (controlOf(one).withCap?.(one, mostUnits) ?? one));
  const listing = isKept && { onListing: 'kind' in onListing ? capped(onListing) : onListing };
  return { ...capped(own), ...listing } as Control;
}

/** Keys of texts that shoppers read; with `atCap`, a text takes the place of a pre-order at its cap. */
const WORDS: ReadonlySet<string> = new Set([
  'label',
  'text',
  'joinedText',
  'addedText',
  'closedText',
  'suffix',
  'atCap',
]);

/** The value without shoppers' texts; null if nothing is left. */
function withoutWords(value: unknown): unknown {
  if (Array.isArray(value)) {
    const left = value.map(withoutWords).filter((part) => part !== null);
    return left.length === 0 ? null : left;
  }
  if (typeof value !== 'object' || value === null) return value;
  const left = Object.entries(value).flatMap(([name, part]) => {
    if (WORDS.has(name)) return [];
    const kept = withoutWords(part);
    // Without its words, the listing shows the same as the page.
    const isOther = name === 'onListing' && typeof kept === 'object' && kept !== null && 'kind' in kept;
    const isSayable = !isOther || Outcome.safeParse({ control: kept }).success;
    return kept === null || !isSayable ? [] : [[name, kept] as const];
  });
  return left.length === 0 ? null : Object.fromEntries(left);
}
