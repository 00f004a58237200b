/** Texts by locale (BCP 47), the shop's default first. */
export type TextsByLocale<Word extends string> = Readonly<Record<string, Readonly<Record<Word, string>>>>;

/** Returns the texts of the locale, of its language, or the first. */
export function textsIn<Word extends string>(
  texts: TextsByLocale<Word>,
  locale: string,
): Readonly<Record<Word, string>> {
  const language = locale.slice(0, 2);
  const [first] = Object.keys(texts);
  return (
    texts[locale] ?? texts[language] ?? texts[Object.keys(texts).find((key) => key.startsWith(language)) ?? first!]!
  );
}
