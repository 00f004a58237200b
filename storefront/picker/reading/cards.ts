import { allOf, contains, parentOf } from '../deep.ts';
import { best, bestInEach } from '../naming.ts';
import type { Known } from './pageProduct.ts';
import { addressIn } from '../../shared/address.ts';
import { leadsTo, parametersIn, samePath } from './paths.ts';
import type { Box } from './prices.ts';
import type { PageView } from './pageView.ts';

/** Links of a page to pages of products. */
export interface Goods {
  readonly links: readonly Element[];
  readonly pathOf: (link: Element) => string | null;
}

export interface Cards {
  readonly area: string;
  readonly link: string;
  readonly elements: readonly Element[];
  /** Finds a card's link to its product. */
  readonly linkOf: (card: Element) => Element | undefined;
}

const MOST_ABOVE = 8;
const MOST_SHAPES = 4;
/** Elements around the products of a page. */
const AROUND = 'nav, header, footer, [role=navigation]';

export const DIALOG = 'dialog[open], [role=dialog], [aria-modal=true]';

/** All links to other products than the page's own. */
export function goodsOn(view: PageView, known: Known): Goods {
  const { url, elements } = view;
  const isProduct = productPaths(view, known);
  const parameters = parametersIn(known.products.map(({ path }) => path));
  const pathOf = (link: Element): string | null => {
    const to = leadsTo(link);
    return to !== null && to.origin === url.origin ? addressIn(to, parameters) : null;
  };
  const links = elements.filter((element) => {
    const path = element.matches('a[href], [data-href]') ? pathOf(element) : null;
    return path !== null && !samePath(path, addressIn(url, parameters)) && isProduct(path);
  });
  return { links, pathOf };
}

/** Finds repeated elements around product links, each with its own price or button. */
export function cardsOf(
  { page }: PageView,
  boxes: readonly Box[],
  pressables: readonly Element[],
  { links: all, pathOf }: Goods,
): Cards | undefined {
  const links = all.filter((link) => link.closest(DIALOG) === null);
  const holdsOther = (outer: Element, path: string | null) =>
    links.some((other) => contains(outer, other) && !samePath(pathOf(other) ?? '', path ?? ''));
  const around = (link: Element): Element => {
    const path = pathOf(link);
    let card = link;
    for (let up = parentOf(link), far = 0; up && far < MOST_ABOVE; up = parentOf(up), far += 1) {
      if (up.matches('body, main, html, header, nav, footer') || holdsOther(up, path)) break;
      if (up.querySelector('h1, [aria-level="1"]') !== null) break;
      card = up;
    }
    return card;
  };
  const isShowing = (element: Element) =>
    boxes.some((box) => contains(element, box.element)) ||
    pressables.some((other) => contains(element, other) && !links.includes(other) && !other.contains(element));
  // A single card ends once it has all parts of a card; its parent could be the whole list.
  const isAlone = new Set(links.map(pathOf)).size === 1;
  const least = (link: Element): Element => {
    const most = around(link);
    for (let at: Element | null = link; at && contains(most, at); at = parentOf(at)) {
      const outer = at;
      if (boxes.some((box) => contains(outer, box.element))) return outer;
    }
    return most;
  };
  const found = [...new Set(links.map(isAlone ? least : around))]
    .filter((element) => element.closest('nav, [role=navigation]') === null)
    .filter(isShowing);
  return cardsAmong(found, links, page);
}

/** Selects elements that show products, and all with the same markup. */
export function cardsAmong(found: readonly Element[], links: readonly Element[], page: Document): Cards | undefined {
  const area = shapesOf(found)
    .slice(0, MOST_SHAPES)
    .flatMap((shape) => best(shape, page) ?? [])
    .join(', ');
  if (area === '') return undefined;
  const elements = allOf(page, area);
  const linkOf = (card: Element) => (links.includes(card) ? card : links.find((link) => contains(card, link)));
  const inside = elements.flatMap((card) => (links.includes(card) ? [] : (linkOf(card) ?? [])));
  const selfs = elements.some((card) => links.includes(card))
    ? [elements.some((card) => card.matches('a[href]')) ? 'a' : '[data-href]']
    : [];
  const named = inside.length > 0 ? [bestInEach(inside, elements) ?? 'a'] : [];
  return { area, link: [...new Set([...selfs, ...named])].join(', '), elements, linkOf };
}

/** Groups elements by markup, the largest group first. */
function shapesOf(elements: readonly Element[]): Element[][] {
  const shapes = new Map<string, Element[]>();
  for (const element of elements) {
    // Labels such as new or sold out do not make another shape.
    const shape = `${element.localName}.${element.classList.item(0) ?? ''}${[...element.attributes]
      .filter(({ name }) => name.startsWith('data-'))
      .map(({ name }) => name)
      .join()}`;
    shapes.set(shape, [...(shapes.get(shape) ?? []), element]);
  }
  return [...shapes.values()].sort((a, b) => b.length - a.length);
}

/**
 * Whether a path is that of a product: one of the catalog's or one like them; where nothing is known, one of several below
 * the same folder that the page leads to from where it shows something.
 */
function productPaths({ elements, url }: PageView, { products }: Known): (path: string) => boolean {
  const bare = (path: string) => path.replace(/\/+$/, '');
  const folderOf = (path: string) =>
    path.includes('?') ? path.replace(/\?.*$/s, '?') : bare(path).replace(/[^/]+$/, '');
  const paths = new Set(products.map(({ path }) => bare(path)));
  const folders = new Set([...paths].map(folderOf));
  if (paths.size === 0) {
    const linked = elements.filter((element) => element.matches('a[href]') && element.closest(AROUND) === null);
    const targets = new Set(linked.flatMap((link) => leadsTo(link) ?? []).map(({ pathname }) => bare(pathname)));
    for (const path of targets)
      if ([...targets].filter((other) => folderOf(other) === folderOf(path)).length > 1) folders.add(folderOf(path));
    folders.add(folderOf(url.pathname));
  }
  folders.delete('/');
  return (path) => paths.has(bare(path)) || (folders.has(folderOf(path)) && bare(path).length > folderOf(path).length);
}
