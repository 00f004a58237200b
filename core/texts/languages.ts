import { de } from './languages/de.ts';
import { en, type TextKey, type Texts } from './languages/en.ts';
import { es } from './languages/es.ts';
import { languageOf, type Language } from './languages/language.ts';
import { fr } from './languages/fr.ts';
import { it } from './languages/it.ts';
import { ja } from './languages/ja.ts';
import { nl } from './languages/nl.ts';
import { pl } from './languages/pl.ts';
import { pt } from './languages/pt.ts';
import { sv } from './languages/sv.ts';
import type { ShopTexts } from '../model/subject.ts';

/** The texts in every language. */
export const LANGUAGES: Readonly<Record<Language, Texts>> = { en, fr, de, es, it, nl, pt, pl, sv, ja };

export const TEXT_KEYS = Object.keys(en) as readonly TextKey[];

/** Our texts in a locale's language, or English. */
export const ourTexts = (locale: string): Texts => LANGUAGES[languageOf(locale)];

/** All texts of a shop in its locales, the owner's before ours. */
export const textsOf = (locales: readonly string[], custom: ShopTexts = {}): ShopTexts =>
  Object.fromEntries(locales.map((locale) => [locale, { ...ourTexts(locale), ...custom[locale] }]));
