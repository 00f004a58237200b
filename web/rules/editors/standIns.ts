import { isSafeHref, isWebHref, partsOfHref } from '#core/texts/href.ts';
import { textFault } from '#core/texts/placeholders.ts';
import type { ControlKind, PlainControl } from '#core/controls/controls.ts';
import type { Goods } from '../../goods/useGoods.ts';

/** A stand-in of one kind. */
export type Of<K extends ControlKind> = Extract<PlainControl, { kind: K }>;

/** A stand-in, or a part of one, being changed. */
export interface StandInProps<C extends PlainControl = PlainControl> {
  readonly control: C;
  readonly goods: Goods;
  readonly onChange: (control: C) => void;
}

export const PER = { variant: 'for each variant', product: 'for the product as a whole' } as const;

/** What can stand in the control's place, as an owner would call it. */
export const KINDS: readonly { value: ControlKind; label: string }[] = [
  { value: 'buy', label: 'The button' },
  { value: 'preorder', label: 'A pre-order' },
  { value: 'waitlist', label: 'A waitlist' },
  { value: 'quote', label: 'A price on request' },
  { value: 'enquiry', label: 'An enquiry' },
  { value: 'signIn', label: 'A sign-in prompt' },
  { value: 'link', label: 'A link' },
  { value: 'notice', label: 'A line of text' },
  { value: 'ownPrice', label: 'The buyer’s own price' },
  { value: 'severalAtOnce', label: 'Several at once' },
  { value: 'nothing', label: 'Nothing' },
];

type Controls = { [K in ControlKind]: Extract<PlainControl, { kind: K }> };

/** A stand-in of each kind, as it is when it is first chosen. */
const FIRST: Controls = {
  buy: { kind: 'buy' },
  preorder: { kind: 'preorder' },
  waitlist: { kind: 'waitlist', per: 'variant' },
  quote: { kind: 'quote' },
  enquiry: { kind: 'enquiry', form: 'contact', open: 'inline' },
  signIn: { kind: 'signIn', href: '/sign-in' },
  link: { kind: 'link', href: '/contact' },
  notice: { kind: 'notice', text: { en: 'Not sold here' } },
  ownPrice: { kind: 'ownPrice' },
  severalAtOnce: { kind: 'severalAtOnce' },
  nothing: { kind: 'nothing' },
};

/** A stand-in of another kind, which keeps what the two have in common. */
export function turnedInto(kind: ControlKind, before: PlainControl | undefined): PlainControl {
  const first = FIRST[kind];
  if (!before || kind === 'nothing') return first;
  const shared = Object.entries(before).filter(([key]) => SHARED.has(key) && (key in first || PARTS_OF[kind].has(key)));
  return { ...first, ...Object.fromEntries(shared) };
}

const SHARED = new Set(['label', 'look', 'beside', 'text', 'href']);

export type ControlPart =
  | 'label'
  | 'look'
  | 'beside'
  | 'cap'
  | 'atCap'
  | 'ships'
  | 'per'
  | 'text'
  | 'joinedText'
  | 'account'
  | 'signInAt'
  | 'join'
  | 'addedText'
  | 'form'
  | 'href'
  | 'min'
  | 'suggested';

const WORDED = ['label', 'look', 'beside'] as const;

/** What can be said of a stand-in of each kind. */
export const PARTS_OF: Record<ControlKind, ReadonlySet<string>> = {
  buy: new Set<ControlPart>(['label', 'look']),
  preorder: new Set<ControlPart>([...WORDED, 'cap', 'atCap', 'ships']),
  waitlist: new Set<ControlPart>([...WORDED, 'per', 'text', 'joinedText', 'account', 'signInAt']),
  quote: new Set<ControlPart>([...WORDED, 'addedText']),
  enquiry: new Set<ControlPart>([...WORDED, 'form']),
  link: new Set<ControlPart>([...WORDED, 'href']),
  signIn: new Set<ControlPart>([...WORDED, 'href', 'join']),
  notice: new Set<ControlPart>(['beside', 'text']),
  nothing: new Set<ControlPart>(),
  ownPrice: new Set<ControlPart>([...WORDED, 'min', 'suggested']),
  severalAtOnce: new Set<ControlPart>(WORDED),
};

/** What can be added to a stand-in, as the sentence's "and…" offers it; `atOnce` needs nothing more. */
export const ADDITIONS: readonly {
  readonly part: ControlPart;
  readonly label: string;
  readonly atOnce?: unknown;
}[] = [
  { part: 'label', label: 'its label' },
  { part: 'cap', label: 'a cap on the units reserved' },
  { part: 'ships', label: 'when it ships' },
  { part: 'text', label: 'a text beside the list’s button' },
  { part: 'joinedText', label: 'a text for people who joined' },
  { part: 'account', label: 'only with an account', atOnce: 'required' },
  { part: 'signInAt', label: 'where to get an account' },
  { part: 'join', label: 'how signed-in customers can join' },
  { part: 'addedText', label: 'a text after it is requested' },
  { part: 'min', label: 'the minimum price' },
  { part: 'suggested', label: 'a suggested price' },
  { part: 'beside', label: 'beside the shop’s button', atOnce: true },
  { part: 'look', label: 'its colours' },
];

/** The stand-in without a part, and without what means nothing then. */
export function withoutPart(control: PlainControl, part: ControlPart): PlainControl {
  const gone: ReadonlySet<string> = new Set(
    part === 'cap' ? ['cap', 'atCap', 'closedText'] : part === 'atCap' ? ['atCap', 'closedText'] : [part],
  );
  return Object.fromEntries(Object.entries(control).filter(([key]) => !gone.has(key))) as PlainControl;
}

/** Whether a stand-in can do without a part that it has. */
export const isOptional = (control: PlainControl, part: ControlPart): boolean =>
  part in control && !(part in FIRST[control.kind]);

/** What is wrong with where something leads; null when nothing is. */
export function hrefFault(href: string, may: 'page' | 'anything'): string | null {
  const isAllowed = may === 'anything' ? isSafeHref(href) : isWebHref(href);
  if (isAllowed || partsOfHref(href).ofProduct !== '') return textFault(href);
  return may === 'anything'
    ? 'An address that begins with https://, mailto:, tel: or /'
    : 'An address that begins with https:// or /';
}
