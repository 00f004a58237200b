import { localeFor, wordsIn } from '#core/texts/locale.ts';
import { shopText } from '#core/texts/shopTexts.ts';
import { productAt } from '../catalog/catalogQueries.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { Services } from '../base/services.ts';
import { escaped, sendPage } from '../pages/page.ts';

/** Where a stand-in leads when it cannot open on the page: what was asked for, and how to ask. */
export function askPage(endpoints: Endpoints, { db, live }: Services): void {
  endpoints.mount('get', '/ask/:kind', 'public', async (request, response, next) => {
    const kind = String(request.params.kind);
    const about = Object.hasOwn(TITLES, kind) ? TITLES[kind as keyof typeof TITLES] : null;
    if (!about) {
      next();
      return;
    }
    const { path, variant } = request.query;
    const product = typeof path === 'string' && path.length <= 2000 ? await productAt(db, path) : undefined;
    const { shop } = live.current().rulebook;
    const locale = request.acceptsLanguages(...shop.locales) || null;
    const name = product ? wordsIn(product.title, locale, shop.locales) : '';
    const size = product?.variants.find(({ id }) => id === variant)?.title ?? '';
    const what = [name, size].filter(Boolean).map(escaped).join(', ');
    sendPage(response, {
      locale: localeFor(locale, shop.locales),
      shop: shop.name,
      title: shopText(about, locale, shop),
      html: `<p><strong>${what}</strong></p><p>${escaped(shop.name)}: ${escaped(shopText('askPage.how', locale, shop))}</p>`,
    });
  });
}

/** What is asked for, as its stand-in or dialog calls it. */
const TITLES = {
  waitlist: 'label.waitlist',
  quote: 'label.quote',
  enquiry: 'label.enquiry',
  preorder: 'label.preorder',
  ownPrice: 'dialog.ownPrice',
  severalAtOnce: 'dialog.several',
} as const;
