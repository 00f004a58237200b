import { wordsIn } from '#core/texts/locale.ts';
import { productsByKeys } from '../catalog/catalogQueries.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { Services } from '../base/services.ts';

/** Where a stand-in leads when it cannot open on the page: what was asked for, and how to ask. */
export function askPage(endpoints: Endpoints, { db, live }: Services): void {
  endpoints.mount('get', '/ask/:kind', 'public', async (request, response, next) => {
    const kind = String(request.params.kind);
    const words = Object.hasOwn(WORDS, kind) ? WORDS[kind as keyof typeof WORDS] : null;
    if (!words) {
      next();
      return;
    }
    const { path, variant } = request.query;
    const [product] =
      typeof path === 'string' && path.length <= 2000 ? await productsByKeys(db, { ids: [], paths: [path] }) : [];
    const { shop } = live.current().rulebook;
    const locale = request.acceptsLanguages(...shop.locales) || null;
    const textOf = (text: Readonly<Record<string, string>>) => escaped(wordsIn(text, locale, shop.locales));
    const title = product ? wordsIn(product.title, locale, shop.locales) : '';
    const size = product?.variants.find(({ id }) => id === variant)?.title ?? '';
    const about = [title, size].filter(Boolean).map(escaped).join(', ');
    response
      .set({ 'Cache-Control': 'no-store', 'Referrer-Policy': 'strict-origin' })
      .type('html')
      .send(
        `<!doctype html><html lang="${locale ?? 'en'}"><meta charset="utf-8"><meta name="viewport" content="width=device-width">` +
          `<title>${textOf(words)}</title><h1>${textOf(words)}</h1><p><strong>${about}</strong></p>` +
          `<p>${escaped(shop.name)}: ${textOf(HOW)}</p>`,
      );
  });
}

const WORDS = {
  waitlist: { en: 'Join the waitlist', fr: 'Rejoindre la liste d’attente' },
  quote: { en: 'Ask for a price', fr: 'Demander un prix' },
  enquiry: { en: 'Ask about this', fr: 'Poser une question' },
  preorder: { en: 'Pre-order', fr: 'Précommander' },
  ownPrice: { en: 'Name your price', fr: 'Proposer votre prix' },
  severalAtOnce: { en: 'Buy several at once', fr: 'En acheter plusieurs' },
} as const;

const HOW = {
  en: 'please telephone or write to us, and say what you would like. We answer everybody.',
  fr: 'appelez-nous ou écrivez-nous en précisant ce que vous souhaitez. Nous répondons à chacun.',
};

const escaped = (text: string) => text.replace(/[&<>"']/g, (character) => `&#${character.codePointAt(0)};`);
