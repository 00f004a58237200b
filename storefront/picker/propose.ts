import type { PageMap } from '#core/contract/pageMap.ts';
import { allOf, allWordsOf, contains, everything, hostOf, parentOf } from './deep.ts';
import { best, bestInEach, together } from './naming.ts';
import {
  isControl,
  isDescription,
  isExpress,
  isQuantity,
  isStock,
  isSwitcher,
  isUnseen,
  priceIn,
  type Known,
} from './recognise.ts';
import { hostsAround } from './selectors.ts';
import { CART_NAME, CHECKOUT_NAME, MONEY } from './words.ts';

export type Draft = { -readonly [K in keyof PageMap]?: PageMap[K] };

const MOST_ABOVE = 8;

/**
 * A first proposal for a whole map from one page, made from structured data, the shop's own product addresses, forms that
 * post to a cart, and the words on buttons in many languages. What it does not see, it leaves out.
 */
export function proposeMap(page: Document, { pathname, origin }: URL, known: Known): Draft {
  const elements = [...everything(page)].filter((element) => !isUnseen(element));
  const controls = elements.filter(isControl);
  const cards = cardsOf(page, elements, controls, pathname, known);
  const product = productOf(page, elements, controls, cards, pathname);
  const draft: Draft = { site: origin };
  if (product) {
    draft.productPage = { path: pathPattern(pathname, known), area: best([product.area], page) ?? 'main' };
  }
  if (cards) draft.card = { area: cards.area, link: cards.link };

  const areas = [...(product ? [product.area] : []), ...(cards?.elements ?? [])];
  const inAreas = (element: Element) => areas.find((area) => contains(area, element));
  const ofAreas = controls.filter(inAreas);
  const express = elements.filter((element) => isExpress(element) && inAreas(element));
  const buying = ofAreas.filter((control) => !express.includes(control));
  const control = together(product ? [product.control] : [], buying, areas);
  if (control) draft.control = control;
  const quick = together(express, express, areas);
  if (quick) draft.express = quick;

  const prices = areas.flatMap((area) => priceIn(area, areas, elements, pathname, known));
  const price = together(prices, prices, areas);
  if (price) draft.price = price;
  if (product) {
    const { area } = product;
    const within = elements.filter((element) => inAreas(element) === area);
    const first = (what: (element: Element) => boolean) => within.find(what);
    const put = (key: keyof Draft, element: Element | undefined) => {
      const selector = element && best([element], area);
      if (selector) (draft as Record<string, unknown>)[key] = selector;
    };
    put(
      'title',
      first(({ localName }) => localName === 'h1'),
    );
    put('quantity', first(isQuantity));
    put('stock', first(isStock));
    put('description', first(isDescription));
    const switcher = within.filter((element) => isSwitcher(element, product.control));
    const variant = switcher.length > 0 ? best(switcher, area) : undefined;
    if (variant !== undefined) draft.variant = variant;
  }
  const hosts = [...new Set([...ofAreas, ...prices, ...areas].flatMap(hostsAround))];
  if (hosts.length > 0) draft.shadowHosts = hosts.join(', ');
  visitParts(page, elements, areas, pathname, draft);
  return draft;
}

interface Cards {
  readonly area: string;
  readonly link: string;
  readonly elements: readonly Element[];
}

/** What repeats around links to products. */
function cardsOf(
  page: Document,
  elements: readonly Element[],
  controls: readonly Element[],
  pathname: string,
  known: Known,
): Cards | undefined {
  const paths = new Set(known.products.map(({ path }) => path));
  const pathOf = (link: Element) => {
    const href = link.getAttribute('href') ?? link.getAttribute('data-href');
    try {
      return href === null ? null : new URL(href, page.baseURI).pathname;
    } catch {
      return null;
    }
  };
  const links = elements.filter((element) => {
    const path = element.matches('a[href], [data-href]') ? pathOf(element) : null;
    return path !== null && path !== pathname && paths.has(path);
  });
  const area = (link: Element): Element => {
    const path = pathOf(link);
    let around = link;
    for (let up = parentOf(around), far = 0; up && far < MOST_ABOVE; up = parentOf(up), far += 1) {
      const outer = up;
      if (outer.matches('body, main, html')) break;
      if (links.some((other) => pathOf(other) !== path && contains(outer, other))) break;
      if (controls.some((control) => contains(outer, control) && outer.querySelector('h1') !== null)) break;
      around = outer;
    }
    return around;
  };
  // A card that is alone ends where it has all that a card has: what is around could be the whole list.
  const isAlone = new Set(links.map(pathOf)).size === 1;
  const leastOf = (link: Element): Element => {
    const most = area(link);
    const hasControl = controls.some((control) => contains(most, control));
    for (let around: Element | null = link; around && contains(most, around); around = parentOf(around)) {
      const outer = around;
      const isWhole = !hasControl || controls.some((control) => contains(outer, control));
      if (isWhole && MONEY.test(allWordsOf(outer))) return outer;
    }
    return most;
  };
  // Links in menus and crumbs show no product.
  const found = [...new Set(links.map(isAlone ? leastOf : area))].filter(
    (element) => MONEY.test(allWordsOf(element)) || controls.some((control) => contains(element, control)),
  );
  if (found.length === 0) return undefined;
  const kinds = new Map<string, Element[]>();
  for (const element of found) {
    const kind = element.localName;
    kinds.set(kind, [...(kinds.get(kind) ?? []), element]);
  }
  const [most = []] = [...kinds.values()].sort((a, b) => b.length - a.length);
  const selector = best(most, page) ?? best(most.slice(0, 1), page);
  if (selector === undefined) return undefined;
  const all = allOf(page, selector);
  const [one] = all;
  const isLinkHere = one?.matches('a[href], [data-href]') && paths.has(pathOf(one) ?? '');
  const inside = all.flatMap((card) => links.filter((link) => contains(card, link) && link !== card).slice(0, 1));
  const link = isLinkHere ? (one?.matches('a') ? 'a' : '[data-href]') : (bestInEach(inside, all) ?? 'a');
  return { area: selector, link, elements: all };
}

/** The product that the page is about: what surrounds its heading and its control. */
function productOf(
  page: Document,
  elements: readonly Element[],
  controls: readonly Element[],
  cards: Cards | undefined,
  pathname: string,
): { area: Element; control: Element } | undefined {
  const isCard = (element: Element) => cards?.elements.some((card) => contains(element, card)) ?? false;
  const isInCard = (element: Element) => cards?.elements.some((card) => contains(card, element)) ?? false;
  const mine = controls.filter((control) => !isInCard(control) && !control.closest('header, footer, nav'));
  const headings = elements.filter((element) => element.matches('h1, [itemprop=name]') && !isInCard(element));
  const describesProduct = /"@type"\s*:\s*"(Product|ProductGroup)"/.test(
    [...page.querySelectorAll('script[type="application/ld+json"]')].map(({ textContent }) => textContent).join(),
  );
  const isMicrodata = page.querySelector('[itemtype$="schema.org/Product"]') !== null;
  if (pathname === '/' && !describesProduct && !isMicrodata) return undefined;
  const [heading] = headings;
  for (const control of mine) {
    for (let around = parentOf(control); around; around = parentOf(around)) {
      const outer = around;
      const money = MONEY.test(allWordsOf(outer));
      const named = heading === undefined || contains(outer, heading) || outer.matches('main, body');
      if (!(named && money) && !outer.matches('body')) continue;
      // A body is too much to be an area, a shadow root's content too little.
      const area = outer.matches('body') ? (control.closest('form')?.parentElement ?? outer) : lightOf(outer);
      return { area: holdingAll(area, mine, isCard), control };
    }
  }
  return undefined;
}

/** The area, or the one around it that holds the page's other controls too, a bar that stays in sight say. */
function holdingAll(area: Element, controls: readonly Element[], holdsCard: (element: Element) => boolean): Element {
  for (let around: Element | null = area; around && !around.matches('body'); around = parentOf(around)) {
    const outer = around;
    if (holdsCard(outer)) break;
    if (controls.every((control) => contains(outer, control))) return outer;
  }
  return area;
}

/** The host, for what is inside a shadow root. */
function lightOf(element: Element): Element {
  let light = element;
  for (let host = hostOf(light); host; host = hostOf(light)) light = host;
  return light;
}

function visitParts(
  page: Document,
  elements: readonly Element[],
  areas: readonly Element[],
  pathname: string,
  draft: Draft,
): void {
  const outside = elements.filter((element) => !areas.some((area) => contains(area, element)));
  const links = (name: RegExp) =>
    outside.filter((element) => {
      if (!element.matches('a[href]')) return false;
      const path = new URL(element.getAttribute('href') ?? '', page.baseURI).pathname;
      return name.test(path) && path !== pathname;
    });
  const cart = links(CART_NAME).filter((link) => !CHECKOUT_NAME.test(link.getAttribute('href') ?? ''));
  const checkout = links(CHECKOUT_NAME);
  const pathOf = (link: Element | undefined) =>
    link &&
    `^${new URL(link.getAttribute('href') ?? '', page.baseURI).pathname.replace(/[.*+?^${}()|[\]\\]/g, '\\$&').replace(/\/$/, '')}/?$`;
  const part = (found: readonly Element[]) => {
    const path = pathOf(found[0]);
    const selector = best(found, page) ?? best(found.slice(0, 1), page);
    return path !== undefined && selector !== undefined ? { path, links: selector } : undefined;
  };
  const cartPart = part(cart);
  if (cartPart) draft.cart = cartPart;
  const checkoutPart = part(checkout);
  if (checkoutPart) draft.checkout = checkoutPart;
}

/** A pattern for the paths of products' pages, from those that are known. */
export function pathPattern(pathname: string, { products }: Known): string {
  const paths = [...new Set([pathname, ...products.map(({ path }) => path)])];
  const parts = paths.map((path) => path.split('/').filter(Boolean));
  const depth = parts[0]?.length ?? 1;
  if (!parts.every(({ length }) => length === depth)) return '^/.+';
  const columns = Array.from({ length: depth - 1 }, (_, index) => [...new Set(parts.map((part) => part[index] ?? ''))]);
  const escape = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  const columnValues = columns.map((values) =>
    values.length === 1 ? escape(values[0] ?? '') : values.length <= 6 ? `(${values.map(escape).join('|')})` : '[^/]+',
  );
  return `^/${[...columnValues, '[^/]+'].join('/')}/?$`;
}
