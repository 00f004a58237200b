import type { PageMap } from '#core/contract/pageMap.ts';
import type { AskDecisions } from '#core/contract/storefront.ts';
import { STAND_IN } from './marks.ts';
import { closest, findAll } from './roots.ts';

export type Surface = AskDecisions['surface'];

/** A part of the page that shows one product: its own page, its card on a listing, a quick view, a line of the cart. */
export interface Area {
  readonly element: Element;
  readonly path: string;
  readonly surface: Surface;
  /** What leads to the product; the area itself on the product's own page. */
  readonly link: Element;
}

/** Which page of the shop this is, as far as the visit is concerned. */
export function pageOf({ cart, checkout }: PageMap): 'cart' | 'checkout' | null {
  const is = (path: string | undefined) => path !== undefined && new RegExp(path).test(location.pathname);
  return is(checkout?.path) ? 'checkout' : is(cart?.path) ? 'cart' : null;
}

/** Every selector of something that shows a product. */
export function areasIn(pageMap: PageMap): string {
  let list = known.get(pageMap);
  if (list === undefined) {
    const { productPage, card, quickView, cartLine } = pageMap;
    list = [productPage, card, quickView, cartLine].flatMap((shown) => shown?.area ?? []).join();
    known.set(pageMap, list);
  }
  return list;
}
const known = new WeakMap<PageMap, string>();

export const isProductPage = ({ productPage }: PageMap) => new RegExp(productPage.path).test(location.pathname);

/** Every product that the page shows now. */
export function findAreas(pageMap: PageMap): Area[] {
  const { productPage, card, quickView, cartLine } = pageMap;
  const areas: Area[] = [];
  if (isProductPage(pageMap)) {
    for (const element of findAll(document, productPage.area, pageMap)) {
      areas.push({ element, path: location.pathname, surface: 'product', link: element });
    }
  }
  const add = (shown: PageMap['card'] | undefined, surface: Surface) => {
    for (const element of findAll(document, shown?.area, pageMap)) {
      const link = element.matches(shown!.link) ? element : findAll(element, shown!.link, pageMap)[0];
      const path = link && addressOf(link);
      if (link && path) areas.push({ element, path, surface, link });
    }
  };
  add(card, 'listing');
  add(quickView, 'quickView');
  add(cartLine, pageOf(pageMap) ?? 'cart');
  return areas;
}

function addressOf(link: Element): string | null {
  if (link instanceof HTMLAnchorElement && link.hasAttribute('href')) return link.pathname;
  const href = link.getAttribute('href') ?? link.getAttribute('data-href');
  try {
    return href === null ? null : new URL(href, document.baseURI).pathname;
  } catch {
    return null;
  }
}

/** The area that something in the page belongs to. */
export function areaOf(node: Node, pageMap: PageMap): Element | null {
  const element = node instanceof Element ? node : node instanceof ShadowRoot ? node.host : node.parentElement;
  return element && closest(element, areasIn(pageMap));
}

/** The parts of an area that are its own: those of a card inside a product's page are the card's. */
export function partsOf(area: Element, pageMap: PageMap, selector: string | undefined): Element[] {
  const areas = areasIn(pageMap);
  return findAll(area, selector, pageMap).filter(
    (part) => !part.hasAttribute(STAND_IN) && closest(part, areas) === area,
  );
}

/** Ids by which pages said, with an event, which variant was chosen. */
const said = new WeakMap<Element, string>();

/** Keeps what an event of the page says was chosen, for the area that it came from, or else the product's page. */
export function hearVariant(event: Event, pageMap: PageMap): void {
  let id: unknown = (event as CustomEvent<unknown>).detail;
  for (const name of pageMap.variantEvent?.detail.split('.') ?? []) id = (id as Record<string, unknown> | null)?.[name];
  const target = event.composedPath()[0];
  const from = target instanceof Element ? closest(target, areasIn(pageMap)) : null;
  const area = from ?? findAll(document, pageMap.productPage.area, pageMap)[0];
  if (area && (typeof id === 'string' || typeof id === 'number')) said.set(area, String(id));
}

/** The variant that an area's switcher, its event or the address has chosen; undefined when none does. */
export function chosenVariant({ element, surface }: Area, pageMap: PageMap): string | undefined {
  const heard = said.get(element);
  if (heard !== undefined) return heard;
  const { variant, variantParameter } = pageMap;
  for (const field of partsOf(element, pageMap, variant) as (HTMLInputElement | HTMLSelectElement)[]) {
    const isRadio = field instanceof HTMLInputElement && field.type === 'radio';
    if (!isRadio || field.checked) return field.value || field.getAttribute('value') || undefined;
  }
  const isOwnPage = surface === 'product' && variantParameter !== undefined;
  return (isOwnPage && new URLSearchParams(location.search).get(variantParameter)) || undefined;
}
