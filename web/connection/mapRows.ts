import type { PageMap } from '#core/contract/pageMap.ts';
import type { PathPattern } from '#core/contract/pathPattern.ts';
import type { MapPart } from '#core/contract/pageMapCalls.ts';
import { PARTS, type PartGroup, type PartKey } from '#core/places/parts.ts';

/** A line of the page map, as its owner reads and changes it. */
export interface MapRow {
  readonly name: string;
  readonly group: PartGroup;
  /** Name of the part in a check; null if it is not checked. */
  readonly part: MapPart | null;
  /** Pointer into the map (RFC 6901); null for parts that only a check finds. */
  readonly pointer: string | null;
  readonly isNeeded: boolean;
  /** Example value. */
  readonly example: string | undefined;
}

const row =
  (group: PartGroup) =>
  (name: string, pointer: string, isNeeded = false, example?: string): MapRow => ({
    name,
    group,
    part: null,
    pointer,
    isNeeded,
    example,
  });
const product = row('A product’s page');
const elsewhere = row('Where the shop has them');
const visit = row('Cart and checkout');

/** Line of a part that checks report. */
const part = (key: PartKey, pointer: string, isNeeded = false, example?: string): MapRow => {
  const { name, group } = PARTS[key];
  return { name, group, part: key, pointer, isNeeded, example };
};

export const MAP_ROWS: readonly MapRow[] = [
  product('has an address like', '/productPage/path', true, '/plants/*'),
  product('identified by URL parameters', '/productPage/parameters', false, 'i, colour'),
  part('productPage', '/productPage/area', true),
  part('control', '/control', true),
  part('price', '/price'),
  part('besidePrice', '/besidePrice', false, 'former price, saving, instalments'),
  {
    name: 'amounts that would remain',
    group: 'A product’s page',
    part: 'otherMoney',
    pointer: null,
    isNeeded: false,
    example: undefined,
  },
  part('express', '/express'),
  part('variant', '/variant'),
  product('its attribute with the variant’s id', '/variantAttribute', false, 'data-variant'),
  product('or its address parameter', '/variantParameter'),
  product('or an event and its detail', '/variantEvent'),
  part('quantity', '/quantity'),
  part('stock', '/stock'),
  part('title', '/title'),
  part('description', '/description'),
  product('the form', '/form'),
  part('card', '/card/area', true),
  part('cardLink', '/card/link', true),
  part('quickView', '/quickView/area'),
  elsewhere('its link', '/quickView/link'),
  part('together', '/together'),
  elsewhere('shadow roots of', '/shadowHosts'),
  visit('the cart’s address', '/cart/path', false, '/cart'),
  part('cartLinks', '/cart/links'),
  part('cartLine', '/cartLine/area'),
  visit('its link', '/cartLine/link'),
  visit('checkout’s address', '/checkout/path', false, '/checkout'),
  part('checkoutLinks', '/checkout/links'),
  part('order', '/checkout/order'),
  part('methods', '/checkout/methods'),
];

export const PART_NAMES: Readonly<Record<MapPart, string>> = Object.fromEntries(
  MAP_ROWS.flatMap(({ part: key, name, group }) => (key ? [[key, `${group}: ${name}`]] : [])),
) as Record<MapPart, string>;

type Branch = Readonly<Record<string, unknown>>;

/** Value of a line; undefined if empty. */
export function readRow(map: PageMap, pointer: string): string | undefined {
  const value = pointer
    .split('/')
    .slice(1)
    .reduce<unknown>((branch, name) => (branch as Branch | undefined)?.[name], map);
  if (pointer === EVENT && map.variantEvent) return `${map.variantEvent.name} ${map.variantEvent.detail}`;
  if (isPath(pointer) && value !== undefined) return pathWords(value as PathPattern);
  if (Array.isArray(value)) return value.join(', ');
  return typeof value === 'string' ? value : undefined;
}

const isPath = (pointer: string) => pointer.endsWith('/path');

/** Addresses as they are written by hand: with stars and commas between them, or an expression, which begins with ^. */
const pathWords = (pattern: PathPattern): string =>
  typeof pattern === 'object' ? pattern.like.join(', ') : pattern.startsWith('^') ? pattern : `^.*${pattern}`;

const pathIn = (text: string): PathPattern => (text.startsWith('^') ? text : { like: partsOf(text) });

const partsOf = (text: string): string[] =>
  text
    .split(',')
    .map((part) => part.trim())
    .filter(Boolean);

/** Names, with commas between them. */
const PARAMETERS = '/productPage/parameters';

/** An event is said in two words: its name, and where the id is in its detail. */
const EVENT = '/variantEvent';

/** The map with a line changed; empty takes it out, with the branch that it leaves empty. */
export function writeRow(map: PageMap, pointer: string, text: string): PageMap {
  const [name = '', inner] = pointer.split('/').slice(1);
  if (pointer === EVENT && text !== '') {
    const [event = '', detail = ''] = text.split(/\s+/);
    return { ...map, variantEvent: { name: event, detail } };
  }
  const { [name]: before, ...others } = map as unknown as Branch;
  const next =
    inner === undefined
      ? text
      : {
          ...without(before as Branch | undefined, inner),
          ...(text ? { [inner]: valueIn(pointer, text) } : {}),
        };
  const isEmpty = next === '' || (typeof next === 'object' && Object.keys(next).length === 0);
  return { ...others, ...(isEmpty ? {} : { [name]: next }) } as unknown as PageMap;
}

const valueIn = (pointer: string, text: string) =>
  isPath(pointer) ? pathIn(text) : pointer === PARAMETERS ? partsOf(text) : text;

function without(branch: Branch | undefined, name: string): Branch {
  const { [name]: _gone, ...others } = branch ?? {};
  return others;
}

const PROBLEMS: Readonly<Record<string, string>> = {
  unreachable: 'not reached',
  private: 'a private address',
  notHtml: 'no page',
  tooLong: 'too long to read',
  tooComplex: 'takes too long to read',
};

/** Why a page could not be read, in words. */
export const problemWords = (problem: string): string => PROBLEMS[problem] ?? problem;
