import { isAllowed } from '#core/requests/machine.ts';
import { waitlist } from '#core/requests/waitlist.ts';
import express, { type Request, type RequestHandler } from 'express';
import type { TextKey } from '#core/texts/languages/en.ts';
import { localeFor } from '#core/texts/locale.ts';
import { shopText } from '#core/texts/shopTexts.ts';
import { limitTo } from '../limits/limit.ts';
import { pressOnce, sendPage, escaped, type Page } from '../pages/page.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { Services } from '../services/services.ts';
import { WHOLE_SHOP } from '../scope/scope.ts';
import { entriesByIds, findList } from './waitlistQueries.ts';
import { titleOf } from '../catalog/titles.ts';
import { guestSpeaking } from '../visitors/visitor.ts';
import { LEAVE } from './waitlistLetters.ts';
import { CONFIRM, joinList, leaveList } from './waitlistService.ts';

const A_MINUTE = 60;

/** Pages behind links in messages, which confirm an address or leave a list with one press. */
export function waitlistPages(endpoints: Endpoints, services: Services): void {
  const { db, live, clock, links } = services;
  const form = express.urlencoded({ extended: false, limit: '100kb' });
  const limit = limitTo(A_MINUTE, db, 'waitlist-page:');
  const tokenIn = ({ query, body }: Request): unknown =>
    query.token ?? (body as { token?: unknown } | undefined)?.token;

  const wordsFor = (locale: string | null) => {
    const { shop } = live.current().rulebook;
    return {
      shop,
      page: { locale: localeFor(locale, shop.locales), shop: shop.name },
      text: (word: Word) => shopText(`listPage.${word}`, locale, shop),
    };
  };
  const over = (request: Request) => {
    const { page, text } = wordsFor(request.acceptsLanguages()[0] ?? null);
    return { ...page, title: text('over'), html: `<p>${escaped(text('overWhy'))}</p>` };
  };

  const confirming = async (request: Request) => {
    const claims = await links.read(CONFIRM, tokenIn(request));
    if (typeof claims?.product !== 'string' || typeof claims.email !== 'string') return null;
    const list = await findList(
      db,
      { product: claims.product, variant: typeof claims.variant === 'string' ? claims.variant : null },
      WHOLE_SHOP,
    );
    const locale = typeof claims.locale === 'string' ? claims.locale : null;
    const name = typeof claims.name === 'string' ? claims.name : null;
    return (
      list && {
        list,
        link: claims,
        who: { accountOnly: false, customer: null, email: claims.email, name, locale, at: new Date(clock()) },
      }
    );
  };
  type Found<T> = (request: Request) => Promise<T | null>;
  type Showing<T> = (found: T, request: Request) => Promise<Page | null> | Page;
  /** Shows the page behind a link, or says that it has expired. */
  const showing =
    <T>(find: Found<T>, show: Showing<T>): RequestHandler =>
    async (request, response) => {
      const found = await find(request);
      const page = found === null ? null : await show(found, request);
      if (page) sendPage(response, page);
      else sendPage(response, over(request), 410);
    };
  const mount = <T>(path: string, find: Found<T>, asks: Showing<T>, does: Showing<T>) => {
    endpoints.mount('get', path, 'public', limit, showing(find, asks));
    endpoints.mount('post', path, 'public', limit, form, showing(find, does));
  };

  mount(
    '/waitlist/confirm',
    confirming,
    ({ list, who }, request) => {
      const { shop, page, text } = wordsFor(who.locale);
      const html = `<p>${escaped(who.email)}</p>${pressOnce(String(tokenIn(request)), text('join'))}`;
      return { ...page, title: titleOf(list, who.locale, shop.locales), html };
    },
    async ({ list, who, link }) => {
      const { shop, page, text } = wordsFor(who.locale);
      const joined = await joinList(services, list, who, guestSpeaking(who.locale), link);
      if (!joined) return null;
      const { pageMap } = live.current();
      const back =
        pageMap?.site && list.path
          ? `<p><a href="${escaped(new URL(list.path, pageMap.site).href)}">${escaped(text('back'))}</a></p>`
          : '';
      return { ...page, title: titleOf(list, who.locale, shop.locales), html: `<p>${joined.html}</p>${back}` };
    },
  );

  const leaving = async (request: Request) => {
    const claims = await links.read(LEAVE, tokenIn(request));
    const [entry] = typeof claims?.entry === 'number' ? await entriesByIds(db, [claims.entry], WHOLE_SHOP) : [];
    return entry ?? null;
  };
  mount(
    '/waitlist/leave',
    leaving,
    (entry, request) => {
      const { shop, page, text } = wordsFor(entry.locale);
      const isOpen = isAllowed(waitlist, entry.state, 'leave', 'customer');
      const html = isOpen ? pressOnce(String(tokenIn(request)), text('leave')) : `<p>${escaped(text('left'))}</p>`;
      return { ...page, title: titleOf(entry, entry.locale, shop.locales), html };
    },
    async (entry) => {
      await leaveList(services, entry.id, { command: 'leave', actor: 'customer' });
      const { shop, page, text } = wordsFor(entry.locale);
      const title = titleOf(entry, entry.locale, shop.locales);
      return { ...page, title, html: `<p>${escaped(text('left'))}</p>` };
    },
  );
}

type Word = TextKey extends infer Key ? (Key extends `listPage.${infer W}` ? W : never) : never;
