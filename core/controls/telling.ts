import type { Segment } from '../facts/segment.ts';
import { words } from '../facts/segment.ts';
import { textWords } from '../facts/wording.ts';
import type { LocalisedText } from '../model/localisedText.ts';
import type { Telling } from './control.ts';

/** A phrase about what a rule does. */
export const outcome = (text: string, pointer: string): Segment => ({
  kind: 'phrase',
  about: 'outcome',
  text,
  pointer,
});

/** A verb that says the control's kind. */
export const verb =
  (text: string) =>
  (_control: object, { pointer }: Telling): Segment[] => [outcome(text, pointer)];

/** Further terms, each a phrase after a comma; none where there is no text. */
export const term = (text: string | false | undefined, part: string, { pointer }: Telling): Segment[] =>
  text ? [words(', '), outcome(text, `${pointer}/${part}`)] : [];

/** "saying “…” after joining". */
export const quoting = (before: string, text: LocalisedText | undefined, { names }: Telling, after = '') =>
  text !== undefined && `${before} ${textWords(text, names)}${after}`;
