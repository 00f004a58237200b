import type { Catalog } from '../catalog.ts';
import { html, safe, type Html } from '../html.ts';
import type { Customer } from '../people.ts';
import type { LineVerdict, Verdict } from '../../client/understudy.ts';
import type { Dressing } from '../dressings/dressing.ts';
import type { Language, Visit } from '../visits.ts';
import { money, translate } from '../words.ts';

export interface CartLine {
  readonly variantId: string;
  readonly title: string;
  readonly variantTitle: string;
  readonly path: string;
  readonly quantity: number;
  readonly unitPrice: number;
  readonly isPriceHidden: boolean;
  /** Why it cannot be sold now; null when it can. */
  readonly refusal: string | null;
  readonly preorder: LineVerdict['preorder'];
  readonly afterOrder: string | null;
}

/** The basket's lines, with the guard's verdicts. */
export function linesOf(catalog: Catalog, lines: readonly Visit['lines'][number][], verdict: Verdict): CartLine[] {
  return lines.flatMap((line) => {
    const found = catalog.variant(line.variantId);
    if (!found) return [];
    const { title, path } = found.product;
    const lineVerdict = verdict.lines.find(({ variantId }) => variantId === line.variantId);
    return [
      {
        ...line,
        title,
        path,
        variantTitle: found.variant.title,
        refusal: lineVerdict && !lineVerdict.ok ? (lineVerdict.text ?? '') : null,
        preorder: lineVerdict?.preorder ?? null,
        afterOrder: lineVerdict?.afterOrder ?? null,
      },
    ];
  });
}

/** In cents; `delivery` is that of an accepted quote. */
export const totalOf = (lines: readonly CartLine[], delivery: number | null) =>
  lines.reduce((sum, { quantity, unitPrice }) => sum + quantity * unitPrice, delivery ?? 0);

/** Ship date and notes of a pre-ordered line, which is reserved only once it is ordered. */
const reservation = ({ preorder }: CartLine, language: Language, isOrdered: boolean): Html | null =>
  preorder &&
  html`<div class="reserved">
    <b>${translate(language, isOrdered ? 'reserved' : 'preorder')}</b> ${preorder.ships}
    ${preorder.notes.map((note) => html`<p>${safe(note)}</p>`)}
  </div>`;

interface Cart {
  readonly lines: readonly CartLine[];
  readonly delivery: number | null;
}

interface TableOptions {
  readonly isRemovable?: boolean;
  /** Whether its lines were ordered. */
  readonly isOrdered?: boolean;
}

function table(
  { lines, delivery }: Cart,
  language: Language,
  { isRemovable = false, isOrdered = false }: TableOptions = {},
): Html {
  return html`<table class="lines">
    <tbody>
      ${lines.map(
        (line) =>
          html`<tr>
            <td class="line">
              <input type="hidden" name="variant" value="${line.variantId}" />
              <a href="${line.path}">${line.title}</a> <small>${line.variantTitle}</small>
              ${reservation(line, language, isOrdered)}
              ${line.refusal === null ? null : html`<p class="refusal" role="alert">${line.refusal}</p>`}
            </td>
            ${
              line.isPriceHidden
                ? html`<td class="number">${line.quantity}</td>
                    <td class="number">${translate(language, 'priceOnRequest')}</td>`
                : html`<td class="number">${line.quantity} × ${money(line.unitPrice, language)}</td>
                    <td class="number">${money(line.quantity * line.unitPrice, language)}</td>`
            }
            ${
              isRemovable
                ? html`<td>
                    <form method="post" action="/basket/take-out">
                      <button
                        class="quiet"
                        name="variant"
                        value="${line.variantId}"
                        aria-label="${translate(language, 'takeOut')}: ${line.title}"
                      >
                        ${translate(language, 'takeOut')}
                      </button>
                    </form>
                  </td>`
                : null
            }
          </tr>`,
      )}
    </tbody>
    <tfoot>
      ${
        delivery === null
          ? null
          : html`<tr>
              <th scope="row" colspan="2">${translate(language, 'delivery')}</th>
              <td class="number">${money(delivery, language)}</td>
              ${isRemovable ? html`<td></td>` : null}
            </tr>`
      }
      <tr>
        <th scope="row" colspan="2">${translate(language, 'total')}</th>
        <td class="number">
          ${
            // A total would tell the price that is left out.
            lines.some(({ isPriceHidden }) => isPriceHidden)
              ? translate(language, 'priceOnRequest')
              : money(totalOf(lines, delivery), language)
          }
        </td>
        ${isRemovable ? html`<td></td>` : null}
      </tr>
    </tfoot>
  </table>`;
}

export function basketPage(cart: Cart, language: Language): Html {
  return html`<main class="narrow">
    <h1>${translate(language, 'basket')}</h1>
    ${
      cart.lines.length === 0
        ? html`<p class="empty">
            ${translate(language, 'emptyBasket')} <a href="/">${translate(language, 'keepLooking')}</a>
          </p>`
        : html`${table(cart, language, { isRemovable: true })}
            <p><a class="onward" href="/checkout">${translate(language, 'toCheckout')}</a></p>`
    }
  </main>`;
}

/** Fields for reservations: an address, and acceptance of the terms. */
const reserving = (language: Language, customer: Customer | null): Html =>
  html`<fieldset>
    <legend>${translate(language, 'preorder')}</legend>
    ${
      customer
        ? null
        : html`<label>${translate(language, 'name')} <input name="name" autocomplete="name" required /></label>
            <label
              >${translate(language, 'email')} <input name="email" type="email" autocomplete="email" required
            /></label>`
    }
    <label class="method"><input type="checkbox" required /> ${translate(language, 'acceptTerms')}</label>
  </fieldset>`;

export function checkoutPage(cart: Cart, dressing: Dressing, { language, customer }: Visit): Html {
  return html`<main class="narrow">
    <h1>${translate(language, 'checkout')}</h1>
    ${table(cart, language)}
    ${dressing.till(
      html`<form method="post" action="/checkout" class="pay">
        <fieldset>
          <legend>${translate(language, 'payBy')}</legend>
          <label class="method"
            ><input type="radio" name="method" value="card" checked /> ${translate(language, 'card')}</label
          >
          <label class="method"
            ><input type="radio" name="method" value="invoice" /> ${translate(language, 'invoice')}</label
          >
        </fieldset>
        ${cart.lines.some(({ preorder }) => preorder !== null) ? reserving(language, customer) : null}
        ${cart.lines.map(({ variantId, preorder }) => preorder && html`<input type="hidden" name="terms" value="${variantId} ${preorder.terms}" />`)}
        <button class="place-order">${translate(language, 'order')}</button>
      </form>`,
    )}
  </main>`;
}

export interface Order extends Cart {
  readonly number: string;
  readonly method: string;
  /** Null for a guest. */
  readonly customerId: string | null;
}

export function orderPage(order: Order, language: Language): Html {
  const { number, lines, method } = order;
  return html`<main class="narrow">
    <h1>${translate(language, 'ordered')}</h1>
    <p>N° ${number} · ${method}</p>
    ${lines.map(({ afterOrder }) => (afterOrder === null ? null : html`<div class="after-order">${safe(afterOrder)}</div>`))}
    ${table(order, language, { isOrdered: true })}
    <p><a href="/">${translate(language, 'keepLooking')}</a></p>
  </main>`;
}
