import type { Product } from '../catalog.ts';
import { html, type Html } from '../html.ts';
import { translate } from '../words.ts';
import type { Dressing, View } from './dressing.ts';
import { shownOf } from './goods.ts';

/** Custom elements, each with an open shadow root that is sent with the page (declarative shadow DOM). */
export const elements: Dressing = {
  shelf: (products, view) => html`<div class="shelf">${products.map((product) => card(product, view))}</div>`,
  buyArea,
  border: (products, view) =>
    html`<nursery-border
      >${inside(
        html`<form method="post" action="/basket/add-several" class="border">
          <ul>
            ${products.map((product) => row(product, view))}
          </ul>
          <button part="all" class="look">${translate(view.language, 'putAllInBasket')}</button>
        </form>`,
      )}</nursery-border
    >`,
  till: (content) => html`<nursery-till>${inside(content)}</nursery-till>`,
  showsOthers: true,
  asset: 'elements.js',
};

const inside = (content: Html) =>
  html`<template shadowrootmode="open"><link rel="stylesheet" href="/assets/shop.css" />${content}</template>`;

function card(product: Product, view: View): Html {
  const { path, title, picture, price, soldAt, variants, words } = shownOf(product, 'listing', view);
  return html`<nursery-card data-href="${path}"
    >${inside(
      html`<a class="shelf-link" href="${path}">
          <img src="${picture}" alt="" width="320" height="240" loading="lazy" />
          <span class="name">${title}</span>
        </a>
        <div class="shelf-offer">
          <span part="money" class="cost">${price}</span>
          ${
            soldAt === null
              ? html`<form method="post" action="/basket/add">
                  <input type="hidden" name="variant" value="${variants[0]?.id}" />
                  <button part="take" class="look">${words.add}</button>
                </form>`
              : html`<a part="take" class="look" href="${soldAt}">${words.add}</a>`
          }
          <button class="quick-look quiet" data-glance="${path}" aria-label="${words.look}: ${title}">
            ${words.look}
          </button>
        </div>`,
    )}</nursery-card
  >`;
}

function buyArea(product: Product, surface: 'product' | 'quickView', view: View): Html {
  const { title, seller, soldAt, variants, words } = shownOf(product, surface, view);
  const [first] = variants;
  return html`<nursery-buying data-href="${product.path}"
    ><h1 slot="title">${title}</h1>
    ${inside(
      html`<div class="buy-area">
        <slot name="title"></slot>
        ${seller ? html`<p class="seller">${seller}</p>` : null}
        <p part="money" class="cost">${first?.price}</p>
        ${
          soldAt === null
            ? html`<form method="post" action="/basket/add">
                ${
                  variants.length > 1
                    ? html`<fieldset>
                        <legend>${words.size}</legend>
                        ${variants.map(
                          ({ id, title, price, stock }, index) =>
                            html`<label
                              ><input
                                type="radio"
                                name="variant"
                                value="${id}"
                                data-price="${price}"
                                data-stock="${stock}"
                                ${index === 0 ? html`checked` : null}
                              />
                              ${title}</label
                            >`,
                        )}
                      </fieldset>`
                    : html`<input type="hidden" name="variant" value="${first?.id}" />`
                }
                <p part="stock" class="stock-note">${first?.stock}</p>
                <label>${words.quantity} <input type="number" name="quantity" value="1" min="1" max="999" /></label>
                <div class="buttons">
                  <button part="take" class="look">${words.add}</button>
                  <button part="swift" class="swift-pay" formaction="/swift-pay">${words.pay}</button>
                </div>
              </form>`
            : html`<p><a part="take" class="look" href="${soldAt}">${words.add}</a></p>`
        }
        <p part="details" class="details">${words.details}</p>
      </div>`,
    )}</nursery-buying
  >`;
}

function row(product: Product, view: View): Html {
  const { path, title, price, variants, words } = shownOf(product, 'listing', view);
  return html`<li part="row" class="border-row">
    <a href="${path}">${title}</a>
    <span part="money" class="cost">${price}</span>
    <input type="hidden" name="variant" value="${variants[0]?.id}" />
    <input
      part="units"
      type="number"
      name="quantity"
      value="0"
      min="0"
      max="99"
      aria-label="${words.quantity}: ${title}"
    />
  </li>`;
}
