import { slugsOf, type Catalog, type Product, type Variant } from '../catalog.ts';
import { html, type Html } from '../html.ts';
import type { Language } from '../visits.ts';
import { money, say } from '../words.ts';

/** Cards of products, each with its price and the button that buys it (its first variant). */
export function shelf(products: readonly Product[], language: Language): Html {
  if (products.length === 0) return html`<p class="empty">${say(language, 'nothingFound')}</p>`;
  return html`<ul class="shelf">
    ${products.map((product) => card(product, language))}
  </ul>`;
}

function card(product: Product, language: Language): Html {
  const prices = product.variants.map(({ price }) => price);
  const lowest = Math.min(...prices);
  const [first] = product.variants;
  return html`<li class="shelf-item">
    <a class="shelf-link" href="${product.path}">
      <img src="${product.picture}" alt="" width="320" height="240" loading="lazy" />
      <span class="name">${product.title}</span>
    </a>
    <span class="cost"
      >${prices.some((price) => price !== lowest) ? `${say(language, 'from')} ` : ''}${money(lowest, language)}</span
    >
    <form method="post" action="/basket/add">
      <input type="hidden" name="variant" value="${first?.id}" />
      <button class="put-in-basket">${say(language, 'putInBasket')}</button>
    </form>
  </li>`;
}

export function rangePage(catalog: Catalog, slugs: string, language: Language): Html {
  const names = slugs === '' ? [] : (catalog.namesOf(slugs) ?? []);
  const products = slugs === '' ? catalog.products : catalog.within(slugs);
  return html`<main>
    ${names.length > 0 ? crumbs(names) : null}
    <h1>${names.at(-1) ?? say(language, 'everything')}</h1>
    <ul class="ranges">
      ${catalog.below(slugs).map(
        (range) =>
          html`<li>
            <a href="/range/${range.slugs}">${range.name} <small>${range.count}</small></a>
          </li>`,
      )}
    </ul>
    ${shelf(products, language)}
  </main>`;
}

function crumbs(names: readonly string[]): Html {
  return html`<nav class="crumbs" aria-label="Range">
    <a href="/">Quillfern</a>
    ${names.map((name, depth) => html` › <a href="/range/${slugsOf(names.slice(0, depth + 1))}">${name}</a>`)}
  </nav>`;
}

/** A product's own page, with a switcher when it comes in several variants. */
export function productPage(product: Product, language: Language): Html {
  const [first] = product.variants;
  if (!first) return html`<main><h1>${product.title}</h1></main>`;
  return html`<main class="product">
    ${crumbs(product.categories[0] ?? [])}
    <div class="bed">
      <img src="${product.picture}" alt="" width="480" height="360" />
      <div class="buy-area">
        <h1>${product.title}</h1>
        ${product.seller ? html`<p class="seller">${product.seller}</p>` : null}
        <p class="cost">${priceOf(first, language)}</p>
        <form method="post" action="/basket/add">
          ${
            product.variants.length > 1
              ? html`<label>
                  ${say(language, 'size')}
                  <select name="variant">
                    ${product.variants.map((variant) => option(variant, language))}
                  </select>
                </label>`
              : html`<input type="hidden" name="variant" value="${first.id}" />
                  ${first.title ? html`<p class="only-size">${first.title}</p>` : null}`
          }
          <p class="stock-note">${stockNote(first, language)}</p>
          <label
            >${say(language, 'quantity')} <input type="number" name="quantity" value="1" min="1" max="999"
          /></label>
          <div class="buttons">
            <button class="put-in-basket">${say(language, 'putInBasket')}</button>
            <button class="swift-pay" formaction="/swift-pay">${say(language, 'swiftPay')}</button>
          </div>
        </form>
      </div>
    </div>
  </main>`;
}

function option(variant: Variant, language: Language): Html {
  return html`<option
    value="${variant.id}"
    data-price="${priceOf(variant, language)}"
    data-stock="${stockNote(variant, language)}"
  >
    ${variant.title}
  </option>`;
}

const priceOf = ({ price }: Variant, language: Language) => money(price, language);

function stockNote({ stock }: Variant, language: Language): string {
  if (stock === null) return say(language, 'madeUp');
  return stock > 0 ? `${stock} ${say(language, 'inStock')}` : say(language, 'noneLeft');
}
