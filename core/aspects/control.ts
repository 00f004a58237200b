import { z } from 'zod';
import { NO_PARTS } from '../controls/control.ts';
import {
  controlIssue,
  controlOf,
  DecidedControl,
  DEFINED,
  isBought,
  labelOf,
  PlainControl,
} from '../controls/controls.ts';
import { unitsLeft } from '../controls/preorder.ts';
import { outcome } from '../controls/telling.ts';
import { words, type Segment } from '../facts/segment.ts';
import { joined, speakingIn, textWords, type Names } from '../facts/wording.ts';
import {
  availabilityOf,
  STOCK_AVAILABILITIES,
  type ProductFacts,
  type ProductSubject,
  type ShopFacts,
  type Subject,
  type Surface,
  type VariantFacts,
} from '../model/subject.ts';
import { LocalisedText } from '../texts/localisedTextSchema.ts';
import { shopText } from '../texts/shopTexts.ts';
import { html, label } from '../texts/textRenderers.ts';
import { defineAspect, optional, type Listing } from './aspect.ts';
import { withVisitorStatus } from './visitorStatus.ts';

/** The words alone, if the listing keeps the kind. */
const OtherLabel = z.strictObject({ label: LocalisedText });
const OtherText = z.strictObject({ text: LocalisedText });

const coherent = <T extends z.ZodType<PlainControl>>(control: T): T =>
  control.superRefine((value, context) => {
    const issue = controlIssue(value);
    if (issue) context.addIssue({ code: 'custom', ...issue });
  });

/** Another stand-in for listings: a control of its own, which inherits nothing. */
const ListingControl = coherent(PlainControl).meta({ id: 'ListingControl' });

/** Words that a listing can show instead, if it keeps the kind. */
type WordsOf<C> = 'label' extends keyof C
  ? z.infer<typeof OtherLabel>
  : 'text' extends keyof C
    ? z.infer<typeof OtherText>
    : never;
type WithListing<C> = C extends PlainControl ? C & { onListing?: PlainControl | WordsOf<C> | undefined } : never;

/** A rule's control, and its variation on listings. */
export type Control = WithListing<PlainControl>;

const withListing = (schema: z.ZodObject) => {
  const words = 'label' in schema.shape ? [OtherLabel] : 'text' in schema.shape ? [OtherText] : [];
  const onListing = words.length > 0 ? z.union([ListingControl, ...words]) : ListingControl;
  return schema.extend({ onListing: onListing.optional() });
};

// Each is the schema of its control with one more part.
const Control = coherent(
  z.discriminatedUnion(
    'kind',
    DEFINED.map(({ schema }) => withListing(schema)) as unknown as [z.ZodObject, ...z.ZodObject[]],
  ) as unknown as z.ZodType<Control>,
).meta({ id: 'RuleControl' });

/** The shop's own control, kept if no rule decides. */
export const SHOP_CONTROL: DecidedControl = { kind: 'buy', ...NO_PARTS };

/** The control shown instead of the add-to-cart button, or beside it. */
export const control = defineAspect({
  schema: Control,
  decided: DecidedControl,
  prepare: (value, shop) => {
    const onPage = prepareControl(value, shop);
    const onListing = value.onListing ? prepareControl(onListingOf(value), shop) : onPage;
    return {
      resolve: (subject: ProductSubject) => (subject.surface === 'listing' ? onListing : onPage)(subject),
      /** Whether the pre-order has reached a cap at which the whole rule no longer counts; null where it has none such. */
      isAtCap: capTest(value),
      /** Whether it may tell the units left of a pre-order's cap. */
      countsLeft: [value, onListingOf(value)].some((one) => capOf(one) !== undefined),
      /** Text shown to visitors who have used the control. */
      joinedText: optional(controlOf(value).statusText?.(value), (text) => html(text, shop)),
    };
  },
  resolve: (winner, { subject, shop }) => withVisitorStatus(winner?.resolve(subject) ?? SHOP_CONTROL, subject, shop),
  join: listingControl,
  name: 'the button',
  shortName: 'button',
  phrases: controlSegments,
});

/**
 * Joins the controls of a product's variants: a link to choose where they differ and any can be bought or reserved. Otherwise
 * the kind that offers a shopper most, and of several variants with that kind, the one whose stock is most open.
 */
function listingControl(
  controls: readonly [DecidedControl, ...DecidedControl[]],
  { product, locale, shop }: Listing,
): DecidedControl {
  const [first, ...others] = controls;
  const text = others.length > 0 ? JSON.stringify(first) : '';
  if (others.every((control) => control === first || JSON.stringify(control) === text)) return first;
  if (controls.some((control) => isBought(control))) {
    return {
      ...SHOP_CONTROL,
      kind: 'choose',
      label: shopText('label.choose', locale, shop),
      href: product.path,
      newTab: false,
    };
  }
  // Sorting is stable: variants alike in kind and stock keep their order.
  const [best] = controls
    .map((control, index) => ({
      control,
      order: controlOf(control).listingOrder ?? Infinity,
      stock: stockRank(product.variants[index]),
    }))
    .filter(({ order }) => order < Infinity)
    .sort((a, b) => a.order - b.order || a.stock - b.stock);
  return best?.control ?? SHOP_CONTROL;
}

/** Rank of a variant's stock on listings, the most open first. */
export const stockRank = (variant: VariantFacts | undefined): number =>
  variant ? STOCK_AVAILABILITIES.indexOf(availabilityOf(variant.stock)) : STOCK_AVAILABILITIES.length;

/** Returns every kind that a control can appear as on a surface; the shop's own where no rule sets a control. */
export function kindsShown(
  control: Control | undefined,
  surface: Surface,
  { variants }: Pick<ProductFacts, 'variants'>,
): DecidedControl['kind'][] {
  const isListing = surface === 'listing';
  const told = control && (isListing ? onListingOf(control) : control);
  return [
    told?.kind ?? SHOP_CONTROL.kind,
    ...(told && controlOf(told).mayClose?.(told) ? (['notice'] as const) : []),
    ...(isListing && variants.length > 1 ? (['choose'] as const) : []),
  ];
}

/** The control on listings: another one if `onListing` names a kind, otherwise the same with other words. */
export function onListingOf(control: Control): PlainControl {
  const { onListing, ...onPage } = control;
  if (onListing === undefined) return onPage;
  return 'kind' in onListing ? onListing : { ...onPage, ...onListing };
}

const capOf = (control: PlainControl) => controlOf(control).cap?.(control);

function capTest(control: Control): ((subject: Subject) => boolean) | null {
  const reached = (control: PlainControl) => {
    const cap = capOf(control);
    return cap?.passesOn ? (subject: Subject) => unitsLeft(cap, subject) === 0 : null;
  };
  const [onPage, onListing] = [reached(control), reached(onListingOf(control))];
  if (!onPage && !onListing) return null;
  return (subject) => (subject.surface === 'listing' ? onListing : onPage)?.(subject) ?? false;
}

const lookOf = ({ fill, ink }: { fill?: string | undefined; ink?: string | undefined }) => ({
  fill: fill?.toLowerCase() ?? null,
  ink: ink?.toLowerCase() ?? null,
});

function prepareControl(control: PlainControl, shop: ShopFacts): (subject: ProductSubject) => DecidedControl {
  const looks = {
    beside: 'beside' in control && control.beside === true,
    look: 'look' in control && control.look ? lookOf(control.look) : null,
  };
  const text = optional(labelOf(control, shop), (text) => label(text, shop));
  return controlOf(control).resolve(control, {
    shop,
    parts: (subject, left) => ({ ...NO_PARTS, ...looks, label: text?.(subject, left) ?? null }),
  });
}

function controlSegments(control: Control, names: Names): Segment[] {
  const pointer = '/then/control';
  const head = headOf(control, pointer, names);
  const tail = tailOf(control, pointer, names);
  const { onListing } = control;
  if (!onListing) return [...head, ...tail];
  const at = `${pointer}/onListing`;
  if ('kind' in onListing) {
    return [
      ...head,
      ...tail,
      words(', and on listings '),
      ...headOf(onListing, at, names),
      ...tailOf(onListing, at, names),
    ];
  }
  const shownText = 'text' in onListing ? onListing.text : onListing.label;
  return [...head, words(' ('), outcome(`${textWords(shownText, names)} on listings`, at), words(')'), ...tail];
}

/** Phrases for a stand-in's kind and label. */
function headOf(control: PlainControl, pointer: string, names: Names): Segment[] {
  const { verb, labelled } = controlOf(control);
  const beside =
    'beside' in control && control.beside ? [outcome('beside the button', `${pointer}/beside`), words(', ')] : [];
  const label = labelled === null ? undefined : labelOf(control, speakingIn(names));
  const named =
    label === undefined ? [] : [words(labelled ?? ''), outcome(textWords(label, names), `${pointer}/label`)];
  return [...beside, ...verb(control, { names, pointer }), ...named];
}

/** Phrases for its terms and its look. */
function tailOf(control: PlainControl, pointer: string, names: Names): Segment[] {
  const terms = controlOf(control).terms?.(control, { names, pointer }) ?? [];
  const look = 'look' in control ? lookWords(control.look) : undefined;
  return look === undefined ? terms : [...terms, words(', '), outcome(look, `${pointer}/look`)];
}

function lookWords(look: { fill?: string | undefined; ink?: string | undefined } | undefined): string | undefined {
  if (!look) return undefined;
  const colour = (name: string, value: string | undefined) =>
    value === undefined ? [] : [`${name} ${value.toLowerCase()}`];
  return `with ${joined([...colour('fill', look.fill), ...colour('ink', look.ink)], 'and')}`;
}
