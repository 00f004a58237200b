import type { LocalisedText } from '../rulebook/localisedText.ts';
import type { ShopFacts, Subject } from '../decide/subject.ts';
import { localeOf } from './locale.ts';
import { escapeMarkdown, toHtml } from './markdown.ts';
import { fillable, type Filled } from './placeholders.ts';

const asTheyAre = (words: string) => words;
const encoded = (words: string) => words.split('/').map(encodeURIComponent).join('/');

/** A text made ready to say to any visitor. */
export type Say = (subject: Subject) => string;

/** A label: plain words. */
export function label(text: LocalisedText, shop: ShopFacts): Say {
  return inEachLocale(text, shop, (filled) => (subject) => filled(subject, asTheyAre));
}

/** A text: Markdown, said as safe HTML. */
export function html(text: LocalisedText, shop: ShopFacts): Say {
  return inEachLocale(text, shop, (filled) => (subject) => toHtml(filled(subject, escapeMarkdown)));
}

/** An address, whose placeholders are percent-encoded. */
export function href(text: string, shop: ShopFacts): Say {
  return inEachLocale(text, shop, (filled) => (subject) => filled(subject, encoded));
}

/** Prepares a text once for each of the shop's locales, and picks by the visitor's. */
function inEachLocale(text: LocalisedText, shop: ShopFacts, prepare: (filled: Filled) => Say): Say {
  const keys = typeof text === 'string' ? shop.locales : [...new Set([...shop.locales, ...Object.keys(text)])];
  const prepared = new Map(
    keys.map((key) => [key, prepare(fillable(typeof text === 'string' ? text : (text[key] ?? ''), key, shop))]),
  );
  return (subject) => prepared.get(localeOf(text, subject.visitor.locale, shop.locales))?.(subject) ?? '';
}
