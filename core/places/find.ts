/** The selectors of a page map, in any of its forms: as the owner keeps it, as it is drafted, as the script receives it. */
export interface PlaceMap extends Readonly<Partial<Record<PlainPart, string | undefined>>> {
  readonly productPage?: { readonly area: string } | undefined;
  readonly card?: Shown | undefined;
  readonly quickView?: Shown | undefined;
  readonly cartLine?: Shown | undefined;
  readonly cart?: { readonly links?: string | undefined } | undefined;
  readonly checkout?: Readonly<Partial<Record<'links' | 'order' | 'methods', string | undefined>>> | undefined;
}

/** A place that shows one product, and the link in it, or the place itself, whose address is the product's. */
interface Shown {
  readonly area: string;
  readonly link: string;
}

/** Parts that a page map names by one selector at its top level. */
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

/** A page as one of its readers sees it: storefront script, picker and check have different elements and shadow roots. */
export interface Page<E> {
  /** Whether its address is that of a product's own page. */
  readonly isProductPage: boolean;
  /** Elements of the whole page that a selector matches, in shadow roots too; none if the selector is invalid. */
  readonly all: (selector: string) => readonly E[];
  /** The nearest element around, or the element itself, that one of `areaSelectors` matches. */
  readonly areaAround: (element: E) => E | null;
}

/** Parts of a page map that show a product each, with the surface that each is, in the order in which they are looked for. */
const SURFACES = { productPage: 'product', card: 'listing', quickView: 'quickView', cartLine: 'cart' } as const;
const AREAS = Object.keys(SURFACES) as (keyof typeof SURFACES)[];

export const areaSelectors = (map: PlaceMap): string[] => AREAS.flatMap((part) => map[part]?.area ?? []);

/** A place on a page that shows one product. */
export interface FoundArea<E> {
  readonly surface: (typeof SURFACES)[keyof typeof SURFACES];
  readonly element: E;
  /** Link to the product; the area itself on the product's own page. */
  readonly link: E | undefined;
}

export type PartsOf<E> = (area: E, selector: string | undefined) => readonly E[];

/**
 * Finds the parts that belong to an area: those of a card inside a product's page are the card's. Each selector is looked
 * for once, on the whole page, since a query for each area is slow on long pages.
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

/** Finds every place that shows a product, on the product's own page first. */
export const areasOn = <E>(page: Page<E>, map: PlaceMap, partsOf: PartsOf<E>): FoundArea<E>[] =>
  AREAS.flatMap((part) => {
    const shown = map[part];
    if (!shown || (part === 'productPage' && !page.isProductPage)) return [];
    const linkIn = (element: E) => ('link' in shown ? partsOf(element, shown.link)[0] : element);
    return page.all(shown.area).map((element) => ({ surface: SURFACES[part], element, link: linkIn(element) }));
  });
