import type { Product } from '../catalog.ts';
import type { Html } from '../html.ts';
import type { IsPriceHidden } from '../understudy.ts';
import type { Language } from '../visits.ts';

/** Visitor's view of a page. */
export interface View {
  readonly language: Language;
  readonly isPriceHidden: IsPriceHidden;
}

/** One way of writing the shop's pages; products and texts are the same in all. */
export interface Dressing {
  /** Cards of products. */
  readonly shelf: (products: readonly Product[], view: View) => Html;
  /** Area in which a product is chosen and bought. */
  readonly buyArea: (product: Product, surface: 'product' | 'quickView', view: View) => Html;
  /** Rows of products with how many of each, bought by one button. */
  readonly border: (products: readonly Product[], view: View) => Html;
  /** Container of the payment methods and the order button. */
  readonly till: (content: Html) => Html;
  /** Whether a product's page shows others of its range below it. */
  readonly showsOthers: boolean;
  /** The script in /assets that makes it work. */
  readonly asset: string;
}
