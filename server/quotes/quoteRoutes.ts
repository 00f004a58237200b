import type { IRouter } from 'express';
import {
  getQuoteCart,
  listQuotes,
  postQuote,
  priceQuote,
  turnDownQuote,
  type Quote,
} from '#core/contract/askingCalls.ts';
import { quoteTotal } from '#core/serve/quoteTotal.ts';
import { notFound } from '../errors.ts';
import { onceSent, readForm } from '../forms/formQueries.ts';
import { QUOTE_FORM } from '../forms/formRoutes.ts';
import { limitTo } from '../http/limit.ts';
import { reply, route } from '../http/route.ts';
import type { Services } from '../services.ts';
import { titleOf } from '../waitlists/waitlistService.ts';
import { quotedLines } from './quoted.ts';
import { pageOfQuotes, type QuoteRow } from './quoteQueries.ts';
import { askPrice, price, turnDown } from './quoteService.ts';

const A_MINUTE = 20;

export function quoteRoutes(shopCalls: IRouter, ownerCalls: IRouter, services: Services): void {
  const { db, live } = services;

  shopCalls.post(postQuote.path, limitTo(A_MINUTE, db, 'quote:'));
  route(shopCalls, postQuote, async ({ body }) => {
    await askPrice(services, body);
    const { locales } = live.current().rulebook.shop;
    const said = onceSent(await readForm(db, QUOTE_FORM), 'quoted', { locale: body.locale ?? null, locales });
    return reply(201, said, { 'Cache-Control': 'no-store' });
  });

  route(shopCalls, getQuoteCart, async ({ query: { quote } }) => {
    const quoted = await quotedLines(services, quote);
    if (quoted.size === 0) throw notFound('quote that is accepted and still good');
    const lines = [...quoted].map(([variantId, { units, unitPrice }]) => ({ variantId, quantity: units, unitPrice }));
    return reply(200, { lines }, { 'Cache-Control': 'no-store' });
  });

  route(ownerCalls, listQuotes, async ({ query }) => {
    const { limit } = query;
    const { quotes, total } = await pageOfQuotes(db, { ...query, limit: limit + 1 });
    const { locales } = live.current().rulebook.shop;
    const page = quotes.slice(0, limit).map((row) => toQuote(row, locales));
    return reply(200, { quotes: page, total, more: quotes.length > limit });
  });

  route(ownerCalls, priceQuote, async ({ params: { id }, body }) => {
    await price(services, id, body);
    return reply(204, undefined);
  });

  route(ownerCalls, turnDownQuote, async ({ params: { id }, body: { words } }) => {
    await turnDown(services, id, words);
    return reply(204, undefined);
  });
}

const toQuote = (
  { id, lines, validUntil, createdAt, changedAt, ...row }: QuoteRow,
  locales: readonly string[],
): Quote => ({
  ...row,
  id: String(id),
  lines: lines.map(({ title, variantTitle, ...line }) => ({
    ...line,
    title: titleOf({ title, variantTitle }, null, locales),
  })),
  total: quoteTotal(lines, row.delivery),
  validUntil: validUntil?.toISOString() ?? null,
  createdAt: createdAt.toISOString(),
  changedAt: changedAt.toISOString(),
});
