import type { Product } from '../catalog.ts';
import { html, type Html } from '../html.ts';
import { translate } from '../words.ts';
import type { Dressing, View } from './dressing.ts';
import { shownOf } from './goods.ts';

/** Plain forms, made on the server. */
export const forms: Dressing = {
  shelf: (products, view) =>
    html`<ul class="shelf">
      ${products.map((product) => card(product, view))}
    </ul>`,
  buyArea,
  border: (products, view) =>
    html`<form method="post" action="/basket/add-several" class="border">
      <ul>
        ${products.map((product) => row(product, view))}
      </ul>
      <button class="put-all">${translate(view.language, 'putAllInBasket')}</button>
    </form>`,
  till: (content) => content,
  showsOthers: false,
  asset: 'forms.js',
};

function card(product: Product, view: View): Html {
  const { path, title, picture, price, soldAt, variants, words } = shownOf(product, 'listing', view);
  return html`<li class="shelf-item">
    <a class="shelf-link" href="${path}">
      <img src="${picture}" alt="" width="320" height="240" loading="lazy" />
      <span class="name">${title}</span>
    </a>
    <div class="shelf-offer">
      <span class="cost">${price}</span>
      ${
        soldAt === null
          ? html`<form method="post" action="/basket/add">
              <input type="hidden" name="variant" value="${variants[0]?.id}" />
              <button class="put-in-basket">${words.add}</button>
            </form>`
          : html`<a class="put-in-basket" href="${soldAt}">${words.add}</a>`
      }
      <button class="quick-look quiet" data-glance="${path}" aria-label="${words.look}: ${title}">${words.look}</button>
    </div>
  </li>`;
}

function buyArea(product: Product, surface: 'product' | 'quickView', view: View): Html {
  const { title, seller, soldAt, variants, words } = shownOf(product, surface, view);
  const [first] = variants;
  return html`<div class="buy-area">
    <h1>${title}</h1>
    ${seller ? html`<p class="seller">${seller}</p>` : null}
    <p class="cost" itemprop="price" content="${first?.amount}">${first?.price}</p>
    <link itemprop="availability" href="https://schema.org/${first?.inStock ? 'InStock' : 'OutOfStock'}" />
    ${
      soldAt === null
        ? html`<form method="post" action="/basket/add">
            ${
              variants.length > 1
                ? html`<label>
                    ${words.size}
                    <select name="variant">
                      ${variants.map(
                        ({ id, title, price, stock }) =>
                          html`<option value="${id}" data-price="${price}" data-stock="${stock}">${title}</option>`,
                      )}
                    </select>
                  </label>`
                : html`<input type="hidden" name="variant" value="${first?.id}" />
                    ${first?.title ? html`<p class="only-size">${first.title}</p>` : null}`
            }
            <p class="stock-note">${first?.stock}</p>
            <label>${words.quantity} <input type="number" name="quantity" value="1" min="1" max="999" /></label>
            <div class="buttons">
              <button class="put-in-basket">${words.add}</button>
              <button class="swift-pay" formaction="/swift-pay">${words.pay}</button>
            </div>
          </form>`
        : html`<p><a class="put-in-basket" href="${soldAt}">${words.add}</a></p>`
    }
    <p class="details">${words.details}</p>
  </div>`;
}

function row(product: Product, view: View): Html {
  const { path, title, price, variants, words } = shownOf(product, 'listing', view);
  return html`<li class="border-row">
    <a class="row-link" href="${path}">${title}</a>
    <span class="cost">${price}</span>
    <input type="hidden" name="variant" value="${variants[0]?.id}" />
    <input
      class="row-units"
      type="number"
      name="quantity"
      value="0"
      min="0"
      max="99"
      aria-label="${words.quantity}: ${title}"
    />
  </li>`;
}
