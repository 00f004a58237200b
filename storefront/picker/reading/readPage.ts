import type { PageMap } from '#core/contract/pageMap.ts';
import { contains, hostOf, parentOf } from '../deep.ts';
import { best, together } from '../naming.ts';
import { hostsAround } from '../selectors.ts';
import { cardsOf, type Cards } from './cards.ts';
import { controlAmong, isExpress, isSubmit, rankedControls, type ControlContext } from './controls.ts';
import { descriptionIn, isStock, pressedVariants, quantityIn, variantFields } from './fields.ts';
import { productOfPage, type Known, type PageProduct } from './pageProduct.ts';
import { parametersIn } from './paths.ts';
import { pathPattern } from './pathPattern.ts';
import { besideOf, boxesOf, isChoice, rankedPrices, type Box } from './prices.ts';
import { PageView } from './pageView.ts';
import type { Scored } from './signs.ts';
import { cartPathsOf, visitParts } from './visit.ts';

export type Draft = { -readonly [K in keyof PageMap]?: PageMap[K] };

/** What was read off a page. */
export interface Reading {
  readonly map: Draft;
  /** Why the control and the price were taken for what they are, in words for the owner. */
  readonly why: { readonly control?: readonly string[]; readonly price?: readonly string[] };
}

/** What a page shows of one product. */
interface ProductParts {
  readonly area: Element;
  readonly controls: readonly Element[];
  readonly express: readonly Element[];
  readonly prices: readonly Element[];
  readonly beside: readonly Element[];
}

/**
 * A first proposal for a whole map from one page: each part is what most signs speak for, of structured data and the
 * catalog, of forms, of where things stand and how they are drawn, of what they are called, and last of words. What it does
 * not see, it leaves out.
 */
export function readPage(page: Document, url: URL, known: Known): Reading {
  const view = new PageView(page, url);
  const boxes = boxesOf(view);
  const { pressables } = view;
  const submits = pressables.filter(isSubmit);
  const cartPaths = cartPathsOf({ elements: view.elements, url, name: (element) => view.name(element) }, submits);
  const cards = cardsOf(view, boxes, pressables, known);
  const own = productOfPage(page, url, known);
  const seen = { boxes, pressables, cartPaths, cards, known };
  const onCards = (names: ReadonlySet<string>) =>
    (cards?.elements ?? []).map((card) => cardOn(card, view, seen, names));
  const namesIn = (shown: readonly ProductParts[]) =>
    new Set(shown.flatMap(({ controls }) => controls.map((control) => view.name(control))));
  // What is a control on some cards is one on all, and on the product's page.
  const found = productOn(view, { ...seen, own, names: namesIn(onCards(new Set())) });
  const called = namesIn(found?.shown.slice(0, 1) ?? []);
  const shownCards = onCards(new Set([...called, ...namesIn(onCards(called))]));

  const map: Draft = { site: url.origin };
  const [main] = found?.shown ?? [];
  if (found && main) {
    const area = found.shown.flatMap((one) => best([one.area], page) ?? []).join(', ');
    const parameters = parametersIn(known.products.map(({ path }) => path));
    map.productPage = {
      path: pathPattern(url.pathname, known),
      area: area || 'main',
      ...(parameters.length > 0 ? { parameters: [...parameters] } : {}),
    };
  }
  if (cards) map.card = { area: cards.area, link: cards.link };
  const shown = [...(found?.shown ?? []), ...shownCards];
  const areas = shown.map(({ area }) => area);
  const put = (key: 'control' | 'express' | 'price' | 'besidePrice', of: (one: ProductParts) => readonly Element[]) => {
    const wanted = shown.flatMap(of);
    const selector = together(main ? of(main).slice(0, 1) : [], wanted, areas);
    if (selector !== undefined) map[key] = selector;
  };
  put('control', ({ controls }) => controls);
  put('express', ({ express }) => express);
  put('price', ({ prices }) => prices);
  put('besidePrice', ({ beside }) => beside);
  if (main) putFields(map, main, own, view);
  const all = shown.flatMap(({ area, controls, prices }) => [area, ...controls, ...prices]);
  const hosts = [...new Set(all.flatMap(hostsAround))];
  if (hosts.length > 0) map.shadowHosts = hosts.join(', ');
  Object.assign(
    map,
    visitParts(
      view,
      areas,
      shown.flatMap(({ controls }) => controls),
    ),
  );
  return { map, why: found?.why ?? {} };
}

interface PageParts {
  readonly boxes: readonly Box[];
  readonly pressables: readonly Element[];
  readonly cartPaths: readonly string[];
  readonly cards: Cards | undefined;
  readonly known: Known;
}

/** The product that the page is about: its control and its price, and all that stands for them elsewhere on the page. */
function productOn(
  view: PageView,
  {
    boxes,
    pressables,
    cartPaths,
    cards,
    own,
    known,
    names,
  }: PageParts & Pick<ControlContext, 'names'> & { own: PageProduct },
): { shown: ProductParts[]; why: Reading['why'] } | undefined {
  const isInCard = (element: Element) => cards?.elements.some((card) => contains(card, element)) ?? false;
  if (!own.isCertain && (view.url.pathname === '/' || (cards?.elements.length ?? 0) > 3)) return undefined;
  const mine = pressables.filter((element) => !isInCard(element));
  const money = boxes.filter(({ element }) => !isInCard(element) && element.closest('nav, aside, footer') === null);
  const title = titleOf(view, own, isInCard);
  const priced = { prices: own.prices, exponent: known.exponent };
  const [roughly] = rankedPrices(money, priced, view, title);
  const around = { ids: own.ids, path: view.url.pathname, cartPaths, names };
  const controls = rankedControls(mine, { ...around, price: roughly?.candidate.element }, view);
  const control = controlAmong(controls, view);
  if (!control) return undefined;
  const [price] = rankedPrices(money, priced, view, control.candidate);
  const isSame = (element: Element) => view.name(element) !== '' && view.name(element) === view.name(control.candidate);
  const others = controls
    .filter(({ candidate }) => candidate !== control.candidate && isSame(candidate))
    .map(({ candidate }) => candidate);
  const alsoPrices = price
    ? money.filter(
        (box) => box !== price.candidate && isFree(box.element, view) && isSaidAgain(box, price.candidate, money, view),
      )
    : [];
  const prices = [...(price ? [price.candidate] : []), ...alsoPrices].map(({ element }) => element);
  const express = mine.filter((element) => isExpress(element, control.candidate, view));
  const holdsAll = title !== undefined && price !== undefined && control.score >= SURE;
  if (!own.isCertain && !holdsAll) return undefined;
  const area = areaAround([control.candidate, ...prices.slice(0, 1)], title, cards, view);
  if (!own.isCertain && title && !contains(area, title)) return undefined;
  const inside = (element: Element) => contains(area, element);
  const beside = prices[0] ? besideOf(prices[0], money, view, area) : [];
  const main: ProductParts = {
    area,
    controls: [control.candidate, ...others.filter(inside)],
    express: express.filter(inside),
    prices: prices.filter(inside),
    beside,
  };
  // A bar that stays in sight, a second place to buy.
  const away = others
    .filter((element) => !inside(element))
    .map((other): ProductParts => {
      const alone = areaAround([other, ...prices.filter((element) => !inside(element))], undefined, cards, view);
      return {
        area: alone,
        controls: [other],
        express: [],
        prices: prices.filter((element) => contains(alone, element)),
        beside: [],
      };
    });
  return {
    shown: [main, ...away.filter((one) => !contains(one.area, area))],
    why: { control: reasonsOf(control), ...(price ? { price: reasonsOf(price) } : {}) },
  };
}

/** Where nothing says that a page is about a product, its control must be plain. */
const SURE = 9;

const reasonsOf = <T>({ reasons }: Scored<T>) => reasons.slice(0, 3);

const isFree = (element: Element, view: PageView) =>
  !view.isStruck(element) && !isChoice(element) && element.closest('a') === null;

/** Whether a box says the price once more, as a price: in as few words, and in no list of prices by number. */
function isSaidAgain(box: Box, price: Box, boxes: readonly Box[], view: PageView): boolean {
  const isSame = ({ amount }: Box) => amount.digits === price.amount.digits;
  const list = box.element.closest('table, ul, ol, dl, [role=table], [role=list]');
  const isListed = list !== null && boxes.some((other) => !isSame(other) && contains(list, other.element));
  const isShort = view.text(box.element).length <= view.text(price.element).length + 12;
  return isSame(box) && isShort && !isListed;
}

/** What shows one product on a listing. */
function cardOn(
  card: Element,
  view: PageView,
  { boxes, pressables, cartPaths, cards, known }: PageParts,
  names: ReadonlySet<string>,
): ProductParts {
  const path = cards?.pathOf(card) ?? null;
  const product = known.products.find((one) => one.path === path);
  const money = boxes.filter(({ element }) => contains(card, element));
  const mine = pressables.filter((element) => element !== card && contains(card, element) && !element.contains(card));
  const priced = { prices: product?.prices ?? [], exponent: known.exponent };
  const [price] = rankedPrices(money, priced, view, undefined);
  const ids = new Set(product ? [product.id, ...product.variants] : []);
  const controls = rankedControls(mine, { price: price?.candidate.element, ids, path, cartPaths, names }, view);
  const control = controlAmong(controls, view);
  return {
    area: card,
    controls: control ? [control.candidate] : [],
    express: control ? mine.filter((element) => isExpress(element, control.candidate, view)) : [],
    prices: price ? [price.candidate.element] : [],
    beside: price ? besideOf(price.candidate.element, money, view, card) : [],
  };
}

const letters = (text: string) =>
  text
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();

/** What names the page's product. */
function titleOf(
  view: PageView,
  { titles }: PageProduct,
  isInCard: (element: Element) => boolean,
): Element | undefined {
  const known = titles.map(letters).filter((title) => title !== '');
  const candidates = view.elements.filter(
    (element) =>
      element.matches('h1, h2, [role=heading], [itemprop=name], [class*=title], [class*=name]') &&
      !isInCard(element) &&
      element.closest('nav, footer') === null,
  );
  const lettersOf = (element: Element) => letters(view.text(element));
  return (
    candidates.find(
      (element) => known.some((title) => lettersOf(element).includes(title)) && lettersOf(element).length < 120,
    ) ?? candidates.find((element) => element.matches('h1, [aria-level="1"]'))
  );
}

/** The smallest element around all of them, with the title too as long as that is not the whole page. */
function areaAround(
  parts: readonly Element[],
  title: Element | undefined,
  cards: Cards | undefined,
  view: PageView,
): Element {
  const around = (elements: readonly Element[]) => {
    for (let at: Element | null = elements[0] ?? null; at; at = parentOf(at)) {
      const outer = at;
      if (elements.every((element) => outer !== element && contains(outer, element))) return lightOf(outer);
    }
    return view.page.body;
  };
  const isTooMuch = (element: Element) =>
    element.matches('body, html') || (cards?.elements.some((card) => contains(card, element)) ?? false);
  const withTitle = title ? around([...parts, title]) : undefined;
  if (withTitle && !isTooMuch(withTitle)) return withTitle;
  const withoutTitle = around(parts);
  if (!isTooMuch(withoutTitle)) return withoutTitle;
  // Where all of it lies flat in the page, the page is the area; what is on cards is theirs all the same.
  return parts.length > 1 ? view.page.body : around(parts);
}

/** The host, for what is inside a shadow root. */
function lightOf(element: Element): Element {
  let light = element;
  for (let host = hostOf(light); host; host = hostOf(light)) light = host;
  return light;
}

function putFields(map: Draft, { area, controls }: ProductParts, { ids, titles }: PageProduct, view: PageView): void {
  const [control] = controls;
  if (!control) return;
  const beside = { area, control, ids };
  const put = (key: 'title' | 'quantity' | 'stock' | 'description', element: Element | undefined) => {
    const selector = element && best([element], area);
    if (selector !== undefined) map[key] = selector;
  };
  const within = view.elements.filter((element) => contains(area, element));
  const title = titleOf(view, { titles } as PageProduct, (element) => !contains(area, element));
  put('title', title);
  const quantity = quantityIn(beside, view);
  put('quantity', quantity);
  put(
    'stock',
    within.find((element) => isStock(element, view)),
  );
  put('description', descriptionIn(area, view));
  const fields = variantFields(beside, quantity, view);
  const isSeen = fields.some((field) => field.matches(':not([type=hidden])'));
  const found = isSeen ? undefined : pressedVariants(beside, view);
  // A class may say something else than what is chosen; a hidden field that is sent says that.
  const pressed = fields.length === 0 || found?.state.startsWith('[') ? found : undefined;
  const elements = pressed?.elements ?? fields;
  const variant = elements.length > 0 ? best(elements, area) : undefined;
  if (variant === undefined) return;
  map.variant = pressed ? `:is(${variant})${pressed.state}` : variant;
  if (pressed && pressed.attribute !== 'value') map.variantAttribute = pressed.attribute;
}
