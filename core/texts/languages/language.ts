/** The languages in which there are texts, by their codes (ISO 639-1). */
export const LANGUAGE_CODES = ['en', 'fr', 'de', 'es', 'it', 'nl', 'pt', 'pl', 'sv', 'ja'] as const;
export type Language = (typeof LANGUAGE_CODES)[number];

/** A text in every language. */
export type InEveryLanguage = Readonly<Record<Language, string>>;

/** The language of a locale, English where there are no texts in it. */
export function languageOf(locale: string): Language {
  const [code = ''] = locale.toLowerCase().split('-');
  return LANGUAGE_CODES.find((language) => language === code) ?? 'en';
}
