import { wordsIn } from '#core/texts/locale.ts';
import {
  getQuoteCart,
  listQuotes,
  postQuote,
  priceQuote,
  turnDownQuote,
  type Quote,
} from '#core/contract/askingCalls.ts';
import { deliveryOf } from '#core/requests/quoteParts.ts';
import { notFound } from '../http/errors.ts';
import { onceSent, readForm } from '../forms/formQueries.ts';
import { QUOTE_FORM } from '../forms/formRoutes.ts';
import { limitTo } from '../limits/limit.ts';
import { networkOf } from '../http/network.ts';
import { reply, route } from '../http/route.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { scopeOf } from '../scope/scope.ts';
import type { Services } from '../services/services.ts';
import { titleOf } from '../catalog/titles.ts';
import { acceptedQuote } from '../visitors/acceptedQuote.ts';
import { pageOfQuotes, productsQuoted, type QuoteRow } from './quoteQueries.ts';
import { askPrice, price, turnDown } from './quoteService.ts';
import { totalOf } from './quoteTotals.ts';

const A_MINUTE = 20;

export function quoteRoutes(endpoints: Endpoints, services: Services, shopper: Services): void {
  const { db, live } = services;

  route(
    endpoints,
    postQuote,
    async ({ body }, { request }) => {
      await askPrice(shopper, body, networkOf(request));
      const { shop } = live.current().rulebook;
      const confirmation = onceSent(await readForm(shopper.db, QUOTE_FORM), 'quoted', {
        locale: body.locale ?? null,
        shop,
      });
      return reply(201, confirmation, { 'Cache-Control': 'no-store' });
    },
    [limitTo(A_MINUTE, shopper.db, 'quote:')],
  );

  route(endpoints, getQuoteCart, async ({ query: { quote } }) => {
    const accepted = await acceptedQuote(shopper, quote);
    if (!accepted) throw notFound('quote that is accepted and still good');
    const lines = [...accepted.lines].map(([variantId, { units, unitPrice }]) => ({
      variantId,
      quantity: units,
      unitPrice,
    }));
    return reply(200, { lines, delivery: accepted.delivery }, { 'Cache-Control': 'no-store' });
  });

  route(endpoints, listQuotes, async ({ query }, { request }) => {
    const scope = await scopeOf(services, request);
    const { locales } = live.current().rulebook.shop;
    const [{ rows, ...page }, counted] = await Promise.all([pageOfQuotes(db, query, scope), productsQuoted(db, scope)]);
    return reply(200, {
      quotes: rows.map((row) => toQuote(row, locales)),
      ...page,
      products: counted.map(({ title, ...one }) => ({ ...one, title: wordsIn(title, null, locales) })),
    });
  });

  route(endpoints, priceQuote, async ({ params: { id }, body }, { request }) => {
    await price(services, { id, scope: await scopeOf(services, request) }, body);
    return reply(204, undefined);
  });

  route(endpoints, turnDownQuote, async ({ params: { id }, body }, { request }) => {
    await turnDown(services, { id, scope: await scopeOf(services, request) }, body);
    return reply(204, undefined);
  });
}

const toQuote = (
  { id, lines, parts, validUntil, repliedAt, createdAt, changedAt, ...row }: QuoteRow,
  locales: readonly string[],
): Quote => ({
  ...row,
  id: String(id),
  lines: lines.map(({ title, variantTitle, ...line }) => ({
    ...line,
    title: titleOf({ title, variantTitle }, null, locales),
  })),
  parts: parts.map(({ seller, name, state, delivery, validUntil: until, words }) => ({
    seller: seller === null ? null : { id: seller, name: name ?? seller },
    state,
    delivery,
    validUntil: until?.toISOString() ?? null,
    words,
  })),
  delivery: deliveryOf(parts),
  total: totalOf({ ...row, lines, parts }),
  validUntil: validUntil?.toISOString() ?? null,
  createdAt: createdAt.toISOString(),
  repliedAt: repliedAt?.toISOString() ?? null,
  changedAt: changedAt.toISOString(),
});
