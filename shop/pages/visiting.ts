import { html, type Html } from '../html.ts';
import type { Customer } from '../people.ts';
import { totalOf, type Order } from './buying.ts';
import type { Language } from '../visits.ts';
import { money, translate } from '../words.ts';

/** Lets a visitor choose the customer to sign in as, then returns to the previous page. */
export function signInPage(customers: readonly Customer[], language: Language, back: string): Html {
  return html`<main class="narrow">
    <h1>${translate(language, 'whoAreYou')}</h1>
    <p>
      ${translate(language, 'madeUpPeople')}
      <a href="/circle?back=${encodeURIComponent(back)}">${translate(language, 'joinCircle')}</a>
    </p>
    <form method="post" action="/sign-in" class="people">
      <input type="hidden" name="back" value="${back}" />
      ${customers.map(
        ({ id, name, roles }) =>
          html`<button name="customer" value="${id}"><b>${name}</b> <small>${roles || '—'}</small></button>`,
      )}
    </form>
  </main>`;
}

interface Joining {
  readonly customer: Customer | null;
  readonly back: string;
  /** A year, in cents. */
  readonly price: number;
}

/** Page that sells a membership. */
export function circlePage({ customer, back, price }: Joining, language: Language): Html {
  const year = `${translate(language, 'joinForYear')} · ${money(price, language)}`;
  return html`<main class="narrow">
    <h1>${translate(language, 'circle')}</h1>
    <p>${translate(language, 'circleText')}</p>
    <form method="post" action="/circle" class="pay">
      <input type="hidden" name="back" value="${back}" />
      <button>${customer ? year : translate(language, 'signInToJoin')}</button>
    </form>
  </main>`;
}

/** Page of the signed-in customer with their orders. */
export function accountPage({ name, roles }: Customer, orders: readonly Order[], language: Language): Html {
  return html`<main class="narrow">
    <h1>${translate(language, 'account')}</h1>
    <p>${name}. ${translate(language, 'roles')}: ${roles || '—'}.</p>
    <h2>${translate(language, 'orders')}</h2>
    ${
      orders.length === 0
        ? html`<p class="empty">${translate(language, 'noOrders')}</p>`
        : html`<ul>
            ${orders.map(
              ({ number, lines, delivery }) =>
                html`<li>
                  <a href="/order/${number}">N° ${number}</a>, ${money(totalOf(lines, delivery), language)}
                </li>`,
            )}
          </ul>`
    }
    <form method="post" action="/sign-out"><button class="quiet">${translate(language, 'signOut')}</button></form>
  </main>`;
}
