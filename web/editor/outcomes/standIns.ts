import { isSafeHref, isWebHref, partsOfHref } from '#core/texts/href.ts';
import { textFault } from '#core/texts/placeholders.ts';
import type { ControlPart } from '#core/controls/control.ts';
import { controlOf, CONTROLS, type ControlKind, type PlainControl } from '#core/controls/controls.ts';
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

export const KINDS = CONTROLS.map(({ kind, offered }) => ({ value: kind, label: offered.label }));

const offeredOf = (kind: ControlKind) => controlOf({ kind }).offered;

/** Whether a part can be said of a stand-in of a kind. */
export const hasPart = (kind: ControlKind, part: string): boolean => offeredOf(kind).parts.some((one) => one === part);

/** Changes a stand-in's kind, keeping common parts. */
export function turnedInto(kind: ControlKind, before: PlainControl | undefined): PlainControl {
  const first = offeredOf(kind).first;
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

/** Removes a part, and parts that depend on it. */
export function withoutPart(control: PlainControl, part: ControlPart): PlainControl {
  const gone: ReadonlySet<string> = new Set(
    part === 'cap' ? ['cap', 'atCap', 'closedText'] : part === 'atCap' ? ['atCap', 'closedText'] : [part],
  );
  return Object.fromEntries(Object.entries(control).filter(([key]) => !gone.has(key))) as PlainControl;
}

/** Whether a stand-in can do without a part that it has. */
export const isOptional = (control: PlainControl, part: ControlPart): boolean =>
  part in control && !(part in offeredOf(control.kind).first);

/** Finds a problem with an address; null if there is none. */
export function hrefFault(href: string, may: 'page' | 'anything'): string | null {
  const isAllowed = may === 'anything' ? isSafeHref(href) : isWebHref(href);
  if (isAllowed || partsOfHref(href).ofProduct !== '') return textFault(href);
  return may === 'anything'
    ? 'An address that begins with https://, mailto:, tel: or /'
    : 'An address that begins with https:// or /';
}
