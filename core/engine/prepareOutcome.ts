import type { DecidedControl, Decision } from './decision.ts';
import type { LocalisedText } from '../model/localisedText.ts';
import type { Control, ListingControl, Outcome } from '../rulebook/outcome.ts';
import { DEFAULT_LABELS, JOIN_LABEL } from '../texts/defaultTexts.ts';
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

const BASE = { label: null, html: null, beside: false, look: null, standing: null } as const;

/** The shop's own control, which stands where no rule speaks. */
export const SHOP_CONTROL: DecidedControl = { kind: 'buy', ...BASE };

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
export function onListingOf(control: Control): ListingControl {
  const { onListing, ...onPage } = control;
  if (onListing === undefined) return onPage;
  return 'kind' in onListing ? onListing : { ...onPage, ...onListing };
}

type Preorder = Extract<ListingControl, { kind: 'preorder' }>;

const isCapped = (control: ListingControl) => control.kind === 'preorder' && control.cap !== undefined;

/** Units left of a pre-order's cap; null without one. */
function leftOf({ cap }: Pick<Preorder, 'cap'>, { product, variant }: Subject): number | null {
  if (!cap) return null;
  const counted = cap.per === 'product' ? (product?.variants ?? []) : variant ? [variant] : [];
  return Math.max(0, cap.units - counted.reduce((sum, { reserved }) => sum + reserved, 0));
}

const shipping = (ships: { from?: string | undefined; until?: string | undefined; within?: string }) => ({
  from: ships.from ?? null,
  until: ships.until ?? null,
  within: ships.within ?? null,
});

function capTest(control: Control | undefined): PreparedOutcome['isAtCap'] {
  if (!control) return null;
  const reached = (control: ListingControl) =>
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

type Prepared = (subject: ProductSubject) => DecidedControl;

function prepareControl(control: ListingControl, shop: ShopFacts): Prepared {
  const shared = (subject: Subject, left?: number | null) => ({
    ...BASE,
    ...looks,
    label: words?.(subject, left) ?? null,
  });
  const looks = {
    beside: 'beside' in control && control.beside === true,
    look: 'look' in control && control.look ? lookOf(control.look) : null,
  };
  const words = optional(labelOf(control), (text) => label(text, shop));
  switch (control.kind) {
    case 'quote': {
      const added = optional(control.addedText, (text) => html(text, shop));
      return (subject) => ({ kind: 'quote', ...shared(subject), html: added?.(subject) ?? null });
    }
    case 'buy':
    case 'severalAtOnce':
    case 'nothing':
      return (subject) => ({ kind: control.kind, ...shared(subject) });
    case 'link': {
      const address = href(control.href, shop);
      const newTab = control.newTab === true;
      return (subject) => ({ kind: 'link', ...shared(subject), href: address(subject), newTab });
    }
    case 'signIn': {
      const address = href(control.href, shop, isWebHref);
      const join = control.join && href(control.join.href, shop, isWebHref);
      const toJoin = join && label(control.join?.label ?? JOIN_LABEL, shop);
      return (subject) => ({
        kind: 'signIn',
        ...shared(subject),
        ...(join && toJoin && subject.visitor.signedIn
          ? { label: toJoin(subject), href: join(subject) }
          : { href: address(subject) }),
        newTab: false,
      });
    }
    case 'notice': {
      const text = html(control.text, shop);
      return (subject) => ({ kind: 'notice', ...shared(subject), html: text(subject) });
    }
    case 'ownPrice': {
      const { min = null, suggested = null } = control;
      return (subject) => ({ kind: 'ownPrice', ...shared(subject), min, suggested });
    }
    case 'preorder': {
      const per = control.cap?.per ?? null;
      const ships = control.ships ? shipping(control.ships) : null;
      const closed = optional(control.closedText, (text) => html(text, shop));
      return (subject) => {
        const left = leftOf(control, subject);
        return left === 0 && closed
          ? { kind: 'notice', ...BASE, beside: looks.beside, html: closed(subject, left) }
          : { kind: 'preorder', ...shared(subject, left), left, per, ships };
      };
    }
    case 'waitlist': {
      const { per, account = 'optional' } = control;
      const text = optional(control.text, (onPage) => html(onPage, shop));
      const signInAt = optional(control.signInAt, (onPage) => href(onPage, shop, isWebHref));
      return (subject) => {
        const { product, variant } = subject;
        const length = (per === 'product' ? product : variant).waiting;
        const fields = { html: text?.(subject) ?? null, per, length, account, signInAt: signInAt?.(subject) ?? null };
        return { kind: 'waitlist', ...shared(subject), ...fields };
      };
    }
    case 'enquiry': {
      const { form, open, place = null } = control;
      const page = typeof form === 'string' ? null : href(form.page, shop, isWebHref);
      return (subject) => ({
        kind: 'enquiry',
        ...shared(subject),
        form: typeof form === 'string' ? form : { page: page?.(subject) ?? '' },
        open,
        place,
      });
    }
  }
}

/** A stand-in's own words, else those of its kind; undefined where the shop's stay or nothing has words. */
function labelOf(control: ListingControl): LocalisedText | undefined {
  if (control.kind === 'notice' || control.kind === 'nothing') return undefined;
  return control.label ?? (control.kind === 'buy' ? undefined : DEFAULT_LABELS[control.kind]);
}
