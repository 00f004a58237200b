import type { ShopFacts } from '../model/subject.ts';
import type { LocalisedText } from '../model/localisedText.ts';
import { en, type TextKey } from './languages/en.ts';
import { languageOf, type InEveryLanguage } from './languages/language.ts';
import { localeFor } from './locale.ts';

/** A shop's locales, the default first, and its texts; missing ones are English. */
export type Speaking = Pick<ShopFacts, 'locales' | 'texts'>;

/** A text in the shop's locale that serves a visitor. */
export function shopText(key: TextKey, locale: string | null, { locales, texts }: Speaking): string {
  return texts?.[localeFor(locale, locales)]?.[key] ?? en[key];
}

/** A text that is written where it is used, in the shop's locale that serves a visitor: the owner's if there is one. */
export function ownText(key: string, text: InEveryLanguage, locale: string | null, shop: Speaking): string {
  const served = localeFor(locale, shop.locales);
  return shop.texts?.[served]?.[key] ?? text[languageOf(served)];
}

/** The same in all of the shop's locales. */
export const ownTextInAll = (key: string, text: InEveryLanguage, shop: Speaking): LocalisedText =>
  Object.fromEntries(shop.locales.map((locale) => [locale, ownText(key, text, locale, shop)]));

/** Languages that are written from right to left, by their codes (ISO 639), and scripts (ISO 15924). */
const RIGHT_TO_LEFT = new Set(['ar', 'arc', 'ckb', 'dv', 'fa', 'he', 'ks', 'ps', 'sd', 'ug', 'ur', 'yi']);
const SCRIPTS = /-(Arab|Hebr|Thaa|Syrc|Nkoo)\b/i;
const LEFT_TO_RIGHT_SCRIPTS = /-(Latn|Cyrl)\b/i;

/** Writing direction of a locale, as HTML's `dir`. */
export function directionOf(locale: string): 'ltr' | 'rtl' {
  const [language = ''] = locale.toLowerCase().split('-');
  if (SCRIPTS.test(locale)) return 'rtl';
  return RIGHT_TO_LEFT.has(language) && !LEFT_TO_RIGHT_SCRIPTS.test(locale) ? 'rtl' : 'ltr';
}
