import { areasOn, partsOn, type Page, type PlaceMap, type PlainPart } from './find.ts';

interface PlacePart {
  /** Name for owners, in a sentence. */
  readonly name: string;
  readonly group: PartGroup;
  /** Where its selector applies: to the whole page, to the areas that show a product, or to cards. */
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

/** The parts of a shop's pages that a page map can name: the list for the check, the picker and the owner's screen. */
export const PARTS: Readonly<Record<PartKey, PlacePart>> = parts;
export const PART_KEYS = Object.keys(parts) as [PartKey, ...PartKey[]];

/**
 * Finds a part on a page. A map that names neither product pages nor cards yet has no areas, so parts count anywhere.
 * @param selector to try in place of the map's own
 */
export function find<E>(
  page: Page<E>,
  map: PlaceMap,
  part: PartKey,
  { selector = PARTS[part].read(map), partsOf = partsOn(page) } = {},
): readonly E[] {
  if (selector === undefined) return [];
  const { within } = PARTS[part];
  if (within === 'page' || (map.productPage === undefined && map.card === undefined)) return page.all(selector);
  const areas = areasOn(page, map, partsOf);
  if (within === 'areas') return [...new Set(areas.flatMap(({ element }) => partsOf(element, selector)))];
  const cards = areas.filter(({ surface }) => surface === 'listing');
  return cards.flatMap(({ element }) => partsOf(element, selector).slice(0, 1));
}

/** Finds the nearest element around, or the element itself, that a selector matches. An invalid selector matches nothing. */
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
