import { addressIn } from '../shared/address.ts';
import { patternSource, type PathPattern } from '#core/contract/pathPattern.ts';
import type { Draft } from './reading/reading.ts';
import { allOf, contains } from './deep.ts';

/** One thing of the page map that can be pressed on the shop. */
export interface Part {
  readonly key: string;
  readonly name: string;
  /** Instruction shown to the owner. */
  readonly hint: string;
  readonly group: 'On a product’s page' | 'On a listing' | 'Cart and checkout' | 'Where the shop has them';
  /** Searched inside a product's area, not on the whole page. */
  readonly isInArea: boolean;
  readonly read: (map: Draft) => string | undefined;
  readonly write: (map: Draft, selector: string | undefined) => Draft;
}

type Plain =
  | 'control'
  | 'price'
  | 'express'
  | 'quantity'
  | 'variant'
  | 'besidePrice'
  | 'stock'
  | 'title'
  | 'description'
  | 'together';

const plain = (
  key: Plain,
  name: string,
  hint: string,
  group: Part['group'] = 'On a product’s page',
  isInArea = true,
): Part => ({
  key,
  name,
  hint,
  group,
  isInArea,
  read: (map) => map[key],
  write: (map, selector) => without({ ...map, [key]: selector }),
});

/** Leaves out undefined values, as JSON does. */
const without = (map: Draft): Draft =>
  Object.fromEntries(Object.entries(map).filter(([, value]) => value !== undefined));

export const PARTS: readonly Part[] = [
  {
    key: 'productPage',
    name: 'The product',
    hint: 'Press somewhere in the part of the page that shows the product',
    group: 'On a product’s page',
    isInArea: false,
    read: (map) => map.productPage?.area,
    write: (map, area) =>
      without({
        ...map,
        productPage: area === undefined ? undefined : { path: map.productPage?.path ?? '^/.+', area },
      } as Draft),
  },
  plain('control', 'The control', 'Press the button that puts the product into the cart'),
  plain('price', 'The price', 'Press the price'),
  plain(
    'besidePrice',
    'Beside the price',
    'Press a former price, a saving or an instalment: it is hidden with the price',
  ),
  plain('express', 'Express pay', 'Press the button that pays at once'),
  plain('variant', 'The choice of size', 'Press the menu or one of the choices'),
  plain('quantity', 'Quantity', 'Press the quantity box or menu'),
  plain('stock', 'The stock line', 'Press the line that says what is in stock'),
  plain('title', 'The title', 'Press the name of the product'),
  plain('description', 'The description', 'Press the description'),
  {
    key: 'card',
    name: 'A card',
    hint: 'Press somewhere in one product of the listing',
    group: 'On a listing',
    isInArea: false,
    read: (map) => map.card?.area,
    write: (map, area) =>
      without({ ...map, card: area === undefined ? undefined : { area, link: map.card?.link ?? 'a' } } as Draft),
  },
  {
    key: 'cardLink',
    name: 'Its link',
    hint: 'Press the link of a card to its product',
    group: 'On a listing',
    isInArea: true,
    read: (map) => map.card?.link,
    write: (map, link) => (map.card ? { ...map, card: { ...map.card, link: link ?? 'a' } } : map),
  },
  shown('quickView', 'A quick view', 'Open a quick view, then press somewhere in it'),
  plain(
    'together',
    'One button for several',
    'Press the button that puts several products in at once',
    'Where the shop has them',
    false,
  ),
  shown('cartLine', 'A line of the cart', 'Press a product in the cart', 'Cart and checkout'),
  visit('cart', 'links', 'Links to the cart', 'Press a link to the cart'),
  visit('checkout', 'links', 'Links to checkout', 'Press the link that goes to checkout'),
  visit('checkout', 'order', 'The order button', 'Press the button that places the order'),
  visit('checkout', 'methods', 'A payment method', 'Press one way to pay, with its words'),
];

function shown(
  key: 'quickView' | 'cartLine',
  name: string,
  hint: string,
  group: Part['group'] = 'Where the shop has them',
): Part {
  return {
    key,
    name,
    hint,
    group,
    isInArea: false,
    read: (map) => map[key]?.area,
    write: (map, area) =>
      without({ ...map, [key]: area === undefined ? undefined : { area, link: map[key]?.link ?? 'a, [data-href]' } }),
  };
}

function visit(where: 'cart' | 'checkout', what: 'links' | 'order' | 'methods', name: string, hint: string): Part {
  type Visits = Partial<Record<'links' | 'order' | 'methods', string>> & { path?: PathPattern };
  return {
    key: `${where}.${what}`,
    name,
    hint,
    group: 'Cart and checkout',
    isInArea: false,
    read: (map) => (map[where] as Visits | undefined)?.[what],
    write: (map, selector) => {
      const { [what]: _before, ...others } = (map[where] ?? {}) as Visits;
      const next = selector === undefined ? others : { ...others, [what]: selector };
      return without({ ...map, [where]: Object.keys(next).length > 0 ? next : undefined });
    },
  };
}

/** Adds a page's payment methods to the map, so that rules can refer to them. */
export function withMethodCodes(map: Draft, page: Document): Draft {
  const selector = map.checkout?.methods;
  const methods = (selector === undefined ? [] : allOf(page, selector)).flatMap((element) => {
    const field = element.matches('input') ? element : element.querySelector('input');
    const code = field?.getAttribute('value') ?? element.getAttribute('data-method');
    const name = (element.closest('label') ?? element).textContent.replace(/\s+/g, ' ').trim();
    return code ? [{ code, name: name.slice(0, 200) || code }] : [];
  });
  return methods.length > 0 && map.checkout ? { ...map, checkout: { ...map.checkout, methodCodes: methods } } : map;
}

/** All areas of a page that show a product, according to a map. */
export function areasOn(page: Document, path: string, map: Draft): Element[] {
  const isProductPage = map.productPage !== undefined && matches(map.productPage.path, path);
  const selectors = [isProductPage ? map.productPage?.area : undefined, map.card?.area, map.quickView?.area];
  return selectors.flatMap((selector) => (selector === undefined ? [] : allOf(page, selector)));
}

function matches(pattern: PathPattern, path: string): boolean {
  try {
    return new RegExp(patternSource(pattern)).test(path);
  } catch {
    return false;
  }
}

/** Elements that a part's selector matches on a page. */
export function foundOn(page: Document, path: string, map: Draft, part: Part, selector = part.read(map)): Element[] {
  if (selector === undefined) return [];
  if (!part.isInArea) return allOf(page, selector);
  const areas = areasOn(page, path, map);
  if (areas.length === 0 && map.card === undefined && map.productPage === undefined) return allOf(page, selector);
  return allOf(page, selector).filter((element) => areas.some((area) => contains(area, element)));
}

/** Parts that are required before a map can be used. */
export const stillNeeded = (map: Draft): string[] =>
  PARTS.filter(({ key, read }) => ['productPage', 'control', 'card'].includes(key) && read(map) === undefined).map(
    ({ name }) => name.toLowerCase(),
  );

/** The address of this page, as far as it tells products apart. */
export const hereIn = ({ productPage }: Draft): string => addressIn(location, productPage?.parameters);
