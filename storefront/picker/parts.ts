import { addressIn } from '../shared/address.ts';
import { patternSource, type PathPattern } from '#core/contract/pathPattern.ts';
import { areaSelectors, type Page, type PlainPart } from '#core/places/find.ts';
import { finderOn, nearest, PART_KEYS, PARTS as PLACES, type PartKey } from '#core/places/parts.ts';
import type { Draft } from './reading/reading.ts';
import { allOf, parentOf } from './deep.ts';

/** A part of the page map that can be pressed on the shop. */
export interface Part extends Readonly<(typeof PLACES)[PartKey]> {
  readonly key: PartKey;
  /** Name with a capital letter, for headings. */
  readonly title: string;
  /** Instruction shown to the owner. */
  readonly hint: string;
  readonly write: (map: Draft, selector: string | undefined) => Draft;
}

/** Leaves out undefined values, as JSON does. */
const without = (map: Draft): Draft =>
  Object.fromEntries(Object.entries(map).filter(([, value]) => value !== undefined));

type Write = Part['write'];

const plain =
  (key: PlainPart): Write =>
  (map, selector) =>
    without({ ...map, [key]: selector });

const shown =
  (key: 'card' | 'quickView' | 'cartLine', link: string): Write =>
  (map, area) =>
    without({ ...map, [key]: area === undefined ? undefined : { area, link: map[key]?.link ?? link } });

type Visits = Partial<Record<'links' | 'order' | 'methods', string>> & { path?: PathPattern };

const visit =
  (where: 'cart' | 'checkout', key: 'links' | 'order' | 'methods'): Write =>
  (map, selector) => {
    const { [key]: _before, ...others } = (map[where] ?? {}) as Visits;
    const next = selector === undefined ? others : { ...others, [key]: selector };
    return without({ ...map, [where]: Object.keys(next).length > 0 ? next : undefined });
  };

const HINTS: Readonly<Record<PartKey, readonly [hint: string, write: Write]>> = {
  productPage: [
    'Press somewhere in the part of the page that shows the product',
    (map, area) =>
      without({
        ...map,
        productPage: area === undefined ? undefined : { path: map.productPage?.path ?? '^/.+', area },
      } as Draft),
  ],
  control: ['Press the button that puts the product into the cart', plain('control')],
  price: ['Press the price', plain('price')],
  besidePrice: ['Press a former price, a saving or an instalment: it is hidden with the price', plain('besidePrice')],
  express: ['Press the button that pays at once', plain('express')],
  variant: ['Press the menu or one of the choices', plain('variant')],
  quantity: ['Press the quantity box or menu', plain('quantity')],
  stock: ['Press the line that says what is in stock', plain('stock')],
  title: ['Press the name of the product', plain('title')],
  description: ['Press the description', plain('description')],
  card: ['Press somewhere in one product of the listing', shown('card', 'a')],
  cardLink: [
    'Press the link of a card to its product',
    (map, link) => (map.card ? { ...map, card: { ...map.card, link: link ?? 'a' } } : map),
  ],
  quickView: ['Open a quick view, then press somewhere in it', shown('quickView', 'a, [data-href]')],
  together: ['Press the button that puts several products in at once', plain('together')],
  cartLine: ['Press a product in the cart', shown('cartLine', 'a, [data-href]')],
  cartLinks: ['Press a link to the cart', visit('cart', 'links')],
  checkoutLinks: ['Press the link that goes to checkout', visit('checkout', 'links')],
  order: ['Press the button that places the order', visit('checkout', 'order')],
  methods: ['Press one way to pay, with its words', visit('checkout', 'methods')],
};

export const PARTS: readonly Part[] = PART_KEYS.map((key) => {
  const [hint, write] = HINTS[key];
  const { name } = PLACES[key];
  return { ...PLACES[key], key, title: name.charAt(0).toUpperCase() + name.slice(1), hint, write };
});

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

/** A page as the picker reads it: includes every open shadow root and ignores invalid selectors. */
export const pageAt = (page: Document, path: string, map: Draft): Page<Element> => ({
  isProductPage: map.productPage !== undefined && matches(map.productPage.path, path),
  all: (selector) => allOf(page, selector),
  areaAround: (element) => nearest(element, areaSelectors(map), parentOf),
});

function matches(pattern: PathPattern, path: string): boolean {
  try {
    return new RegExp(patternSource(pattern)).test(path);
  } catch {
    return false;
  }
}

/** Finds a part on a page by the map's selector, or by another one to try. */
export const foundOn = (
  page: Document,
  path: string,
  map: Draft,
  { key }: Part,
  selector?: string,
): readonly Element[] => finderOn(pageAt(page, path, map), map)(key, selector);

/** Parts that are required before a map can be used. */
export const stillNeeded = (map: Draft): string[] =>
  PARTS.filter(({ key, read }) => ['productPage', 'control', 'card'].includes(key) && read(map) === undefined).map(
    ({ name }) => name,
  );

/** The address of this page, as far as it tells products apart. */
export const hereIn = ({ productPage }: Draft): string => addressIn(location, productPage?.parameters);
