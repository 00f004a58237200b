import { areasOn, partsOn, type FoundArea, type Page, type PlaceMap, type PlainPart } from './find.ts';

interface PlacePart {
  /** Name as owners read it inside a sentence. */
  readonly name: string;
  readonly group: PartGroup;
  /** Scope of its selector: the whole page, areas that show a product, or cards only. */
  readonly within: 'page' | 'areas' | 'cards';
  readonly read: (map: PlaceMap) => string | undefined;
}

export type PartGroup = 'A product’s page' | 'A listing' | 'Where the shop has them' | 'Cart and checkout';

const plain = (
  part: PlainPart,
  name: string,
  group: PartGroup = 'A product’s page',
  within: PlacePart['within'] = 'areas',
): PlacePart => ({ name, group, within, read: (map) => map[part] });

const onPage = (name: string, group: PartGroup, read: PlacePart['read']): PlacePart => ({
  name,
  group,
  within: 'page',
  read,
});

const parts = {
  productPage: onPage('the product’s area', 'A product’s page', (map) => map.productPage?.area),
  control: plain('control', 'the control'),
  price: plain('price', 'the price'),
  besidePrice: plain('besidePrice', 'beside the price'),
  express: plain('express', 'express pay'),
  variant: plain('variant', 'the choice of size'),
  quantity: plain('quantity', 'quantity'),
  stock: plain('stock', 'the stock line'),
  title: plain('title', 'the title'),
  description: plain('description', 'the description'),
  card: onPage('a card', 'A listing', (map) => map.card?.area),
  cardLink: { name: 'its link', group: 'A listing', within: 'cards', read: (map: PlaceMap) => map.card?.link },
  quickView: onPage('a quick view', 'Where the shop has them', (map) => map.quickView?.area),
  together: plain('together', 'one button for several', 'Where the shop has them', 'page'),
  cartLinks: onPage('links to the cart', 'Cart and checkout', (map) => map.cart?.links),
  cartLine: onPage('a line of the cart', 'Cart and checkout', (map) => map.cartLine?.area),
  checkoutLinks: onPage('links to checkout', 'Cart and checkout', (map) => map.checkout?.links),
  order: onPage('the order button', 'Cart and checkout', (map) => map.checkout?.order),
  methods: onPage('a payment method', 'Cart and checkout', (map) => map.checkout?.methods),
} as const satisfies Record<string, PlacePart>;

export type PartKey = keyof typeof parts;

/** All parts of shop pages that a page map can name. The check, the picker and the owner's screen share this list. */
export const PARTS: Readonly<Record<PartKey, PlacePart>> = parts;
export const PART_KEYS = Object.keys(parts) as [PartKey, ...PartKey[]];

/**
 * Returns a function that finds a part on a page by the map's selector, or by another one to try. Until a map names
 * product pages or cards, it has no areas and a part is looked for on the whole page.
 */
export function finderOn<E>(page: Page<E>, map: PlaceMap): (part: PartKey, selector?: string) => readonly E[] {
  const partsOf = partsOn(page);
  let known: readonly FoundArea<E>[] | undefined;
  const areas = () => (known ??= areasOn(page, map, partsOf));
  const hasAreas = map.productPage !== undefined || map.card !== undefined;
  const find: Readonly<Record<PlacePart['within'], (selector: string) => readonly E[]>> = {
    page: page.all,
    areas: (selector) => [...new Set(areas().flatMap(({ element }) => partsOf(element, selector)))],
    cards: (selector) =>
      areas().flatMap(({ element, surface }) => (surface === 'listing' ? partsOf(element, selector).slice(0, 1) : [])),
  };
  return (part, selector = PARTS[part].read(map)) =>
    selector === undefined ? [] : find[hasAreas ? PARTS[part].within : 'page'](selector);
}

/** Finds the nearest ancestor that one of the selectors matches, starting with the element. Ignores invalid selectors. */
export function nearest<E extends { matches(selector: string): boolean }>(
  element: E,
  selectors: readonly string[],
  parentOf: (element: E) => E | null,
): E | null {
  for (let at: E | null = element; at; at = parentOf(at)) if (matchesAny(at, selectors)) return at;
  return null;
}

const matchesAny = (element: { matches(selector: string): boolean }, selectors: readonly string[]) =>
  selectors.some((selector) => {
    try {
      return element.matches(selector);
    } catch {
      return false;
    }
  });
