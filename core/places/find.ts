/** Selectors of a page map. Saved maps, drafts and the map that the script receives all have this shape. */
export interface PlaceMap extends Readonly<Partial<Record<PlainPart, string | undefined>>> {
  readonly productPage?: { readonly area: string } | undefined;
  readonly card?: Shown | undefined;
  readonly quickView?: Shown | undefined;
  readonly cartLine?: Shown | undefined;
  readonly cart?: { readonly links?: string | undefined } | undefined;
  readonly checkout?: Readonly<Partial<Record<'links' | 'order' | 'methods', string | undefined>>> | undefined;
}

/** An area that shows one product, and its link to the product, which may be the area itself. */
interface Shown {
  readonly area: string;
  readonly link: string;
}

/** Parts with a selector at the top level of a page map. */
export type PlainPart =
  | 'control'
  | 'price'
  | 'besidePrice'
  | 'express'
  | 'variant'
  | 'quantity'
  | 'stock'
  | 'title'
  | 'description'
  | 'together';

/** A page to search. The script, the picker and the check each supply one, since their DOMs and shadow roots differ. */
export interface Page<E> {
  /** Whether this is a product's own page, judging by its address. */
  readonly isProductPage: boolean;
  /** Returns all matches on the page, including shadow roots; none for an invalid selector. */
  readonly all: (selector: string) => readonly E[];
  /** Returns the nearest ancestor that `areaSelectors` match, starting with the element itself. */
  readonly areaAround: (element: E) => E | null;
}

/** Areas that show one product each, with their surfaces, in search order. */
const SURFACES = { productPage: 'product', card: 'listing', quickView: 'quickView', cartLine: 'cart' } as const;
const AREAS = Object.keys(SURFACES) as (keyof typeof SURFACES)[];

export const areaSelectors = (map: PlaceMap): string[] => AREAS.flatMap((part) => map[part]?.area ?? []);

/** An area found on a page. */
export interface FoundArea<E> {
  readonly surface: (typeof SURFACES)[keyof typeof SURFACES];
  readonly element: E;
  /** Link to the product; the area itself on the product's own page. */
  readonly link: E | undefined;
}

export type PartsOf<E> = (area: E, selector: string | undefined) => readonly E[];

/**
 * Finds the parts of an area. A part belongs to its nearest area, so a card inside a product's page keeps its own parts.
 * Queries the page once per selector, since one query per area is slow on long pages.
 */
export function partsOn<E>(page: Page<E>): PartsOf<E> {
  const found = new Map<string, Map<E | null, E[]>>();
  const look = (selector: string) => {
    const byArea = new Map<E | null, E[]>();
    for (const part of page.all(selector)) {
      const area = page.areaAround(part);
      const others = byArea.get(area);
      if (others) others.push(part);
      else byArea.set(area, [part]);
    }
    found.set(selector, byArea);
    return byArea;
  };
  return (area, selector) => (selector && (found.get(selector) ?? look(selector)).get(area)) || [];
}

/** Finds all areas that show a product; the product page's own area comes first. */
export const areasOn = <E>(page: Page<E>, map: PlaceMap, partsOf: PartsOf<E>): FoundArea<E>[] =>
  AREAS.flatMap((part) => {
    const shown = map[part];
    if (!shown || (part === 'productPage' && !page.isProductPage)) return [];
    const linkIn = (element: E) => ('link' in shown ? partsOf(element, shown.link)[0] : element);
    return page.all(shown.area).map((element) => ({ surface: SURFACES[part], element, link: linkIn(element) }));
  });
