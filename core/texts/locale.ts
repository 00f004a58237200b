import type { LocalisedText } from '../model/localisedText.ts';

/** The shop's locale for a visitor: the same, the same language, or the default. */
export function localeFor(wanted: string | null, locales: readonly string[]): string {
  return (wanted === null ? undefined : match(wanted, locales)) ?? locales[0] ?? 'en';
}

/** English without a region is written as in Britain: 20 May 2027. */
export const conventionsOf = (locale: string): string => (locale.toLowerCase() === 'en' ? 'en-GB' : locale);

/** Chooses the key of a text map for a locale: itself, its language, the shop's default, or the first. */
export function localeOf(text: LocalisedText, requested: string | null, locales: readonly string[]): string {
  const locale = localeFor(requested, locales);
  if (typeof text === 'string') return locale;
  const written = Object.keys(text);
  const wanted = [requested, locale, locales[0]].filter((tag): tag is string => typeof tag === 'string');
  return wanted.map((tag) => match(tag, written)).find((key) => key !== undefined) ?? written[0] ?? locale;
}

/** A text's words in a locale. */
export function wordsIn(text: LocalisedText, wanted: string | null, locales: readonly string[]): string {
  return typeof text === 'string' ? text : (text[localeOf(text, wanted, locales)] ?? '');
}

function match(requested: string, tags: readonly string[]): string | undefined {
  const wanted = requested.toLowerCase();
  const language = wanted.split('-')[0];
  return (
    tags.find((tag) => tag.toLowerCase() === wanted) ??
    tags.find((tag) => tag.toLowerCase() === language) ??
    tags.find((tag) => tag.toLowerCase().split('-')[0] === language)
  );
}
