import { de } from './languages/de.ts';
import { en, type TextKey, type Texts } from './languages/en.ts';
import { es } from './languages/es.ts';
import { fr } from './languages/fr.ts';
import { it } from './languages/it.ts';
import { ja } from './languages/ja.ts';
import { nl } from './languages/nl.ts';
import { pl } from './languages/pl.ts';
import { pt } from './languages/pt.ts';
import { sv } from './languages/sv.ts';
import type { ShopTexts } from '../model/subject.ts';

/** Every language that we have texts in, by its code (ISO 639-1). */
export const LANGUAGES: Readonly<Record<string, Texts>> = { en, fr, de, es, it, nl, pt, pl, sv, ja };

export const TEXT_KEYS = Object.keys(en) as readonly TextKey[];

/** Our texts for a locale: those of its language, else English. */
export const ourTexts = (locale: string): Texts => LANGUAGES[locale.toLowerCase().split('-')[0] ?? ''] ?? en;

/** All texts of a shop in its locales: the owner's where they wrote one, else ours. */
export const textsOf = (locales: readonly string[], custom: ShopTexts = {}): ShopTexts =>
  Object.fromEntries(locales.map((locale) => [locale, { ...ourTexts(locale), ...custom[locale] }]));
