import type { PageMap } from '#core/contract/shopCalls.ts';
import type { SharedDecision } from '#core/contract/decision.ts';
import { MARK } from './hold.ts';
import { besides, partsOf, place, restore, stylesOf, type StandIn } from './place.ts';
import { restoreWords, setWords } from './words.ts';

/** What a part of the page shows, and where what its stand-ins lead to is answered. */
export interface Shown {
  readonly origin: string;
  readonly path: string;
  readonly variantId: string | undefined;
}

/** Makes a part of the page say what was decided. Doing it again changes nothing, so it may be done at any time. */
export function apply(area: Element, pageMap: PageMap, decision: SharedDecision, shown: Shown): void {
  const { control, express, price, visibility } = decision;
  const isCard = !area.matches(pageMap.productPage.area);
  if (visibility.state === 'blocked' && !isCard) {
    location.replace(visibility.redirectTo ?? '/');
    return;
  }
  setMark(area, isCard && visibility.state !== 'shown' ? 'away' : null);
  stylesOf(area, decision.style);
  for (const own of partsOf(area, pageMap, pageMap.control)) applyControl(own, control, shown);
  for (const own of partsOf(area, pageMap, pageMap.express)) place(own, 'express', express === 'hide', null);
  for (const own of partsOf(area, pageMap, pageMap.price)) {
    const standIn = priceOf(price, decision.reasons.price.length > 0);
    place(own, 'price', !price.show || standIn !== null, standIn);
  }
  besides(area, pageMap, decision.notes);
}

/** Leaves a part of the page as the shop made it. */
export function leave(area: Element, pageMap: PageMap): void {
  for (const selector of [pageMap.control, pageMap.express, pageMap.price]) {
    for (const own of partsOf(area, pageMap, selector)) {
      restoreWords(own);
      restore(own);
    }
  }
  setMark(area, null);
  stylesOf(area, []);
  besides(area, pageMap, []);
}

function setMark(element: Element, mark: 'away' | null): void {
  if (mark === null) element.removeAttribute(MARK);
  else if (element.getAttribute(MARK) !== mark) element.setAttribute(MARK, mark);
}

type Control = SharedDecision['control'];

/** Stand-ins that go through the shop's own cart keep the shop's own button, in other words. */
const BY_CART: ReadonlySet<Control['kind']> = new Set(['buy', 'preorder', 'ownPrice', 'severalAtOnce']);

function applyControl(own: Element, control: Control, shown: Shown): void {
  if (BY_CART.has(control.kind) && !control.beside) {
    place(own, 'control', false, null, control.look);
    if (control.label === null) restoreWords(own);
    else setWords(own, control.label);
    return;
  }
  if (control.beside) restoreWords(own);
  place(own, 'control', !control.beside, standInFor(control, own, shown));
}

function standInFor(control: Control, own: Element, shown: Shown): StandIn | null {
  if (control.kind === 'nothing') return null;
  if (control.kind === 'notice') return { tag: 'div', html: control.html ?? '', attributes: { role: 'status' } };
  const newTab = 'newTab' in control && control.newTab;
  return {
    tag: 'a',
    text: control.label ?? '',
    look: control.look,
    attributes: {
      href: hrefOf(control, shown),
      // As the shop's own button looks.
      class: own.className,
      ...(newTab ? { target: '_blank', rel: 'noopener' } : {}),
    },
  };
}

function hrefOf(control: Control, { origin, path, variantId }: Shown): string {
  if ('href' in control) return control.href ?? '';
  if (control.kind === 'enquiry' && typeof control.form !== 'string') return control.form.page;
  const about = new URLSearchParams({ path, ...(variantId === undefined ? {} : { variant: variantId }) });
  return `${origin}/ask/${control.kind}?${about.toString()}`;
}

/** What stands in the price's place; null where the shop's own price is right as it is. */
function priceOf(price: SharedDecision['price'], isDecided: boolean): StandIn | null {
  if (!price.show) return price.text === null ? null : { tag: 'span', html: price.text };
  if (!isDecided || price.amount === null) return null;
  const money = new Intl.NumberFormat(document.documentElement.lang || undefined, {
    style: 'currency',
    currency: price.currency,
  });
  const exponent = money.resolvedOptions().maximumFractionDigits ?? 2;
  const say = (minor: number) => money.format(minor / 10 ** exponent);
  const from = price.from ? (FROM[document.documentElement.lang.slice(0, 2)] ?? '') : '';
  return {
    tag: 'span',
    text: [from, say(price.amount), price.suffix].filter(Boolean).join(' '),
    ...(price.was === null ? {} : { struck: say(price.was) }),
  };
}

const FROM: Readonly<Record<string, string>> = { en: 'from', fr: 'dès' };
