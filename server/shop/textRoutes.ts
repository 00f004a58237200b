import { listTexts, putText } from '#core/contract/textCalls.ts';
import { textFault, placeholdersIn } from '#core/texts/messages.ts';
import { LANGUAGES, ourTexts, TEXT_KEYS } from '#core/texts/languages.ts';
import type { TextKey } from '#core/texts/languages/en.ts';
import { theShop } from '../base/currentShop.ts';
import { record } from '../base/record.ts';
import type { Services } from '../base/services.ts';
import { writeText } from '../base/shopQueries.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { invalid, notFound } from '../http/errors.ts';
import { whoIs } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';

/** Messages are written as templates, with their looks. */
const KEYS = TEXT_KEYS.filter((key) => !key.startsWith('message.'));

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
      KEYS.map((key) => ({
        key,
        default: inEach((locale) => ourTexts(locale)[key]),
        custom: inEach((locale) => texts[locale]?.[key]),
        placeholders: placeholdersIn(LANGUAGES.en?.[key] ?? ''),
      })),
    );
  });

  route(endpoints, putText, async ({ params: { key }, body }, { request }) => {
    if (!(KEYS as readonly string[]).includes(key)) throw notFound(`text ${key}`);
    const { locales } = await theShop(db);
    const faults = Object.entries(body).flatMap(([locale, text]) => {
      const allowed = locales.includes(locale)
        ? textFault(text, placeholdersIn(ourTexts(locale)[key as TextKey]))
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
