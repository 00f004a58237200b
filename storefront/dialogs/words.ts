import type { TextKey } from '#core/texts/languages/en.ts';
import { textsIn, type TextsByLocale } from '../shared/textsIn.ts';

type Word = TextKey extends infer Key ? (Key extends `dialog.${infer W}` ? W : never) : never;

/** Texts of the shop in each locale, inserted by the server when it sends the module. */
const TEXTS = '__UNDERSTUDY_TEXTS__' as unknown as TextsByLocale<Word>;

/** Texts in the page's language, or the shop's. */
export const wordsIn = (locale = document.documentElement.lang) => {
  const texts = textsIn(TEXTS, locale);
  return (word: Word): string => texts[word];
};
export type Texts = ReturnType<typeof wordsIn>;
