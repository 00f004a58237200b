import { slugsOf, type Catalog, type Product } from '../catalog.ts';
import type { Dressing, View } from '../dressings/dressing.ts';
import { html, Html } from '../html.ts';
import { translate } from '../words.ts';

/** Style and language of product pages. */
export interface Style extends View {
  readonly dressing: Dressing;
  /** Address of the shop, for structured data. */
  readonly site: string;
}

/** Cards of products, each with its price and the button that buys it (its first variant). */
export function shelf(products: readonly Product[], style: Style): Html {
  if (products.length === 0) return html`<p class="empty">${translate(style.language, 'nothingFound')}</p>`;
  return style.dressing.shelf(products, style);
}

/** Products whose pictures stand at the top of the first page. */
const SHOWN_FIRST = ['/plants/paper-lantern', '/plants/harts-tongue', '/plants/last-bus'];

/** Home page: the nursery, its ranges and all its products. */
export function frontPage(catalog: Catalog, style: Style): Html {
  const { language } = style;
  const ranges = [...catalog.below('plants'), ...catalog.below('').filter(({ slugs }) => slugs !== 'plants')];
  const pictures = new Set<string>();
  const pictureOf = (slugs: string) => {
    const products = catalog.within(slugs);
    const { picture } = products.find(({ picture }) => !pictures.has(picture)) ?? products[0] ?? { picture: '' };
    pictures.add(picture);
    return picture;
  };
  return html`<main>
    <div class="front">
      <div>
        <h1>${translate(language, 'frontTitle')}</h1>
        <p>${translate(language, 'frontText')}</p>
        <p><a class="front-link" href="#everything">${translate(language, 'seeAll')}</a></p>
      </div>
      <div class="front-pictures">
        ${SHOWN_FIRST.flatMap((path) => catalog.at(path) ?? []).map(
          ({ path, title, picture }) =>
            html`<a href="${path}"><img src="${picture}" alt="${title}" width="320" height="240" /></a>`,
        )}
      </div>
    </div>
    <h2>${translate(language, 'theRanges')}</h2>
    <ul class="range-tiles">
      ${ranges.map(
        ({ slugs, name, count }) =>
          html`<li>
            <a href="/range/${slugs}">
              <img src="${pictureOf(slugs)}" alt="" width="320" height="240" loading="lazy" />
              <span>${name} <small>${count}</small></span>
            </a>
          </li>`,
      )}
    </ul>
    <h2 id="everything">${translate(language, 'everything')}</h2>
    ${shelf(catalog.products, style)}
  </main>`;
}

export function rangePage(catalog: Catalog, slugs: string, style: Style): Html {
  const names = catalog.namesOf(slugs) ?? [];
  return html`<main>
    ${crumbs(names)}
    <h1>${names.at(-1)}</h1>
    <ul class="ranges">
      ${catalog.below(slugs).map(
        (range) =>
          html`<li>
            <a href="/range/${range.slugs}">${range.name} <small>${range.count}</small></a>
          </li>`,
      )}
    </ul>
    ${shelf(catalog.within(slugs), style)}
  </main>`;
}

function crumbs(names: readonly string[]): Html {
  return html`<nav class="crumbs" aria-label="Range">
    <a href="/">Quillfern</a>
    ${names.map((name, depth) => html` › <a href="/range/${slugsOf(names.slice(0, depth + 1))}">${name}</a>`)}
  </nav>`;
}

/** A product's own page, with a switcher when it comes in several variants, and others of its range below. */
export function productPage(product: Product, catalog: Catalog, style: Style): Html {
  const { dressing, language } = style;
  const range = product.categories[0] ?? [];
  const others = othersBeside(product, catalog, dressing);
  return html`<main class="product">
    ${crumbs(range)}
    <div class="bed">
      <img src="${product.picture}" alt="" width="480" height="360" />
      ${dressing.buyArea(product, 'product', style)}
    </div>
    ${structured(product, style)}
    ${
      others.length > 0
        ? html`<h2>${translate(language, 'besideIt')}</h2>
            ${dressing.shelf(others, style)}`
        : null
    }
  </main>`;
}

/** Products of the same range that a product's page shows below it. */
export const othersBeside = (product: Product, catalog: Catalog, { showsOthers }: Dressing): Product[] =>
  showsOthers
    ? catalog
        .within(slugsOf(product.categories[0] ?? []))
        .filter(({ id }) => id !== product.id)
        .slice(0, 4)
    : [];

/** Quick view of a product. */
export function glance(product: Product, style: Style): Html {
  const { dressing, language } = style;
  return html`<div class="glance-card" data-href="${product.path}">
    <button type="button" class="close quiet">${translate(language, 'close')}</button>
    ${dressing.buyArea(product, 'quickView', style)}
    <p><a href="${product.path}">${product.title}</a></p>
  </div>`;
}

/** Several products that make a border, bought by one button. */
export function borderPage(products: readonly Product[], style: Style): Html {
  const { dressing, language } = style;
  return html`<main class="narrow">
    <h1>${translate(language, 'border')}</h1>
    <p>${translate(language, 'borderText')}</p>
    ${dressing.border(products, style)}
  </main>`;
}

/** The product for machines: schema.org/Product, an offer for each variant, without prices that are hidden. */
function structured({ title, path, variants }: Product, { site, isPriceHidden }: Style): Html {
  const data = {
    '@context': 'https://schema.org',
    '@type': 'Product',
    name: title,
    url: site + path,
    offers: variants.map(({ id, price, stock }) => ({
      '@type': 'Offer',
      sku: id,
      ...(isPriceHidden('product', id) ? {} : { price: (price / 100).toFixed(2), priceCurrency: 'EUR' }),
      availability: `https://schema.org/${stock === 0 ? 'OutOfStock' : 'InStock'}`,
    })),
  };
  return new Html(`<script type="application/ld+json">${JSON.stringify(data).replaceAll('<', '\\u003c')}</script>`);
}
