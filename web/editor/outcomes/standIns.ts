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
  | 'newTab'
  | 'min'
  | 'suggested';

const LABELLED = ['label', 'look', 'beside'] as const;

interface StandInEditor<K extends ControlKind> {
  /** Name for owners. */
  readonly label: string;
  readonly means: string;
  /** Initial value. */
  readonly first: Of<K>;
  /** Parts that it can have. */
  readonly parts: readonly ControlPart[];
}

/** Stand-ins in the order in which they are offered. */
export const STAND_INS: { readonly [K in ControlKind]: StandInEditor<K> } = {
  buy: {
    label: 'The button',
    means: 'The shop’s own button stays, with another label if you like.',
    first: { kind: 'buy' },
    parts: ['label', 'look'],
  },
  preorder: {
    label: 'A pre-order',
    means: 'Shoppers reserve now, and get the goods when they ship.',
    first: { kind: 'preorder' },
    parts: [...LABELLED, 'cap', 'atCap', 'ships'],
  },
  waitlist: {
    label: 'A waitlist',
    means: 'Shoppers leave their names, and you invite them in turn.',
    first: { kind: 'waitlist', per: 'variant' },
    parts: [...LABELLED, 'per', 'text', 'joinedText', 'account', 'signInAt'],
  },
  quote: {
    label: 'A price on request',
    means: 'Shoppers gather what they want, and you answer with a price.',
    first: { kind: 'quote' },
    parts: [...LABELLED, 'addedText'],
  },
  enquiry: {
    label: 'An enquiry',
    means: 'Shoppers write to you about the product.',
    first: { kind: 'enquiry', form: 'contact', open: 'inline' },
    parts: [...LABELLED, 'form'],
  },
  signIn: {
    label: 'A sign-in prompt',
    means: 'Shoppers are asked to sign in first.',
    first: { kind: 'signIn', href: '/sign-in' },
    parts: [...LABELLED, 'href', 'join'],
  },
  link: {
    label: 'A link',
    means: 'A link leads to another page.',
    first: { kind: 'link', href: '/contact' },
    parts: [...LABELLED, 'href', 'newTab'],
  },
  notice: {
    label: 'A line of text',
    means: 'A line of text is shown instead of the button.',
    first: { kind: 'notice', text: { en: 'Not sold here' } },
    parts: ['beside', 'text'],
  },
  ownPrice: {
    label: 'The buyer’s own price',
    means: 'Shoppers name their price.',
    first: { kind: 'ownPrice' },
    parts: [...LABELLED, 'min', 'suggested'],
  },
  severalAtOnce: {
    label: 'Several at once',
    means: 'Several variants go into the cart in one step.',
    first: { kind: 'severalAtOnce' },
    parts: LABELLED,
  },
  nothing: {
    label: 'Nothing',
    means: 'The button is removed.',
    first: { kind: 'nothing' },
    parts: [],
  },
};

export const KINDS = (Object.keys(STAND_INS) as ControlKind[]).map((value) => ({
  value,
  label: STAND_INS[value].label,
}));

/** Whether a part can be said of a stand-in of a kind. */
export const hasPart = (kind: ControlKind, part: string): boolean =>
  (STAND_INS[kind].parts as readonly string[]).includes(part);

/** A stand-in of another kind, which keeps what the two have in common. */
export function turnedInto(kind: ControlKind, before: PlainControl | undefined): PlainControl {
  const first = STAND_INS[kind].first;
  if (!before) return first;
  const shared = Object.entries(before).filter(([key]) => SHARED.has(key) && (key in first || hasPart(kind, key)));
  return { ...first, ...Object.fromEntries(shared) };
}

const SHARED = new Set(['label', 'look', 'beside', 'text', 'href']);

/** Additions to a stand-in offered by the sentence's "and…"; `atOnce` is complete without further input. */
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
  part in control && !(part in STAND_INS[control.kind].first);

/** Finds a problem with an address; null if there is none. */
export function hrefFault(href: string, may: 'page' | 'anything'): string | null {
  const isAllowed = may === 'anything' ? isSafeHref(href) : isWebHref(href);
  if (isAllowed || partsOfHref(href).ofProduct !== '') return textFault(href);
  return may === 'anything'
    ? 'An address that begins with https://, mailto:, tel: or /'
    : 'An address that begins with https:// or /';
}
