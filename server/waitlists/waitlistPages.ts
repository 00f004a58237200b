import express, { type Request } from 'express';
import { localeFor, wordsIn } from '#core/texts/locale.ts';
import { limitTo } from '../limits/limit.ts';
import { pressOnce, sendPage, escaped } from '../pages/page.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { Services } from '../base/services.ts';
import { entriesByIds, findList } from './waitlistQueries.ts';
import { titleOf } from '../catalog/titles.ts';
import { CONFIRM, joinList, LEAVE, leaveList } from './waitlistService.ts';

const A_MINUTE = 60;

/** Where the links in messages lead: they confirm an address, or leave a list, by one press. */
export function waitlistPages(endpoints: Endpoints, services: Services): void {
  const { db, live, clock, links } = services;
  const form = express.urlencoded({ extended: false, limit: '100kb' });
  const limit = limitTo(A_MINUTE, db, 'waitlist-page:');
  const tokenIn = ({ query, body }: Request): unknown =>
    query.token ?? (body as { token?: unknown } | undefined)?.token;

  const guest = (locale: string | null) => ({ signedIn: false, roles: [], customerId: null, locale, invitations: [] });
  const wordsFor = (locale: string | null) => {
    const { shop } = live.current().rulebook;
    return {
      shop,
      page: { locale: localeFor(locale, shop.locales), shop: shop.name },
      text: (word: keyof typeof WORDS) => wordsIn(WORDS[word], locale, shop.locales),
    };
  };
  const over = (request: Request) => {
    const { page, text } = wordsFor(request.acceptsLanguages()[0] ?? null);
    return { ...page, title: text('over'), html: `<p>${escaped(text('overWhy'))}</p>` };
  };

  const confirming = async (request: Request) => {
    const claims = await links.read(CONFIRM, tokenIn(request));
    if (typeof claims?.product !== 'string' || typeof claims.email !== 'string') return null;
    const list = await findList(db, claims.product, typeof claims.variant === 'string' ? claims.variant : null);
    const locale = typeof claims.locale === 'string' ? claims.locale : null;
    const name = typeof claims.name === 'string' ? claims.name : null;
    return (
      list && { list, link: claims, who: { customer: null, email: claims.email, name, locale, at: new Date(clock()) } }
    );
  };
  endpoints.mount('get', '/waitlist/confirm', 'public', limit, async (request, response) => {
    const found = await confirming(request);
    if (!found) {
      sendPage(response, over(request), 410);
      return;
    }
    const { list, who } = found;
    const { shop, page, text } = wordsFor(who.locale);
    const html = `<p>${escaped(who.email)}</p>${pressOnce(String(tokenIn(request)), text('join'))}`;
    sendPage(response, { ...page, title: titleOf(list, who.locale, shop.locales), html });
  });
  endpoints.mount('post', '/waitlist/confirm', 'public', limit, form, async (request, response) => {
    const found = await confirming(request);
    if (!found) {
      sendPage(response, over(request), 410);
      return;
    }
    const { list, who, link } = found;
    const { shop, page, text } = wordsFor(who.locale);
    const joined = await joinList(services, list, who, guest(who.locale), link);
    if (!joined) {
      sendPage(response, over(request), 410);
      return;
    }
    const { html } = joined;
    const { pageMap } = live.current();
    const back =
      pageMap?.site && list.path
        ? `<p><a href="${escaped(new URL(list.path, pageMap.site).href)}">${escaped(text('back'))}</a></p>`
        : '';
    sendPage(response, { ...page, title: titleOf(list, who.locale, shop.locales), html: `<p>${html}</p>${back}` });
  });

  const leaving = async (request: Request) => {
    const claims = await links.read(LEAVE, tokenIn(request));
    const [entry] = typeof claims?.entry === 'number' ? await entriesByIds(db, [claims.entry]) : [];
    return entry ?? null;
  };
  endpoints.mount('get', '/waitlist/leave', 'public', limit, async (request, response) => {
    const entry = await leaving(request);
    if (!entry) {
      sendPage(response, over(request), 410);
      return;
    }
    const { shop, page, text } = wordsFor(entry.locale);
    const isOpen = entry.state === 'waiting' || entry.state === 'invited';
    const html = isOpen ? pressOnce(String(tokenIn(request)), text('leave')) : `<p>${escaped(text('left'))}</p>`;
    sendPage(response, { ...page, title: titleOf(entry, entry.locale, shop.locales), html });
  });
  endpoints.mount('post', '/waitlist/leave', 'public', limit, form, async (request, response) => {
    const entry = await leaving(request);
    if (!entry) {
      sendPage(response, over(request), 410);
      return;
    }
    await leaveList(services, entry.id, 'left');
    const { shop, page, text } = wordsFor(entry.locale);
    const title = titleOf(entry, entry.locale, shop.locales);
    sendPage(response, { ...page, title, html: `<p>${escaped(text('left'))}</p>` });
  });
}

const WORDS = {
  join: { en: 'Put me on the waitlist', fr: 'M’inscrire sur la liste d’attente' },
  leave: { en: 'Leave the waitlist', fr: 'Quitter la liste d’attente' },
  left: { en: 'You are no longer on the waitlist.', fr: 'Vous n’êtes plus sur la liste d’attente.' },
  back: { en: 'Back to the shop', fr: 'Retour à la boutique' },
  over: { en: 'This link has expired', fr: 'Ce lien n’est plus valable' },
  overWhy: {
    en: 'It was used up, or its time has passed. Go to the product’s page in the shop and ask again.',
    fr: 'Il a servi, ou son délai est passé. Retournez à la page du produit et recommencez.',
  },
} as const;
