import type { Product } from '../catalog.ts';
import { html } from '../html.ts';
import { translate } from '../words.ts';
import type { Dressing, View } from './dressing.ts';
import { shownOf } from './goods.ts';

/** Pages drawn by a script from data, and redrawn at every choice; links do not load pages. */
export const script: Dressing = {
  shelf: (products, view) => drawn('shelf', goods(products, view)),
  buyArea: (product, surface, view) => drawn('buying', shownOf(product, surface, view)),
  border: (products, view) =>
    drawn('border', { rows: goods(products, view), all: translate(view.language, 'putAllInBasket') }),
  till: (content) => content,
  showsOthers: true,
  asset: 'script.js',
};

const goods = (products: readonly Product[], view: View) =>
  products.map((product) => shownOf(product, 'listing', view));

const drawn = (what: string, data: unknown) =>
  html`<div data-draw="${what}" data-goods="${JSON.stringify(data)}"></div>`;
