import { z } from 'zod';
import type { LocalisedText } from '../model/localisedText.ts';
import type { InEveryLanguage } from '../texts/languages/language.ts';
import { ownText, ownTextInAll, type Speaking } from '../texts/shopTexts.ts';
import { buy } from './buy.ts';
import { shared, type AnyControl, type ControlDefinition, type Reservation, type Shape } from './control.ts';
import { enquiry } from './enquiry.ts';
import { link } from './link.ts';
import { nothing } from './nothing.ts';
import { notice } from './notice.ts';
import { ownPrice } from './ownPrice.ts';
import { preorder } from './preorder.ts';
import { quote } from './quote.ts';
import { severalAtOnce } from './severalAtOnce.ts';
import { signIn } from './signIn.ts';
import { waitlist } from './waitlist.ts';

/** All controls, in the order in which the editor offers them; each has a file of its name. */
export const DEFINED = [
  buy,
  preorder,
  waitlist,
  quote,
  enquiry,
  signIn,
  link,
  notice,
  ownPrice,
  severalAtOnce,
  nothing,
] as const;

type PartsOf<Defined extends readonly AnyDefined[], Part extends 'schema' | 'decided'> = {
  -readonly [I in keyof Defined]: Defined[I][Part];
};
interface AnyDefined {
  readonly schema: z.ZodType<AnyControl>;
  readonly decided: z.ZodType<AnyControl>;
}

/** A control of a rule, without its variation on listings. */
export const PlainControl = z.discriminatedUnion(
  'kind',
  DEFINED.map(({ schema }) => schema) as unknown as PartsOf<typeof DEFINED, 'schema'>,
);
export type PlainControl = z.infer<(typeof DEFINED)[number]['schema']>;
export type ControlKind = PlainControl['kind'];
/** Kinds that a rule can use. */
export const RULE_KINDS: readonly ControlKind[] = DEFINED.map(({ kind }) => kind);

/** Appears only on listings, if variants differ: leads to the product's page. */
const Choose = z.strictObject({
  kind: z.literal('choose'),
  ...shared,
  href: z.string().nullable(),
  newTab: z.boolean(),
});

/** A decided control. `choose` appears only on listings and leads to the product's page. */
export const DecidedControl = z
  .discriminatedUnion('kind', [
    ...(DEFINED.map(({ decided }) => decided) as unknown as PartsOf<typeof DEFINED, 'decided'>),
    Choose,
  ])
  .meta({ id: 'Control' });
export type DecidedControl = z.infer<(typeof DEFINED)[number]['decided']> | z.infer<typeof Choose>;

export const CONTROL_KINDS = DecidedControl.options.map(({ shape }) => shape.kind.value);

// Keyed by the control's own kind, which TypeScript cannot follow through an index.
type Definition = ControlDefinition<PlainControl, DecidedControl>;
export const CONTROLS = DEFINED as readonly unknown[] as readonly Definition[];
const BY_KIND = new Map<string, Definition>(CONTROLS.map((control) => [control.kind, control]));

/** Returns the definition of a rule's control or of a decided one. `choose` is defined as a link. */
export const controlOf = ({ kind }: Pick<PlainControl | DecidedControl, 'kind'>): Definition =>
  BY_KIND.get(kind) ?? (link as unknown as Definition);

/** The shape of a control where owners see it; a listing's link to the product page is not that of other links. */
export const shapeOf = ({ kind }: Pick<PlainControl | DecidedControl, 'kind'>): Shape =>
  BY_KIND.get(kind)?.shape ?? 'outlined';

/** The rule's label, or the default of its kind; undefined if the shop's button stays or the kind has none. */
export function labelOf(control: PlainControl, shop: Speaking): LocalisedText | undefined {
  if ('label' in control && control.label !== undefined) return control.label;
  const { defaultLabel } = controlOf(control);
  return defaultLabel === null ? undefined : controlText(defaultLabel, shop);
}

/** The default label of a kind in the locale that serves a visitor; empty where it has none. */
export function defaultLabel(kind: ControlKind, locale: string | null, shop: Speaking): string {
  const key = controlOf({ kind }).defaultLabel;
  const text = key === null ? undefined : CONTROL_TEXTS.get(key);
  return key !== null && text ? ownText(key, text, locale, shop) : '';
}

/** The texts of all controls, by their keys. */
export const CONTROL_TEXTS: ReadonlyMap<string, InEveryLanguage> = new Map(
  CONTROLS.flatMap(({ texts = {} }) => Object.entries(texts)),
);

/** A text of a control in all of the shop's locales. @throws {RangeError} where no control has it */
export function controlText(key: string, shop: Speaking): LocalisedText {
  const text = CONTROL_TEXTS.get(key);
  if (!text) throw new RangeError(`no control has the text ${key}`);
  return ownTextInAll(key, text, shop);
}

/** Finds a problem that a control's schema cannot express; null if there is none. */
export const controlIssue = (control: PlainControl): { path: string[]; message: string } | null =>
  controlOf(control).issueOf?.(control) ?? null;

/** Units that a control reserves, and when they ship; null where it reserves nothing. */
export const reservationOf = (control: DecidedControl): Reservation | null =>
  controlOf(control).reserves?.(control) ?? null;

/** Whether a control lets products be bought or reserved. */
export const isBought = (control: DecidedControl): boolean =>
  control.beside || (controlOf(control).sells && reservationOf(control)?.left !== 0);

/** Stands for the shop's button, whose label only its pages know. */
export const SHOP_LABEL = 'Add to cart';

/** A control's label, or its name, as owners see it. */
export function wordsOf(control: Pick<DecidedControl, 'kind' | 'label'>): string {
  const { isShopButton, name } = controlOf(control);
  return control.label ?? (isShopButton ? SHOP_LABEL : name);
}

/** Whether the shop's own button is shown, alone or beside the control. */
export const keepsShopButton = (control: DecidedControl): boolean =>
  control.beside || controlOf(control).isShopButton === true;

/** Whether it leads from a listing to the product's page, because variants differ. */
export const isChoice = ({ kind }: DecidedControl): boolean => kind === 'choose';

/** Names of all kinds. */
export const CONTROL_NAMES = Object.fromEntries([
  ...CONTROLS.map(({ kind, name }) => [kind, name]),
  ['choose', 'a way to choose'],
]) as Readonly<Record<DecidedControl['kind'], string>>;
