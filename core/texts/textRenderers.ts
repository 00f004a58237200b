import type { LocalisedText } from '../model/localisedText.ts';
import type { ShopFacts, Subject } from '../model/subject.ts';
import { localeOf } from './locale.ts';
import { filledHref, isSafeHref, partsOfHref } from './href.ts';
import { escapeMarkdown, toHtml } from './markdown.ts';
import { fillable, type Filled } from './placeholders.ts';

const asTheyAre = (words: string) => words;
const encoded = (words: string) => words.split('/').map(encodeURIComponent).join('/');

/** A text prepared for any visitor; `left` is the number of units left of a pre-order's cap, null without one. */
export type TextRenderer = (subject: Subject, left?: number | null) => string;

/** A label: plain words. */
export function label(text: LocalisedText, shop: ShopFacts): TextRenderer {
  return inEachLocale(text, shop, (filled) => (subject, left) => filled(subject, left ?? null, asTheyAre));
}

/** A text: Markdown, said as safe HTML. */
export function html(text: LocalisedText, shop: ShopFacts): TextRenderer {
  return inEachLocale(text, shop, (filled) => {
    // Most texts fill to the same words time after time, and Markdown is the dear part.
    let last: { markdown: string; html: string } | undefined;
    return (subject, left) => {
      const markdown = filled(subject, left ?? null, escapeMarkdown);
      if (last?.markdown !== markdown) last = { markdown, html: toHtml(markdown) };
      return last.html;
    };
  });
}

/**
 * An address, whose placeholders are percent-encoded, but for one that it begins with, which is an address itself. Null
 * where it is filled and none of those that are allowed.
 */
export function href(text: string, shop: ShopFacts, isAllowed = isSafeHref): (subject: Subject) => string | null {
  const { ofProduct, rest } = partsOfHref(text);
  const begin = inEachLocale(ofProduct, shop, (filled) => (subject) => filled(subject, null, asTheyAre));
  const goOn = inEachLocale(rest, shop, (filled) => (subject) => filled(subject, null, encoded));
  return (subject) => filledHref(begin(subject) + goOn(subject), isAllowed);
}

/** Prepares a text once for each of the shop's locales, and picks by the visitor's. */
function inEachLocale(text: LocalisedText, shop: ShopFacts, prepare: (filled: Filled) => TextRenderer): TextRenderer {
  const keys = typeof text === 'string' ? shop.locales : [...new Set([...shop.locales, ...Object.keys(text)])];
  const prepared = new Map(
    keys.map((key) => [key, prepare(fillable(typeof text === 'string' ? text : (text[key] ?? ''), key, shop))]),
  );
  const chosen = new Map<string | null, TextRenderer>();
  return (subject, left) => {
    const { locale } = subject.visitor;
    const known = chosen.get(locale);
    if (known) return known(subject, left);
    const render = prepared.get(localeOf(text, locale, shop.locales)) ?? NOTHING;
    // Browsers name few languages; unknown ones get the default.
    if (chosen.size < MOST_LOCALES) chosen.set(locale, render);
    return render(subject, left);
  };
}

const MOST_LOCALES = 50;
const NOTHING: TextRenderer = () => '';
