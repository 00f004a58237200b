import { IntlMessageFormat } from 'intl-messageformat';
import type { ShopFacts } from '../model/subject.ts';
import { toLocal } from '../model/zone.ts';
import { dateFormat, LONG_DATE } from './formats.ts';
import { conventionsOf, localeFor } from './locale.ts';
import { shopText } from './shopTexts.ts';
import { escapeMarkdown, toHtml } from './markdown.ts';
import { EVENTS, type MessageEvent } from './messageEvents.ts';

/** Channels of messages to people. */
export const CHANNELS = ['email', 'text', 'chat'] as const;
export type Channel = (typeof CHANNELS)[number];

/** The ways that an event may go: chat is the shop's own, and an address is confirmed by a letter to it and no other way. */
export const channelsOf = (event: MessageEvent): readonly Channel[] =>
  event === 'waitlist.confirm' ? ['email'] : EVENTS[event].audience === 'owner' ? CHANNELS : ['email', 'text'];

/** Words of a message: a plain subject, and a body in Markdown. */
export interface Template {
  readonly subject: string;
  readonly body: string;
}

export type Values = Readonly<Record<string, string | number>>;

/** A message, ready to be sent. */
export interface Message {
  readonly subject: string;
  readonly text: string;
  /** Safe HTML of the body alone. */
  readonly html: string;
}

/** Placeholders with addresses of our own, which are not escaped in links. */
const ADDRESSES: ReadonlySet<string> = new Set(['link', 'leave', 'page']);
/** Every message may speak of the shop. */
const ALWAYS = ['shop'];

/** Finds a problem with a template's placeholders or plurals; null if there is none. */
export function templateFault(event: MessageEvent, text: string): string | null {
  return textFault(text, [...ALWAYS, ...EVENTS[event].placeholders]);
}

/** The placeholders of a text (ICU MessageFormat). */
export const placeholdersIn = (text: string): string[] => [
  ...new Set(namesIn(new IntlMessageFormat(text, 'en', undefined, { ignoreTag: true }).getAst())),
];

/** Finds a problem with a text's placeholders or plurals; null if there is none. */
export function textFault(text: string, allowed: readonly string[]): string | null {
  try {
    const unknown = namesIn(new IntlMessageFormat(text, 'en', undefined, { ignoreTag: true }).getAst()).find(
      (name) => !allowed.includes(name),
    );
    if (unknown === undefined) return null;
    return allowed.length === 0
      ? `no placeholders (not ${unknown})`
      : `only these placeholders: ${allowed.join(', ')} (not ${unknown})`;
  } catch {
    return `placeholders and plurals as in ICU MessageFormat, such as {${allowed[0] ?? 'name'}}`;
  }
}

type Node = ReturnType<IntlMessageFormat['getAst']>[number];

const namesIn = (nodes: readonly Node[]): string[] =>
  nodes.flatMap((node) => {
    const type: number = node.type;
    const names = 'value' in node && type !== 0 ? [node.value] : [];
    const inner = 'options' in node ? Object.values(node.options).flatMap((option) => namesIn(option.value)) : [];
    return [...names, ...inner];
  });

/** The last formats, since reading one takes long and there are few. */
const formats = new Map<string, IntlMessageFormat>();
const MOST_FORMATS = 500;

function formatOf(text: string, locale: string): IntlMessageFormat {
  const key = `${locale} ${text}`;
  const known = formats.get(key);
  if (known) return known;
  if (formats.size >= MOST_FORMATS) formats.clear();
  const format = new IntlMessageFormat(text, locale, undefined, { ignoreTag: true });
  formats.set(key, format);
  return format;
}

/** Fills a text (ICU MessageFormat) in a locale; `escape` is applied to every word that comes from outside it. */
export function fillWords(
  text: string,
  values: Values,
  locale: string,
  escape: (words: string) => string = (words) => words,
): string {
  const escaped = Object.entries(values).map(([name, value]) => [
    name,
    typeof value === 'number' || ADDRESSES.has(name) ? value : escape(value),
  ]);
  return String(formatOf(text, locale).format(Object.fromEntries(escaped) as Record<string, string | number>));
}

/**
 * A message in the words of its template: the owner's for the locale, else ours.
 * @param own the owner's templates of this event, by locale
 */
export function messageOf(
  event: MessageEvent,
  values: Values,
  { shop, locale, custom }: { shop: ShopFacts; locale: string | null; custom: Readonly<Record<string, Template>> },
): Message {
  const chosen = localeFor(locale, shop.locales);
  return filled(custom[chosen] ?? defaultTemplate(event, chosen, shop), values, chosen, shop);
}

function filled(template: Template, values: Values, locale: string, shop: ShopFacts): Message {
  const all = { shop: shop.name, ...values };
  // Nobody is called by a name that is not known: "Hello," is as good as "Hello Ada,".
  const words = values.name === '' ? template.body.replace(/\s*\{name\}/g, '') : template.body;
  const body = (escape?: (words: string) => string) => fillWords(words, all, locale, escape);
  return {
    subject: fillWords(template.subject, all, locale).replace(/\s+/g, ' ').trim(),
    text: plain(body()),
    html: toHtml(body(escapeMarkdown)),
  };
}

/** A message as a text message: its subject and its link. */
export const shortOf = ({ subject }: Message, { link }: Values): string =>
  link === undefined ? subject : `${subject}\n${link}`;

/** An event's values for programs, without its links: anybody who has one can use it. */
export const factsOf = (values: Values): Values =>
  Object.fromEntries(Object.entries(values).filter(([name]) => !ADDRESSES.has(name)));

/** The words that a message has when the owner wrote none. */
export function defaultTemplate(event: MessageEvent, locale: string, shop: ShopFacts): Template {
  return {
    subject: shopText(`message.${event}.subject`, locale, shop),
    body: shopText(`message.${event}.body`, locale, shop),
  };
}

/** Markdown as plain text for letters. */
const plain = (markdown: string): string =>
  markdown.replace(/\[([^\]]*)\]\(([^)\s]+)\)/g, '$1: $2').replace(/(\*\*|__|(?<!\w)\*|\*(?!\w))/g, '');

/** Values to look at a template with, made up. */
export const SAMPLE_VALUES: Values = {
  name: 'Ada Finch',
  who: 'Ada Finch',
  email: 'ada@quillfern.example',
  product: 'Hepatica ‘Inkwell’',
  position: 3,
  length: 7,
  units: 2,
  order: '1042',
  ships: 'It ships from 20 May.',
  until: '28 November at 10:00',
  words: 'The spring was late.',
  lines: 3,
  products: '30 × Yew hedging\n12 × Beech hedging\n1 × Ash dibber',
  total: '€ 412.00',
  answer: 'accepted',
  seen: 4120,
  pressed: 391,
  pressedBefore: 352,
  finished: 164,
  finishedBefore: 171,
  shown: 'Tubers before they ship (41)',
  waiting: 22,
  reserved: 14,
  quotes: 2,
  enquiries: 1,
  changes: '30 November 2026 at 08:00: Frost closure',
  parts: '/plants/inkwell (control)',
  page: '/',
  link: '/',
  leave: '/',
};

/** Previews a template with sample values, or with given ones. */
export const sampleOf = (template: Template, locale: string, shop: ShopFacts, known: Values = {}): Message =>
  filled(template, { ...SAMPLE_VALUES, ...known }, locale, shop);

/** An instant (epoch ms) as a locale writes it, in the shop's zone: "25 November 2026 at 10:00". */
export function instantWords(instant: number, { zone, locales }: ShopFacts, locale: string | null): string {
  const chosen = localeFor(locale, locales);
  const style = { dateStyle: 'long', timeStyle: 'short', timeZone: 'UTC' } as const;
  return dateFormat(conventionsOf(chosen), style).format(toLocal(zone, instant));
}

/** A date (ISO 8601) as a locale writes it: "20 May 2027". */
export function dateWords(date: string, locale: string | null, locales: readonly string[]): string {
  const chosen = localeFor(locale, locales);
  return dateFormat(conventionsOf(chosen), LONG_DATE).format(new Date(date));
}
