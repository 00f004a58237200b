import express, { type Request } from 'express';
import { instantWords } from '#core/texts/messages.ts';
import { formatPrice } from '#core/texts/prices.ts';
import type { TextKey } from '#core/texts/languages/en.ts';
import { localeFor } from '#core/texts/locale.ts';
import { shopText } from '#core/texts/shopTexts.ts';
import { limitTo } from '../limits/limit.ts';
import { escaped, sendPage } from '../pages/page.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { WHOLE_SHOP } from '../scope/scope.ts';
import type { Services } from '../services/services.ts';
import { titleOf } from '../catalog/titles.ts';
import { quoteOf } from '../visitors/acceptedQuote.ts';
import { quoteById, type QuotePart, type QuoteRow } from './quoteQueries.ts';
import { answer, type CustomerCommand } from './quoteService.ts';
import { hasExpired, isQuoteCommandAllowed } from '#core/requests/quote.ts';
import { isSent, totalOf, versionOf } from './quoteTotals.ts';

const A_MINUTE = 20;

/** The customer's page of a quote, by the link of a message: to read, print, answer, accept or decline. */
export function quotePage(endpoints: Endpoints, services: Services): void {
  const { db, live, clock } = services;
  const limit = limitTo(A_MINUTE, db, 'quote-page:');
  const form = express.urlencoded({ extended: false, limit: '100kb' });
  const bodyOf = (request: Request) => (request.body ?? {}) as Readonly<Record<string, unknown>>;

  const show = (row: QuoteRow, token: string, isChanged = false) => {
    const { rulebook, pageMap } = live.current();
    const { shop } = rulebook;
    const { locale, state, lines, parts, validUntil } = row;
    const text = (word: Word) => escaped(shopText(`quotePage.${word}`, locale, shop));
    const money = (minor: number) => escaped(formatPrice(minor, shop, locale));
    const hasPrices = isSent(row);
    const number = (html: string) => `<td class="number">${html}</td>`;
    const rowsOf = (part: QuotePart) => {
      const isPriced = hasPrices && part.state === 'priced';
      const missing = part.state === 'turnedDown' ? text('notAvailable') : hasPrices ? text('follows') : '';
      const rows = lines
        .filter(({ seller }) => seller === part.seller)
        .map(({ note, units, unitPrice, ...line }) => {
          const name =
            escaped(titleOf(line, locale, shop.locales)) + (note === null ? '' : `<br><small>${escaped(note)}</small>`);
          const prices =
            isPriced && unitPrice !== null
              ? number(money(unitPrice)) + number(money(units * unitPrice))
              : number(missing) + number('');
          return `<tr><td>${name}</td>${number(String(units))}${prices}</tr>`;
        });
      if (isPriced && part.delivery !== null)
        rows.push(`<tr><td colspan="3">${text('delivery')}</td>${number(money(part.delivery))}</tr>`);
      const heading =
        parts.length === 1
          ? ''
          : `<tr><th colspan="4" scope="rowgroup"><strong>${escaped(part.name ?? shop.name)}</strong></th></tr>`;
      return `<tbody>${heading}${rows.join('')}</tbody>`;
    };
    const foot = hasPrices
      ? `<tfoot><tr><th colspan="3" scope="row">${text('total')}</th><td class="number"><strong>${money(totalOf(row))}</strong></td></tr></tfoot>`
      : '';
    const thread = row.messages.map(
      ({ byOwner, seller, words }) =>
        `<p><strong>${byOwner ? escaped(seller ?? shop.name) : text('you')}:</strong> ${escaped(words)}</p>`,
    );
    const field =
      `<input type="hidden" name="token" value="${escaped(token)}">` +
      `<input type="hidden" name="version" value="${versionOf(row)}">`;
    const isExpired = hasExpired(row, new Date(clock()));
    const isOpen = state === 'priced' && !isExpired;
    const now = new Date(clock());
    const buttons = BUTTONS.filter(({ command }) => isQuoteCommandAllowed(row, command, 'customer', now));
    const button = ({ as, word }: (typeof BUTTONS)[number]) =>
      `<button name="as" value="${as}">${text(word)}</button> `;
    const toShop = new URL('/', pageMap?.site ?? 'http://localhost');
    toShop.searchParams.set('quote', token);
    const next =
      state === 'accepted' && row.order === null && pageMap?.site
        ? `<p><a href="${escaped(toShop.href)}">${text('toBasket')}</a></p>`
        : '';
    const rest =
      isOpen && parts.some((part) => part.state === 'asked') ? `<p>${text('rest')} ${text('acceptPart')}</p>` : '';
    const until =
      validUntil && isOpen
        ? `<p>${text('until')} ${escaped(instantWords(validUntil.getTime(), shop, locale))}</p>`
        : '';
    return {
      locale: localeFor(locale, shop.locales),
      shop: shop.name,
      title: shopText(`quotePage.${state}`, locale, shop),
      html:
        (isChanged ? `<p role="alert"><strong>${text('changed')}</strong></p>` : '') +
        (isExpired ? `<p role="alert"><strong>${text('expired')}</strong></p>` : '') +
        `<table><thead><tr><th>${text('goods')}</th><th class="number">${text('units')}</th><th class="number">${text('each')}</th><th></th></tr></thead>` +
        `${parts.map(rowsOf).join('')}${foot}</table>${until}${rest}${thread.join('')}${next}` +
        `<form method="post" action="/quote">${field}<label>${text('reply')} <textarea name="words" rows="3" maxlength="5000"></textarea></label>` +
        `${buttons.map(button).join('')}</form>`,
    };
  };

  const find = async (token: unknown) => {
    const id = await quoteOf(services, token);
    return id === null ? null : quoteById(db, id, WHOLE_SHOP);
  };
  const over = (request: Request) => {
    const { shop } = live.current().rulebook;
    const locale = localeFor(request.acceptsLanguages()[0] ?? null, shop.locales);
    return { locale, shop: shop.name, title: shopText('quotePage.over', locale, shop), html: '' };
  };

  endpoints.mount('get', '/quote', 'public', limit, async (request, response) => {
    const { token } = request.query;
    const row = await find(token);
    if (row && typeof token === 'string') sendPage(response, show(row, token));
    else sendPage(response, over(request), 410);
  });
  endpoints.mount('post', '/quote', 'public', limit, form, async (request, response) => {
    const { token, as, words, version } = bodyOf(request);
    const row = await find(token);
    if (!row) {
      sendPage(response, over(request), 410);
      return;
    }
    const text = typeof words === 'string' ? words.replaceAll('\0', '').trim().slice(0, 5000) : '';
    const command = BUTTONS.find((button) => button.as === as)?.command ?? 'reply';
    if (command !== 'reply' || text !== '') {
      const came = await answer(services, row.id, { command, words: text, version: String(version) });
      if (came !== 'done') {
        const now = (await quoteById(db, row.id, WHOLE_SHOP))!;
        sendPage(response, show(now, String(token), came === 'changed'), 409);
        return;
      }
    }
    response.redirect(303, `/quote?token=${encodeURIComponent(String(token))}`);
  });
}

/** Buttons of the page: the command of each, its value in the form, which pages sent before keep, and its words. */
const BUTTONS: readonly { readonly command: CustomerCommand; readonly as: string; readonly word: Word }[] = [
  { command: 'accept', as: 'accepted', word: 'accept' },
  { command: 'decline', as: 'declined', word: 'decline' },
  { command: 'askAgain', as: 'askAgain', word: 'askAgain' },
  { command: 'reply', as: 'reply', word: 'send' },
];

type Word = TextKey extends infer Key ? (Key extends `quotePage.${infer W}` ? W : never) : never;
