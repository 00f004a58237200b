import type { Speaking } from '../texts/shopTexts.ts';
import { parseLocal, type Duration } from '../model/calendar.ts';
import type { LocalisedText } from '../model/localisedText.ts';

/** Display names of ids; an id without one is shown itself. */
export interface Names {
  readonly product?: (id: string) => string;
  readonly category?: (id: string) => string;
  readonly variant?: (id: string) => string;
  readonly role?: (code: string) => string;
  /** A noun; absent for dates without a name of their own. */
  readonly date?: (code: string) => string | undefined;
  /** A price in minor units, as the shop writes it. */
  readonly price?: (minor: number) => string;
  /** Language whose texts are shown without naming it. */
  readonly mainLocale?: string;
  /** Shop whose texts are used where a rule gives none. */
  readonly shop?: Speaking;
  /** Whether texts in other languages are shown in full (the default), or only mentioned. */
  readonly translations?: 'full' | 'marked';
}

/** Shop of a sentence. */
export const speakingIn = ({ shop }: Names): Speaking => shop ?? { locales: ['en'] };

/** Quotes a text, with other marks for inner quotes and a sign for line breaks. */
export const speech = (words: string) => `“${words.replace(/[\\”⏎]/g, '\\$&').replace(/\n/g, ' ⏎ ')}”`;

/** A name, in quotation marks if it could be read as part of the sentence. */
export const quoted = (name: string) => (/^(?!(and|or|in|at)$)[\p{L}\p{N}_/-]+$/iu.test(name) ? name : speech(name));

export const plural = (noun: string, of: readonly unknown[]) => (of.length === 1 ? noun : `${noun}s`);

/** Joins the names of ids. */
export const listed = (values: readonly string[], word: 'and' | 'or', name?: (id: string) => string) =>
  joined(
    values.map((value) => (name ? name(value) : quoted(value))),
    word,
  );

/** "a, b or c". */
export function joined(parts: readonly string[], word: 'and' | 'or'): string {
  if (parts.length < 2) return parts[0] ?? '';
  return `${parts.slice(0, -1).join(', ')} ${word} ${parts.at(-1) ?? ''}`;
}

/** A text as pages show it, with its languages named. */
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

/** "Root is not rootball". */
export const namedValuesWords = ({
  op,
  value,
}: {
  readonly op: 'in' | 'notIn';
  readonly value: { readonly name: string; readonly values: readonly string[] };
}): string => `${quoted(value.name)} is ${op === 'in' ? '' : 'not '}${listed(value.values, 'or')}`;

const COUNTS = { lt: 'fewer than', lte: 'at most', gt: 'more than', gte: 'at least', eq: 'exactly' };
export const COSTS: typeof COUNTS = { ...COUNTS, lt: 'less than' };

type Comparison =
  | { readonly op: keyof typeof COUNTS; readonly value: number }
  | { readonly op: 'between'; readonly value: readonly [number, number] };

/** "at least 5", "1 to 5", "none". */
export function numberWords(
  { op, value }: Comparison,
  formatNumber: (number: number) => string = String,
  words: typeof COUNTS = COUNTS,
): string {
  if (op === 'between') return `${formatNumber(value[0])} to ${formatNumber(value[1])}`;
  return op === 'eq' && value === 0 ? 'none' : `${words[op]} ${formatNumber(value)}`;
}

/** "from … until …", leaving out what is not given. */
export function bounds(
  { from, until }: { from?: string | undefined; until?: string | undefined },
  words: (written: string, first: boolean) => string,
): string {
  return [from !== undefined && `from ${words(from, true)}`, until !== undefined && `until ${words(until, false)}`]
    .filter((part) => part !== false)
    .join(' ');
}

/** "14 days", "1 month and 2 days". */
export function durationWords({ months, days, exact }: Duration): string {
  const count = (size: number, unit: string) => (size === 0 ? [] : [`${size} ${unit}${size === 1 ? '' : 's'}`]);
  const seconds = Math.abs(exact) / 1000;
  return joined(
    [
      ...count(Math.abs(months), 'month'),
      ...count(Math.abs(days), 'day'),
      ...count(Math.floor(seconds / 3600), 'hour'),
      ...count(Math.floor((seconds % 3600) / 60), 'minute'),
      ...count(seconds % 60, 'second'),
    ],
    'and',
  );
}

/** `2027-05-20T09:00` as "20 May 2027, 09:00"; midnight needs no time. */
export function dateWords(written: string): string {
  const local = parseLocal(written);
  if (local === null) return written;
  const date = new Date(local);
  const time = date.toISOString().slice(11, 19).replace(/:00$/, '');
  const day = `${date.getUTCDate()} ${MONTHS[date.getUTCMonth()]} ${date.getUTCFullYear()}`;
  return time === '00:00' ? day : `${day}, ${time}`;
}

/** `12-01` as "1 December". */
export const yearDayWords = (written: string) =>
  `${Number(written.slice(3))} ${MONTHS[Number(written.slice(0, 2)) - 1]}`;

const MONTHS = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
];
