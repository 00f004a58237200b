import { parseHTML } from 'linkedom';
import type { PageMap } from '#core/contract/pageMap.ts';
import type { MapCheck } from '#core/contract/pageMapCalls.ts';
import { areaSelectors, areasOn, partsOn, type Page } from '#core/places/find.ts';
import { finderOn, nearest, PART_KEYS, PARTS } from '#core/places/parts.ts';
import { hasAmount } from '#core/texts/amounts.ts';
import { pathMatches } from './pathPatterns.ts';

export type Line = MapCheck['pages'][number]['lines'][number];

const SAMPLE_LENGTH = 60;

/** Members of elements used here (the server has no DOM types). */
interface Element {
  querySelectorAll(selector: string): Iterable<Element>;
  matches(selector: string): boolean;
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
  const all = (selector: string): Element[] => {
    try {
      return [...document.querySelectorAll(selector)];
    } catch {
      return [];
    }
  };
  const page: Page<Element> = {
    isProductPage: pathMatches(map.productPage.path, path),
    all,
    areaAround: (element) => nearest(element, areaSelectors(map), parentOf),
  };
  const find = finderOn(page, map);
  const areas = areasOn(page, map, partsOn(page)).map(({ element }) => element);
  const lines: Line[] = PART_KEYS.flatMap((part) => {
    if (PARTS[part].read(map) === undefined || (part === 'productPage' && !page.isProductPage)) return [];
    const found = find(part);
    return { part, found: found.length, sample: sampleOf(found[0]) };
  });
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
  const hidden = [price, besidePrice, control, express, 'script, style, template'].flatMap(
    (selector) => selector ?? [],
  );
  return [...new Set(areas.flatMap((area) => [...area.querySelectorAll('*')]))]
    .filter((element) => nearest(element, hidden, parentOf) === null)
    .flatMap((element) => {
      const texts = [ownTextOf(element), ...READ_ATTRIBUTES.map((name) => element.getAttribute(name) ?? '')];
      return texts.filter(hasAmount).map((text) => ({ text: shortened(text), where: pathTo(element) }));
    });
}

const parentOf = ({ parentElement }: Element) => parentElement;

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

/** Turns declarative shadow roots into plain elements, so that selectors reach their content. */
const withRootsOpen = (html: string) =>
  html.replace(/<template(\s[^>]*)?\sshadowrootmode\b[^>]*>([\s\S]*?)<\/template>/gi, '<div data-root>$2</div>');

function sampleOf(element: Element | undefined): string | null {
  if (!element) return null;
  const text = (element.textContent ?? '').trim() || (element.getAttribute('value') ?? '');
  return text === '' ? null : shortened(text);
}

function shortened(written: string): string {
  const text = written.replace(/\s+/g, ' ').trim();
  return text.length > SAMPLE_LENGTH ? `${text.slice(0, SAMPLE_LENGTH - 1)}…` : text;
}
