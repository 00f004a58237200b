import { listTexts, putText } from '#core/contract/textCalls.ts';
import { textFault, placeholdersIn } from '#core/texts/messages.ts';
import { CONTROL_TEXTS } from '#core/controls/controls.ts';
import { ourTexts, TEXT_KEYS } from '#core/texts/languages.ts';
import { languageOf } from '#core/texts/languages/language.ts';
import { theShop } from '../shopData/currentShop.ts';
import { record } from '../db/record.ts';
import type { Services } from '../services/services.ts';
import { writeText } from '../shopData/shopQueries.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { invalid, notFound } from '../http/errors.ts';
import { whoIs } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';

/** Every text that the owner may replace, by its key: ours for a locale. Messages are written as templates, with their looks. */
const TEXTS: ReadonlyMap<string, (locale: string) => string> = new Map([
  ...[...CONTROL_TEXTS].map(([key, text]) => [key, (locale: string) => text[languageOf(locale)]] as const),
  ...TEXT_KEYS.filter((key) => !key.startsWith('message.')).map(
    (key) => [key, (locale: string) => ourTexts(locale)[key]] as const,
  ),
]);

/** Calls about the owner's replacements for our texts. */
export function textRoutes(endpoints: Endpoints, { db, live, clock }: Services): void {
  route(endpoints, listTexts, async () => {
    const { locales, texts } = await theShop(db);
    const inEach = (textIn: (locale: string) => string | undefined) =>
      Object.fromEntries(
        locales.flatMap((locale) => {
          const text = textIn(locale);
          return text === undefined ? [] : [[locale, text]];
        }),
      );
    return reply(
      200,
      [...TEXTS].map(([key, ours]) => ({
        key,
        default: inEach(ours),
        custom: inEach((locale) => texts[locale]?.[key]),
        placeholders: placeholdersIn(ours('en')),
      })),
    );
  });

  route(endpoints, putText, async ({ params: { key }, body }, { request }) => {
    const ours = TEXTS.get(key);
    if (!ours) throw notFound(`text ${key}`);
    const { locales } = await theShop(db);
    const faults = Object.entries(body).flatMap(([locale, text]) => {
      const allowed = locales.includes(locale)
        ? textFault(text, placeholdersIn(ours(locale)))
        : `one of the shop’s languages: ${locales.join(', ')}`;
      return allowed === null ? [] : [{ pointer: `/${locale}`, found: JSON.stringify(text), allowed }];
    });
    if (faults.length > 0) throw invalid('What was sent', faults);
    await db.transaction(async (client) => {
      for (const [locale, text] of Object.entries(body)) await writeText(client, key, locale, text.trim() || null);
      await record(client, new Date(clock()), whoIs(request), 'changed a text of the shop', { key });
      await live.announce(client);
    });
    await live.refresh();
    return reply(204, undefined);
  });
}
