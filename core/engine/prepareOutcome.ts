import { NO_PARTS } from '../controls/control.ts';
import { controlOf, labelOf, type DecidedControl, type PlainControl } from '../controls/controls.ts';
import { leftOf } from '../controls/preorder.ts';
import type { Decision } from './decision.ts';
import type { Control, Outcome } from '../rulebook/outcome.ts';
import { isWebHref } from '../texts/href.ts';
import { href, html, label, type TextRenderer } from '../texts/textRenderers.ts';
import type { ProductSubject, ShopFacts, Subject } from '../model/subject.ts';

type Note = Decision['notes'][number];

/** What a rule's outcome says to a subject, should it win. */
export interface PreparedOutcome {
  readonly control: (subject: ProductSubject) => DecidedControl;
  /** Whether the pre-order has reached a cap at which the whole rule no longer counts; null where it has none such. */
  readonly isAtCap: ((subject: Subject) => boolean) | null;
  /** Whether it may tell the units left of a pre-order's cap. */
  readonly countsLeft: boolean;
  /** What a waitlist says to those who joined. */
  readonly joinedText: TextRenderer | null;
  readonly priceText: TextRenderer | null;
  readonly priceSuffix: TextRenderer | null;
  readonly notes: (subject: Subject, left: number | null) => Note[];
  readonly afterOrder: TextRenderer | null;
  readonly submitOrderText: TextRenderer | null;
  /** Where blocked pages, closed carts and closed checkouts lead. */
  readonly redirectTo: Readonly<
    Record<'visibility' | 'cart' | 'checkout', ((subject: Subject) => string | null) | null>
  >;
}

/** The shop's own control, which is kept where no rule decides. */
export const SHOP_CONTROL: DecidedControl = { kind: 'buy', ...NO_PARTS };

/** Prepares the words of a rule's outcome. */
export function prepareOutcome(then: Outcome, shop: ShopFacts): PreparedOutcome {
  const onPage = then.control ? prepareControl(then.control, shop) : () => SHOP_CONTROL;
  const onListing = then.control?.onListing ? prepareControl(onListingOf(then.control), shop) : onPage;
  const { price } = then;
  const shown = price && 'show' in price && price.show ? price : undefined;
  const suffix = optional(shown?.suffix, (text) => label(text, shop));
  const listingSuffix = optional(shown?.onListing?.suffix, (text) => label(text, shop)) ?? suffix;
  const notes = (then.notes ?? []).map(({ place, text }) => ({
    place,
    render: html(text, shop),
    countsLeft: JSON.stringify(text).includes('preorder.left'),
  }));
  const redirect = (part: { redirectTo?: string | undefined } | undefined) =>
    optional(part?.redirectTo, (address) => href(address, shop, isWebHref));
  return {
    control: (subject) => (subject.surface === 'listing' ? onListing(subject) : onPage(subject)),
    isAtCap: capTest(then.control),
    countsLeft: then.control !== undefined && [then.control, onListingOf(then.control)].some(isCapped),
    joinedText:
      then.control?.kind === 'waitlist' ? optional(then.control.joinedText, (text) => html(text, shop)) : null,
    priceText: price && 'show' in price && !price.show ? optional(price.text, (text) => html(text, shop)) : null,
    priceSuffix:
      (suffix ?? listingSuffix)
        ? (subject, left) => (subject.surface === 'listing' ? listingSuffix : suffix)?.(subject, left) ?? ''
        : null,
    // Where no pre-order is offered, none are left to count.
    notes: (subject, left) =>
      notes.flatMap(({ place, render: say, countsLeft }) =>
        countsLeft && left === null ? [] : [{ place, html: say(subject, left) }],
      ),
    afterOrder: optional(then.afterOrder?.text, (text) => html(text, shop)),
    submitOrderText: optional(then.checkout?.submitOrder?.text, (text) => html(text, shop)),
    redirectTo: {
      visibility: redirect(then.visibility),
      cart: redirect(then.cart),
      checkout: redirect(then.checkout),
    },
  };
}

const optional = <T, R>(value: T | undefined, make: (value: T) => R): R | null =>
  value === undefined ? null : make(value);

/** The control as it stands on listings: another one where `onListing` names its kind, else the same with other words. */
export function onListingOf(control: Control): PlainControl {
  const { onListing, ...onPage } = control;
  if (onListing === undefined) return onPage;
  return 'kind' in onListing ? onListing : { ...onPage, ...onListing };
}

const isCapped = (control: PlainControl) => control.kind === 'preorder' && control.cap !== undefined;

function capTest(control: Control | undefined): PreparedOutcome['isAtCap'] {
  if (!control) return null;
  const reached = (control: PlainControl) =>
    control.kind === 'preorder' && control.cap && control.atCap !== 'close'
      ? (subject: Subject) => leftOf(control, subject) === 0
      : null;
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
  const words = optional(labelOf(control), (text) => label(text, shop));
  return controlOf(control).resolve(control, {
    shop,
    parts: (subject, left) => ({ ...NO_PARTS, ...looks, label: words?.(subject, left) ?? null }),
  });
}
