import type { Product } from '../catalog.ts';
import { html } from '../html.ts';
import type { Language } from '../visits.ts';
import { translate } from '../words.ts';
import type { Dressing } from './dressing.ts';
import { shownOf } from './goods.ts';

/** Pages that a script draws from data, and draws anew at every choice; links are followed without loading a page. */
export const script: Dressing = {
  shelf: (products, language) => drawn('shelf', goods(products, language)),
  buyArea: (product, language) => drawn('buying', shownOf(product, language)),
  border: (products, language) =>
    drawn('border', { rows: goods(products, language), all: translate(language, 'putAllInBasket') }),
  till: (content) => content,
  showsOthers: true,
  asset: 'script.js',
};

const goods = (products: readonly Product[], language: Language) =>
  products.map((product) => shownOf(product, language));

const drawn = (what: string, data: unknown) =>
  html`<div data-draw="${what}" data-goods="${JSON.stringify(data)}"></div>`;
