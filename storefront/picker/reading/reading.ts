import type { PageMap } from '#core/contract/pageMap.ts';

/** A page map as far as it is known. */
export type Draft = { -readonly [K in keyof PageMap]?: PageMap[K] };

/** Pages that a shop has, of which a map is best made from one each. */
export type PageKind = 'product' | 'listing' | 'search' | 'quickView' | 'cart' | 'checkout';

/** Pages of a visit rather than of products. */
export const VISIT_PAGES: ReadonlySet<PageKind> = new Set(['cart', 'checkout']);
export const LISTING_PAGES: ReadonlySet<PageKind> = new Set(['listing', 'search']);

/** Result of reading a page. */
export interface Reading {
  readonly map: Draft;
  /** Kinds of page recognised; several if a dialog is open over it. */
  readonly kinds: readonly PageKind[];
  /** Reasons for the control and the price, in the owner's words. */
  readonly why: { readonly control?: readonly string[]; readonly price?: readonly string[] };
}
