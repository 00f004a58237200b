import type { PageMap } from '#core/contract/pageMap.ts';
import type { PickerStart } from '#core/contract/pageMapCalls.ts';
import { allOf, contains, everything, hostOf, parentOf, wordsOf } from './deep.ts';
import { hostsAround, proposals } from './selectors.ts';
import { ADD_TO_CART, CART_NAME, CHECKOUT_NAME, EXPRESS_NAME, MONEY } from './words.ts';

export type Draft = { -readonly [K in keyof PageMap]?: PageMap[K] };

type Known = Pick<PickerStart, 'products' | 'exponent'>;

const PRESSABLE = 'button, input[type=submit], input[type=button], input[type=image], a, [role=button]';
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
  const own = controls.filter(inAreas);
  const express = elements.filter((element) => isExpress(element) && inAreas(element));
  const buying = own.filter((control) => !express.includes(control));
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
    const put = <K extends keyof Draft>(key: K, element: Element | undefined) => {
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
  const hosts = [...new Set([...own, ...prices, ...areas].flatMap(hostsAround))];
  if (hosts.length > 0) draft.shadowHosts = hosts.join(', ');
  visitParts(page, elements, areas, pathname, draft);
  return draft;
}

const isUnseen = (element: Element) =>
  element.closest('head, script, style, noscript, template') !== null ||
  element.hasAttribute('data-understudy-stand-in');

const formActionOf = (element: Element) =>
  element.getAttribute('formaction') ?? element.closest('form')?.getAttribute('action') ?? '';

const namesOf = (element: Element) =>
  ['id', 'class', 'name', 'href', 'part', 'data-action', 'aria-label', 'value', 'itemprop', 'rel']
    .map((name) => element.getAttribute(name) ?? '')
    .join(' ');

/** A button that puts something into the cart: by its words, its names, or where its form goes. */
function isControl(element: Element): boolean {
  if (!element.matches(PRESSABLE) || isExpress(element)) return false;
  const words = wordsOf(element);
  if (words.length > 60) return false;
  const isSubmit =
    (element.matches('button') && !/^(button|reset)$/.test(element.getAttribute('type') ?? 'submit')) ||
    element.matches('input[type=submit], input[type=image]');
  if (
    isSubmit &&
    CART_NAME.test(formActionOf(element)) &&
    !/remove|delete|update|take-out|empty/i.test(formActionOf(element) + namesOf(element))
  )
    return true;
  if (element.matches('a') && CART_NAME.test(element.getAttribute('href') ?? '') && !ADD_TO_CART.test(words))
    return false;
  return ADD_TO_CART.test(words) || (/add[-_ ]?to[-_ ]?(cart|basket|bag)/i.test(namesOf(element)) && words !== '');
}

const isExpress = (element: Element) =>
  element.matches(PRESSABLE) &&
  EXPRESS_NAME.test(`${namesOf(element)} ${wordsOf(element).slice(0, 60)} ${formActionOf(element)}`);

const isQuantity = (element: Element) =>
  element.matches('input[type=number], input[inputmode=numeric], select, input[type=text]') &&
  /qty|quantit|menge|anzahl|cantidad|quantidade|antal|aantal|amount|units|ilosc/i.test(
    namesOf(element) + (element.closest('label')?.textContent ?? ''),
  );

const isStock = (element: Element) =>
  element.children.length === 0 &&
  (/stock|availab|verf(ü|u)gbar|dispon|lager|voorraad|skladem/i.test(namesOf(element)) ||
    /^\W*(\d+\s+)?(in stock|out of stock|en stock|auf lager|épuisé|esaurito|agotado)\b/i.test(wordsOf(element)));

const isDescription = (element: Element) =>
  element.matches(
    '[itemprop=description], [class*=descr], [id*=descr], [class*=details], [part*=details], [data-details]',
  );

/** Something by which a variant is chosen: the field whose value goes along with the control. */
function isSwitcher(element: Element, control: Element): boolean {
  if (!element.matches('select, input[type=radio], input[type=hidden]') || isQuantity(element)) return false;
  const names = `${element.getAttribute('name') ?? ''} ${element.id} ${element.className}`;
  const speaks = /variant|sku|option|size|pack|article|item|product|^id\b|taille|gr(ö|o)(ß|ss)e|format|pot/i.test(
    names,
  );
  const form = control.closest('form');
  const isInForm = form?.contains(element) ?? false;
  return speaks && !/csrf|token|return|redirect|_method/i.test(names) && (isInForm || element.localName === 'select');
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
  // Links in menus and crumbs show no product.
  const found = [...new Set(links.map(area))].filter(
    (element) => MONEY.test(wordsOf2(element)) || controls.some((control) => contains(element, control)),
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
  const isOwn = one?.matches('a[href], [data-href]') && paths.has(pathOf(one) ?? '');
  const inside = all.flatMap((card) => links.filter((link) => contains(card, link) && link !== card).slice(0, 1));
  const link = isOwn ? (one?.matches('a') ? 'a' : '[data-href]') : (bestInEach(inside, all) ?? 'a');
  return { area: selector, link, elements: all };
}

/** The text of an element, with that of its shadow root. */
const wordsOf2 = (element: Element): string =>
  wordsOf(element) +
  (element.shadowRoot ? [...element.shadowRoot.children].map(wordsOf).join(' ') : '') +
  [...element.querySelectorAll('*')]
    .map(({ shadowRoot }) => (shadowRoot ? [...shadowRoot.children].map(wordsOf).join(' ') : ''))
    .join(' ');

/** The product that the page is about: what surrounds its heading and its control. */
function productOf(
  page: Document,
  elements: readonly Element[],
  controls: readonly Element[],
  cards: Cards | undefined,
  pathname: string,
): { area: Element; control: Element } | undefined {
  const isInCard = (element: Element) => cards?.elements.some((card) => contains(card, element)) ?? false;
  const mine = controls.filter((control) => !isInCard(control) && !control.closest('header, footer, nav'));
  const headings = elements.filter((element) => element.matches('h1, [itemprop=name]') && !isInCard(element));
  const says = /"@type"\s*:\s*"(Product|ProductGroup)"/.test(
    [...page.querySelectorAll('script[type="application/ld+json"]')].map(({ textContent }) => textContent).join(),
  );
  const isMicrodata = page.querySelector('[itemtype$="schema.org/Product"]') !== null;
  if (pathname === '/' && !says && !isMicrodata) return undefined;
  const [heading] = headings;
  for (const control of mine) {
    for (let around = parentOf(control); around; around = parentOf(around)) {
      const outer = around;
      const money = MONEY.test(wordsOf2(outer));
      const named = heading === undefined || contains(outer, heading) || outer.matches('main, body');
      if (!(named && money) && !outer.matches('body')) continue;
      // A body is too much to be an area, a shadow root's content too little.
      const area = outer.matches('body') ? (control.closest('form')?.parentElement ?? outer) : lightOf(outer);
      return { area, control };
    }
  }
  return undefined;
}

/** The host, for what is inside a shadow root. */
function lightOf(element: Element): Element {
  let light = element;
  for (let host = hostOf(light); host; host = hostOf(light)) light = host;
  return light;
}

/** The price of an area: the innermost text of money nearest its control, the shop's own amount first. */
function priceIn(
  area: Element,
  areas: readonly Element[],
  elements: readonly Element[],
  pathname: string,
  { products, exponent }: Known,
): Element[] {
  const inner = areas.filter((other) => other !== area && contains(area, other));
  const within = elements.filter(
    (element) => contains(area, element) && element !== area && !inner.some((other) => contains(other, element)),
  );
  const money = within.filter(
    (element) =>
      !element.matches('option, del, s, strike, script, button, a, label, input') &&
      !element.closest(
        'del, s, strike, [class*=was], [class*=old], [class*=before], [class*=shipping], [class*=delivery]',
      ) &&
      MONEY.test(wordsOf(element)) &&
      wordsOf(element).length <= 40,
  );
  // The outermost that says nothing else, so that its "from" goes along.
  const whole = money.filter((element) => {
    const around = parentOf(element);
    return !around || !money.includes(around);
  });
  const own = products.find(({ path }) => path === pathname)?.prices ?? [];
  const amounts = new Set(own.map((price) => (price / 10 ** exponent).toFixed(exponent).replace(/\D/g, '')));
  const ranked = [
    ...whole.filter((element) => element.matches('[itemprop=price], [class*=price], [part*=price], [data-price]')),
    ...whole.filter((element) => amounts.has(wordsOf(element).replace(/\D/g, ''))),
    ...whole,
  ];
  return ranked.slice(0, 1);
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

/** The likeliest selector that finds just these. */
function best(wanted: readonly Element[], tree: Document | Element): string | undefined {
  const found = proposals(wanted, tree);
  return (found.find(({ found }) => found === wanted.length) ?? found[0])?.selector;
}

/** One selector that finds one thing in each area. */
function bestInEach(wanted: readonly Element[], areas: readonly Element[]): string | undefined {
  const [first] = wanted;
  const area = first && areas.find((candidate) => contains(candidate, first));
  if (!first || !area) return undefined;
  const candidates = proposals([first], area);
  const hits = (selector: string) =>
    areas.filter((candidate) => wanted.some((element) => contains(candidate, element) && element.matches(selector)))
      .length;
  return candidates.map(({ selector }) => ({ selector, hits: hits(selector) })).sort((a, b) => b.hits - a.hits)[0]
    ?.selector;
}

/** Selectors, joined, that find in every area what was seen there. */
function together(
  first: readonly Element[],
  wanted: readonly Element[],
  areas: readonly Element[],
): string | undefined {
  const left = new Set([...first, ...wanted]);
  const selectors: string[] = [];
  while (left.size > 0 && selectors.length < 4) {
    const [element] = left;
    const area = element && areas.findLast((candidate) => contains(candidate, element));
    if (!element || !area) break;
    // One that reaches the most of what is left, and nothing that is not wanted.
    const [next] = proposals([element], area)
      .map(({ selector, found }, rank) => {
        const all = areas.flatMap((candidate) => allOf(candidate, selector));
        const right = [...left].filter((candidate) => all.includes(candidate)).length;
        const wrong = new Set(all.filter((candidate) => ![...first, ...wanted].includes(candidate))).size;
        return { selector, score: right * 2 - wrong * 3 - rank * 0.5 - found };
      })
      .sort((a, b) => b.score - a.score);
    if (!next) break;
    selectors.push(next.selector);
    const reached = new Set(areas.flatMap((candidate) => allOf(candidate, next.selector)));
    for (const candidate of [...left]) if (reached.has(candidate)) left.delete(candidate);
    left.delete(element);
  }
  return selectors.length > 0 ? selectors.join(', ') : undefined;
}

/** A pattern for the paths of products' pages, from those that are known. */
export function pathPattern(pathname: string, { products }: Known): string {
  const paths = [...new Set([pathname, ...products.map(({ path }) => path)])];
  const parts = paths.map((path) => path.split('/').filter(Boolean));
  const depth = parts[0]?.length ?? 1;
  if (!parts.every(({ length }) => length === depth)) return '^/.+';
  const columns = Array.from({ length: depth - 1 }, (_, index) => [...new Set(parts.map((part) => part[index] ?? ''))]);
  const escape = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  const said = columns.map((values) =>
    values.length === 1 ? escape(values[0] ?? '') : values.length <= 6 ? `(${values.map(escape).join('|')})` : '[^/]+',
  );
  return `^/${[...said, '[^/]+'].join('/')}/?$`;
}
