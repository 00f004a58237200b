import type { ScriptPageMap as PageMap } from '#core/contract/pageMap.ts';
import type { AskDecisions } from '#core/contract/storefront.ts';
import { areaSelectors, areasOn, partsOn, type Page, type PartsOf } from '#core/places/find.ts';
import { addressIn } from '../shared/address.ts';
import { STAND_IN } from './marks.ts';
import { closest, findAll } from './roots.ts';

export type Surface = AskDecisions['surface'];

/** A part of the page that shows one product: its own page, its card on a listing, a quick view, a line of the cart. */
export interface Area {
  readonly element: Element;
  readonly path: string;
  readonly surface: Surface;
  /** Link to the product; the area itself on the product's own page. */
  readonly link: Element;
  /** Its parts that a selector finds, as they are when it is first asked for. */
  readonly parts: (selector: string | undefined) => readonly Element[];
}

const isAt = (path: string | undefined) => path !== undefined && new RegExp(path).test(location.pathname);

/** Whether this page is the cart or the checkout. */
export const pageOf = ({ cart, checkout }: PageMap): 'cart' | 'checkout' | null =>
  isAt(checkout?.path) ? 'checkout' : isAt(cart?.path) ? 'cart' : null;

/** Every selector of something that shows a product. */
export const areasIn = (pageMap: PageMap): string => areaSelectors(pageMap).join();

export const isProductPage = ({ productPage }: PageMap): boolean => isAt(productPage.path);

/** Surface of the page as a whole. */
export const surfaceOf = (pageMap: PageMap): Surface =>
  pageOf(pageMap) ?? (isProductPage(pageMap) ? 'product' : 'listing');

/** This page, without our own stand-ins. */
function thisPage(pageMap: PageMap): Page<Element> {
  const areas = areasIn(pageMap);
  return {
    isProductPage: isProductPage(pageMap),
    all: (selector) => findAll(document, selector, pageMap).filter((element) => !element.hasAttribute(STAND_IN)),
    areaAround: (element) => closest(element, areas),
  };
}

export const partsOnPage = (pageMap: PageMap): PartsOf<Element> => partsOn(thisPage(pageMap));

/** Every product that the page shows now, on the product's own page first. */
export function areasOnPage(pageMap: PageMap, partsOf = partsOnPage(pageMap)): Area[] {
  return areasOn(thisPage(pageMap), pageMap, partsOf).flatMap(({ surface, element, link }) => {
    const url = surface === 'product' ? location : urlOf(link);
    if (!url || !link) return [];
    return {
      element,
      path: addressIn(url, pageMap.productPage.parameters),
      // The checkout shows cart lines too.
      surface: surface === 'cart' ? (pageOf(pageMap) ?? surface) : surface,
      link,
      parts: (selector) => partsOf(element, selector),
    };
  });
}

function urlOf(link: Element | undefined): URL | null {
  try {
    const href = link?.getAttribute('href') ?? link?.getAttribute('data-href');
    return href ? new URL(href, document.baseURI) : null;
  } catch {
    return null;
  }
}

/** The area that something in the page belongs to. */
export function areaOf(node: Node, pageMap: PageMap): Element | null {
  const element = node instanceof Element ? node : node instanceof ShadowRoot ? node.host : node.parentElement;
  return element && closest(element, areasIn(pageMap));
}

/** Ids by which pages said, with an event, which variant was chosen. */
const lastChoices = new WeakMap<Element, string>();

/** Keeps what an event of the page says was chosen, for the area that it came from, or else the product's page. */
export function rememberChosenVariant(event: Event, pageMap: PageMap): void {
  let id: unknown = (event as CustomEvent<unknown>).detail;
  for (const name of pageMap.variantEvent?.detail.split('.') ?? []) id = (id as Record<string, unknown> | null)?.[name];
  const target = event.composedPath()[0];
  const from = target instanceof Node ? areaOf(target, pageMap) : null;
  const area = from ?? findAll(document, pageMap.productPage.area, pageMap)[0];
  if (area && (typeof id === 'string' || typeof id === 'number')) lastChoices.set(area, String(id));
}

/** The variant that an area's switcher, its event or the address has chosen; undefined when none does. */
export function chosenVariant({ element, surface, parts }: Area, pageMap: PageMap): string | undefined {
  const lastChoice = lastChoices.get(element);
  if (lastChoice !== undefined) return lastChoice;
  const { variant, variantParameter } = pageMap;
  for (const field of parts(variant) as (HTMLInputElement | HTMLSelectElement)[]) {
    const isRadio = field instanceof HTMLInputElement && field.type === 'radio';
    if (!isRadio || field.checked)
      return field.value || field.getAttribute(pageMap.variantAttribute ?? 'value') || undefined;
  }
  const isProductPage = surface === 'product' && variantParameter !== undefined;
  return (isProductPage && new URLSearchParams(location.search).get(variantParameter)) || undefined;
}
