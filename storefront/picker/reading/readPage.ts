import { contains } from '../deep.ts';
import { best, bestInEach, together } from '../naming.ts';
import { hostsAround } from '../selectors.ts';
import { cardsAmong, cardsOf, DIALOG, goodsOn, type Cards, type Goods } from './cards.ts';
import { controlAmong, isExpress, isSubmit, rankedControls, type ControlContext } from './controls.ts';
import { descriptionIn, isStock, pressedVariants, quantityIn, variantFields } from './fields.ts';
import { productOfPage, type Known, type PageProduct } from './pageProduct.ts';
import { parametersIn } from './paths.ts';
import type { Draft, PageKind, Reading } from './reading.ts';
import { areaAround, titleOf } from './productArea.ts';
import { pathPattern } from './pathPattern.ts';
import { besideOf, boxesOf, isChoice, rankedPrices, type Box } from './prices.ts';
import { PageView } from './pageView.ts';
import type { Scored } from './signs.ts';
import { cartPathsOf, visitParts } from './visit.ts';
import { cartOn, checkoutOn } from './visitPages.ts';

/** Parts of one product on a page. */
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
  const goods = goodsOn(view, known);
  const all = cardsOf(view, boxes, pressables, goods);
  const own = productOfPage(page, url, known);
  const cart = own.isCertain ? undefined : cartOn(view, { boxes, pressables, cards: all, goods });
  const checkout = own.isCertain || cart ? undefined : checkoutOn(view, { boxes, pressables });
  // Items at the checkout are marked up like the cart's.
  const cards = cart ? withoutLines(all, cart.lines, goods, page) : checkout ? undefined : all;
  const lines = cart?.lines ?? (checkout ? all : undefined);
  const seen = { boxes, pressables, cartPaths, goods, known };
  const onCards = (names: ReadonlySet<string>) =>
    (cards?.elements ?? []).map((card) => partsOn(card, cards?.linkOf(card), view, { ...seen, names }));
  const namesIn = (shown: readonly ProductParts[]) =>
    new Set(shown.flatMap(({ controls }) => controls.map((control) => view.name(control))));
  // A control of some cards is one on all cards and on the product's page.
  const names = namesIn(onCards(new Set()));
  const found = cart || checkout ? undefined : productOn(view, { ...seen, cards, own, names });
  const called = namesIn(found?.shown.slice(0, 1) ?? []);
  const allNames = new Set([...called, ...namesIn(onCards(called))]);
  const shownCards = onCards(allNames);
  const quick = found ? undefined : quickViewOn(view, { ...seen, names: allNames });

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
  if (quick) map.quickView = quick.map;
  if (lines) map.cartLine = { area: lines.area, link: lines.link };
  const shown = [...(found?.shown ?? []), ...shownCards, ...(quick ? [quick.shown] : [])];
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
  const inRoots = shown.flatMap(({ area, controls, prices }) => [area, ...controls, ...prices]);
  const hosts = [...new Set(inRoots.flatMap(hostsAround))];
  if (hosts.length > 0) map.shadowHosts = hosts.join(', ');
  const leads = visitParts(
    view,
    areas,
    shown.flatMap(({ controls }) => controls),
  );
  for (const key of ['cart', 'checkout'] as const) {
    const part = { ...leads[key], ...(cart?.map ?? checkout)?.[key] };
    if (Object.keys(part).length > 0) map[key] = part;
  }
  const kinds: readonly (PageKind | false)[] = [
    found !== undefined && 'product',
    cart !== undefined && 'cart',
    checkout !== undefined && 'checkout',
    quick !== undefined && 'quickView',
    !found && !cart && !checkout && cards !== undefined && (isSearch(view) ? 'search' : 'listing'),
  ];
  return { map, why: found?.why ?? {}, kinds: kinds.filter((kind) => kind !== false) };
}

/** Whether the address holds a search, by the name of a search field. */
const isSearch = ({ page, url }: PageView) =>
  [...page.querySelectorAll('input[type=search], [role=search] input, search input')].some(
    (field) => (url.searchParams.get(field.getAttribute('name') ?? '') ?? '') !== '',
  );

/** The products beside a cart. */
function withoutLines(all: Cards | undefined, lines: Cards, { links }: Goods, page: Document): Cards | undefined {
  const others = (all?.elements ?? []).filter((card) => !lines.elements.includes(card));
  return others.length > 0 ? cardsAmong(others, links, page) : undefined;
}

/** A product in an overlay. */
function quickViewOn(view: PageView, parts: AreaParts): { map: Draft['quickView']; shown: ProductParts } | undefined {
  const { boxes, goods } = parts;
  const dialog = view.elements.find(
    (element) =>
      element.matches(DIALOG) &&
      view.size(element) > 0 &&
      boxes.some((box) => contains(element, box.element)) &&
      new Set(goods.links.filter((link) => contains(element, link)).map(goods.pathOf)).size === 1,
  );
  const link = dialog && goods.links.find((one) => contains(dialog, one));
  if (!dialog || !link) return undefined;
  const [area, named] = [best([dialog], view.page), bestInEach([link], [dialog])];
  const shown = partsOn(dialog, link, view, parts);
  return area === undefined || named === undefined || shown.controls.length === 0
    ? undefined
    : { map: { area, link: named }, shown };
}

interface AreaParts extends Pick<ControlContext, 'cartPaths' | 'names'> {
  readonly boxes: readonly Box[];
  readonly pressables: readonly Element[];
  readonly goods: Goods;
  readonly known: Known;
}

interface PageParts extends AreaParts {
  readonly cards: Cards | undefined;
  readonly own: PageProduct;
}

/** Finds the page's product: its control, its price, and their counterparts elsewhere on the page. */
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
  const title = titleOf(view, own.titles, isInCard);
  const priced = { prices: own.prices, exponent: known.exponent };
  const [roughly] = rankedPrices(money, priced, view, title);
  const around = { ids: own.ids, product: own.id, path: view.url.pathname, cartPaths, names };
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

/** Minimum score of a control on a page without other signs of a product page. */
const SURE = 9;

const reasonsOf = <T>({ reasons }: Scored<T>) => reasons.slice(0, 3);

const isFree = (element: Element, view: PageView) =>
  !view.isStruck(element) && !isChoice(element) && element.closest('a') === null;

/** Whether a box says the price once more, as a price: in as few words, and in no list of prices by number. */
function isSaidAgain(box: Box, price: Box, boxes: readonly Box[], view: PageView): boolean {
  const isSame = ({ amount }: Box) => amount.digits === price.amount.digits;
  const list = box.element.closest('table, ul, ol, dl, [role=table], [role=list]');
  const isListed = list !== null && boxes.some((other) => !isSame(other) && contains(list, other.element));
  const isShort = view.text(box.element).length <= view.text(price.element).length;
  return isSame(box) && isShort && !isListed;
}

/** Finds the parts of one product among others, or in a dialog. */
function partsOn(
  card: Element,
  link: Element | undefined,
  view: PageView,
  { boxes, pressables, cartPaths, goods, known, names }: AreaParts,
): ProductParts {
  const path = link ? goods.pathOf(link) : null;
  const product = known.products.find((one) => one.path === path);
  const money = boxes.filter(({ element }) => contains(card, element));
  const mine = pressables.filter((element) => element !== card && contains(card, element) && !element.contains(card));
  const priced = { prices: product?.prices ?? [], exponent: known.exponent };
  const [price] = rankedPrices(money, priced, view, undefined);
  const ids = new Set(product ? [product.id, ...product.variants] : []);
  const controls = rankedControls(
    mine,
    { price: price?.candidate.element, ids, product: product?.id, path, cartPaths, names },
    view,
  );
  const control = controlAmong(controls, view);
  return {
    area: card,
    controls: control ? [control.candidate] : [],
    express: control ? mine.filter((element) => isExpress(element, control.candidate, view)) : [],
    prices: price ? [price.candidate.element] : [],
    beside: price ? besideOf(price.candidate.element, money, view, card) : [],
  };
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
  const title = titleOf(view, titles, (element) => !contains(area, element));
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
  // A class may not match the choice; a hidden field that is sent does.
  const pressed = fields.length === 0 || found?.state.startsWith('[') ? found : undefined;
  const elements = pressed?.elements ?? fields;
  const variant = elements.length > 0 ? best(elements, area) : undefined;
  if (variant === undefined) return;
  map.variant = pressed ? `:is(${variant})${pressed.state}` : variant;
  if (pressed && pressed.attribute !== 'value') map.variantAttribute = pressed.attribute;
}
