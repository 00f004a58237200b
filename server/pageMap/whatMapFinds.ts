import { parseHTML } from 'linkedom';
import type { PageMap } from '#core/contract/pageMap.ts';
import type { MapCheck, MapPart } from '#core/contract/pageMapCalls.ts';
import { pathMatches } from './pathPatterns.ts';

export type Line = MapCheck['pages'][number]['lines'][number];

const SAMPLE_LENGTH = 60;

/** What is asked of an element here (the server's rooms have no types of a browser's). */
interface Element {
  querySelectorAll(selector: string): Iterable<Element>;
  matches(selector: string): boolean;
  closest(selector: string): Element | null;
  readonly childElementCount: number;
  getAttribute(name: string): string | null;
  readonly textContent: string | null;
}

/**
 * What a page map finds on a page as it was sent: no script has run, and shadow roots are those in the markup. A selector
 * that this reader does not understand finds nothing.
 * @param path of the page on the shop
 */
export function whatMapFinds(html: string, path: string, map: PageMap): Line[] {
  const { document } = parseHTML(withRootsOpen(html)) as unknown as { document: Element };
  const all = (selector: string | undefined, within: Element = document): Element[] => {
    if (selector === undefined) return [];
    try {
      return [...within.querySelectorAll(selector)];
    } catch {
      return [];
    }
  };
  const { productPage, card, quickView, cartLine, cart, checkout } = map;
  const isProductPage = pathMatches(productPage.path, path);
  const pages = isProductPage ? all(productPage.area) : [];
  const cards = all(card.area);
  const links = cards.flatMap((element) =>
    matches(element, card.link) ? [element] : all(card.link, element).slice(0, 1),
  );
  const areas = [...pages, ...cards, ...all(quickView?.area)];
  const inAreas = (selector: string | undefined) => [...new Set(areas.flatMap((area) => all(selector, area)))];

  const found: [MapPart, string | undefined, Element[]][] = [
    ...(isProductPage ? ([['productPage', productPage.area, pages]] as [MapPart, string, Element[]][]) : []),
    ['card', card.area, cards],
    ['cardLink', card.link, links],
    ['quickView', quickView?.area, all(quickView?.area)],
    ['cartLine', cartLine?.area, all(cartLine?.area)],
    ['control', map.control, inAreas(map.control)],
    ['together', map.together, all(map.together)],
    ['express', map.express, inAreas(map.express)],
    ['price', map.price, inAreas(map.price)],
    ['besidePrice', map.besidePrice, inAreas(map.besidePrice)],
    ['otherMoney', map.price, inAreas('*').filter((element) => isOtherMoney(element, map))],
    ['stock', map.stock, inAreas(map.stock)],
    ['title', map.title, inAreas(map.title)],
    ['description', map.description, inAreas(map.description)],
    ['quantity', map.quantity, inAreas(map.quantity)],
    ['variant', map.variant, inAreas(map.variant)],
    ['cartLinks', cart?.links, all(cart?.links)],
    ['checkoutLinks', checkout?.links, all(checkout?.links)],
    ['order', checkout?.order, all(checkout?.order)],
    ['methods', checkout?.methods, all(checkout?.methods)],
  ];
  return found
    .filter(([, selector]) => selector !== undefined)
    .map(([part, , elements]) => ({ part, found: elements.length, sample: sampleOf(elements[0]) }));
}

const CURRENCIES = new Set(Intl.supportedValuesOf('currency'));

/** An amount of money: digits of any script, with a sign of a currency (Unicode Sc) or its code (ISO 4217) beside them. */
function looksLikeMoney(text: string): boolean {
  if (/\p{Sc}\s?\p{Nd}|\p{Nd}\s?\p{Sc}/u.test(text)) return true;
  const codes = [...text.matchAll(/(?<!\p{L})([A-Z]{3})\s?\p{Nd}|\p{Nd}\s?([A-Z]{3})(?!\p{L})/gu)];
  return codes.some(([, before, after]) => CURRENCIES.has(before ?? after ?? ''));
}

/** Whether an element says an amount that stays when the price goes: it is none of the price's parts, and no choice. */
function isOtherMoney(element: Element, { price, besidePrice, control, express }: PageMap): boolean {
  if (element.childElementCount > 0 || !looksLikeMoney(element.textContent ?? '')) return false;
  const known = [price, besidePrice, control, express, 'option, script, style, template'];
  return known.every((selector) => selector === undefined || !isWithin(element, selector));
}

function isWithin(element: Element, selector: string): boolean {
  try {
    return element.closest(selector) !== null;
  } catch {
    return false;
  }
}

/** Declarative shadow roots as plain elements, so that selectors see what browsers look into. */
const withRootsOpen = (html: string) =>
  html.replace(/<template(\s[^>]*)?\sshadowrootmode\b[^>]*>([\s\S]*?)<\/template>/gi, '<div data-root>$2</div>');

function matches(element: Element, selector: string): boolean {
  try {
    return element.matches(selector);
  } catch {
    return false;
  }
}

function sampleOf(element: Element | undefined): string | null {
  if (!element) return null;
  const text = (element.textContent ?? '').replace(/\s+/g, ' ').trim() || (element.getAttribute('value') ?? '');
  if (text === '') return null;
  return text.length > SAMPLE_LENGTH ? `${text.slice(0, SAMPLE_LENGTH - 1)}…` : text;
}
