import { speech, type Names } from '../facts/wording.ts';
import type { LocalisedText } from '../model/localisedText.ts';

/** A text as pages will say it, with its languages named. */
export function textWords(text: LocalisedText, { mainLocale, translations }: Names): string {
  if (typeof text === 'string') return speech(text);
  const main = mainLocale === undefined ? undefined : text[mainLocale];
  if (translations === 'marked' && main !== undefined) {
    const others = Object.keys(text).filter((locale) => locale !== mainLocale);
    return others.length === 0 ? speech(main) : `${speech(main)} (+ ${others.join(', ')})`;
  }
  const tagged = Object.entries(text).map(([locale, words]) =>
    locale === mainLocale ? speech(words) : `${locale} ${speech(words)}`,
  );
  const [first = '', ...others] = tagged;
  return others.length === 0 ? first : `${first} (${others.join(', ')})`;
}
