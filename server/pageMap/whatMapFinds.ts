import { parseHTML } from 'linkedom';
import type { PageMap } from '#core/contract/pageMap.ts';
import type { MapCheck, MapPart } from '#core/contract/pageMapCalls.ts';
import { hasAmount } from '#core/texts/amounts.ts';
import { pathMatches } from './pathPatterns.ts';

export type Line = MapCheck['pages'][number]['lines'][number];

const SAMPLE_LENGTH = 60;

/** Members of elements used here (the server has no DOM types). */
interface Element {
  querySelectorAll(selector: string): Iterable<Element>;
  matches(selector: string): boolean;
  closest(selector: string): Element | null;
  readonly childNodes: Iterable<{ readonly nodeType: number; readonly textContent: string | null }>;
  readonly parentElement: Element | null;
  readonly localName: string;
  getAttribute(name: string): string | null;
  readonly textContent: string | null;
}

/**
 * Finds a page map's parts on a page as it was sent: no script has run, and only declarative shadow roots exist. Selectors
 * that this reader does not support match nothing.
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
  const lines: Line[] = found
    .filter(([, selector]) => selector !== undefined)
    .map(([part, , elements]) => ({ part, found: elements.length, sample: sampleOf(elements[0]) }));
  if (map.price === undefined) return lines;
  const amounts = remainingAmounts(areas, map);
  const after = lines.findLastIndex(({ part }) => part === 'price' || part === 'besidePrice');
  return lines.toSpliced(after + 1, 0, {
    part: 'otherMoney',
    found: amounts.length,
    sample: amounts[0]?.text ?? null,
    amounts: amounts.slice(0, MOST_AMOUNTS),
  });
}

/** Amounts listed at most, since a page may have any number of them. */
const MOST_AMOUNTS = 100;
/** Attributes that browsers show, or read out. */
const READ_ATTRIBUTES = ['aria-label', 'title', 'alt', 'label', 'placeholder', 'value'];

/**
 * Lists the amounts of money that stay on a page when its prices are hidden. A choice that is beside the price loses those
 * in its text, and structured data loses its offers, so these are left out.
 */
function remainingAmounts(
  areas: readonly Element[],
  { price, besidePrice, control, express }: PageMap,
): { text: string; where: string }[] {
  const hidden = [price, besidePrice, control, express, 'script, style, template'];
  return [...new Set(areas.flatMap((area) => [...area.querySelectorAll('*')]))]
    .filter((element) => hidden.every((selector) => selector === undefined || !isWithin(element, selector)))
    .flatMap((element) => {
      const texts = [ownTextOf(element), ...READ_ATTRIBUTES.map((name) => element.getAttribute(name) ?? '')];
      return texts.filter(hasAmount).map((text) => ({ text: shortened(text), where: pathTo(element) }));
    });
}

/** The text of an element without that of the elements in it. */
const ownTextOf = ({ childNodes }: Element): string =>
  [...childNodes].map((node) => (node.nodeType === TEXT_NODE ? (node.textContent ?? '') : ' ')).join('');
const TEXT_NODE = 3;

/** Returns a selector for people: the element's name and those around it, up to the nearest id. */
function pathTo(element: Element): string {
  const names: string[] = [];
  for (let at: Element | null = element; at && names.length < 4; at = at.parentElement) {
    const [id, name] = [at.getAttribute('id'), at.getAttribute('class')?.trim().split(/\s+/)[0]];
    names.unshift(at.localName + (id ? `#${id}` : name ? `.${name}` : ''));
    if (id) break;
  }
  return names.join(' > ');
}

function isWithin(element: Element, selector: string): boolean {
  try {
    return element.closest(selector) !== null;
  } catch {
    return false;
  }
}

/** Turns declarative shadow roots into plain elements, so that selectors reach their content. */
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
  const text = (element.textContent ?? '').trim() || (element.getAttribute('value') ?? '');
  return text === '' ? null : shortened(text);
}

function shortened(written: string): string {
  const text = written.replace(/\s+/g, ' ').trim();
  return text.length > SAMPLE_LENGTH ? `${text.slice(0, SAMPLE_LENGTH - 1)}…` : text;
}
