import { parseLocal } from '../model/calendar.ts';
import { plain } from './headings.ts';
import type { DateForm } from './fileReading.ts';

/** Signs that are one currency's alone, by its code (ISO 4217). */
const SIGNS: Readonly<Record<string, string>> = {
  '€': 'EUR',
  '£': 'GBP',
  '₹': 'INR',
  '₪': 'ILS',
  '฿': 'THB',
  zł: 'PLN',
};

/** Reads a number as people write it, with its currency if certain. */
export interface WrittenNumber {
  /** With a full stop before the decimals, and nothing between thousands. */
  readonly decimal: string;
  readonly currency: string | null;
}

/** @returns null when it is no number, or one whose thousands do not stand in threes */
export function writtenNumber(text: string, decimal: '.' | ','): WrittenNumber | null {
  const bare = text
    .normalize('NFKC')
    .replace(/[\s\u00a0\u202f]+/g, ' ')
    .trim();
  const [, before = '', digits, after = ''] =
    /^([^\d-]*?)\s?(-?\d(?:[\d .,'’]*\d)?)(?:[.,][-–—]+)?\s?([^\d]*)$/.exec(bare) ?? [];
  if (digits === undefined || (before !== '' && after !== '')) return null;
  const unit = before || after;
  if (unit.length > 4 || /[()%\uFFFD]/.test(unit)) return null;
  const [whole = '', fraction, ...more] = digits.split(decimal);
  if (more.length > 0 || (fraction !== undefined && !/^\d+$/.test(fraction))) return null;
  const groups = whole.replace(/^-/, '').split(/[ .,'’]/);
  const isGrouped =
    groups.length === 1 || (/^\d{1,3}$/.test(groups[0]!) && groups.slice(1).every((part) => /^\d{3}$/.test(part)));
  if (!isGrouped) return null;
  const code = /^[A-Z]{3}$/.test(unit) ? unit : (SIGNS[unit] ?? null);
  return {
    decimal: (whole.startsWith('-') ? '-' : '') + groups.join('') + (fraction === undefined ? '' : `.${fraction}`),
    currency: code,
  };
}

/** Finds the decimal separator of numbers; null if they do not show it. */
export function decimalOf(values: readonly string[]): '.' | ',' | null {
  let comma = 0;
  let point = 0;
  for (const value of values) {
    const digits = /\d[\d .,'’\u00a0\u202f]*/.exec(value)?.[0].trim() ?? '';
    const last = Math.max(digits.lastIndexOf(','), digits.lastIndexOf('.'));
    if (last < 0) continue;
    const sign = digits[last]!;
    const after = digits.length - last - 1;
    const isRepeated = digits.indexOf(sign) !== last;
    // Three digits may be thousands, unless another sign stands before them.
    const isDecimal = !isRepeated && (after !== 3 || /[ .,'’\u00a0\u202f]/.test(digits.slice(0, last)));
    if (!isDecimal && after !== 3) continue;
    if ((sign === ',') === isDecimal) comma += isDecimal ? 4 : 1;
    else point += isDecimal ? 4 : 1;
  }
  return comma === point ? null : comma > point ? ',' : '.';
}

const LANGUAGES = ['en', 'de', 'fr', 'es', 'it', 'nl', 'pt', 'pl', 'sv'];

/** Months by their names, long and short, as they stand alone and beside a day (CLDR). */
const MONTHS = new Map(
  LANGUAGES.flatMap((language) =>
    Array.from({ length: 12 }, (_, month) => new Date(Date.UTC(2024, month, 5))).flatMap((day, month) =>
      (['long', 'short'] as const).flatMap((width) => {
        const how = { month: width, timeZone: 'UTC' } as const;
        const beside = new Intl.DateTimeFormat(language, { ...how, day: 'numeric' }).formatToParts(day);
        const alone = new Intl.DateTimeFormat(language, how).format(day);
        return [alone, beside.find(({ type }) => type === 'month')?.value ?? alone].map(
          (name) => [plain(name), month + 1] as const,
        );
      }),
    ),
  ),
);

const TIME = /[T ,]+(\d{1,2}):(\d{2})(?::\d{2}(?:\.\d+)?)?(?:Z|[+-]\d{2}:?\d{2})?$/;

/** The three parts of a date in their order, and whether their order must be known; null when it is no date. */
function partsOf(
  text: string,
): { readonly parts: readonly [string, string, string]; readonly order: DateForm | null } | null {
  const day = text.replace(TIME, '').trim();
  const [, first, , second, third] = /^(\d{1,4})([./-])(\d{1,2})\2(\d{1,4})\.?$/.exec(day) ?? [];
  if (first !== undefined && second !== undefined && third !== undefined)
    return { parts: [first, second, third], order: first.length > 2 ? 'ymd' : null };
  const [, aDay, name, aYear] =
    /^(\d{1,2})(?:\.|st|nd|rd|th|er|º|°)?(?: de)? ([\p{L}\p{M}]+)\.?,?(?: de)? (\d{4})$/u.exec(day) ?? [];
  const month = MONTHS.get(plain(name ?? ''));
  if (aDay !== undefined && aYear !== undefined && month !== undefined)
    return { parts: [aDay, String(month), aYear], order: 'dmy' };
  const [, english, theDay, theYear] = /^([\p{L}]+)\.? (\d{1,2})(?:st|nd|rd|th)?,? (\d{4})$/u.exec(day) ?? [];
  const named = MONTHS.get(plain(english ?? ''));
  if (theDay !== undefined && theYear !== undefined && named !== undefined)
    return { parts: [theDay, String(named), theYear], order: 'dmy' };
  return null;
}

export const isDate = (text: string): boolean => partsOf(text) !== null;

/** A date in an ordinary form, as `YYYY-MM-DD` or `YYYY-MM-DDTHH:MM` (ISO 8601); null when there is no such day. */
export function writtenDate(text: string, form: DateForm): string | null {
  const found = partsOf(text);
  if (!found) return null;
  const order = found.order ?? (form === 'ymd' ? 'dmy' : form);
  const [a, b, c] = found.parts;
  const [year, month, day] = order === 'ymd' ? [a, b, c] : order === 'dmy' ? [c, b, a] : [c, a, b];
  const full = year.length === 2 ? `20${year}` : year;
  const [, hours, minutes] = TIME.exec(text) ?? [];
  const time = hours === undefined || minutes === undefined ? '' : `T${hours.padStart(2, '0')}:${minutes}`;
  const iso = `${full}-${month.padStart(2, '0')}-${day.padStart(2, '0')}${time}`;
  return parseLocal(iso) === null ? null : iso;
}

/** In which order dates name their parts; null where they do not tell, `ymd` where each says it itself. */
export function dateFormOf(values: readonly string[]): DateForm | null {
  let isOpen = false;
  for (const value of values) {
    const found = partsOf(value);
    if (found?.order !== null) continue;
    const [first, second] = found.parts.map(Number) as [number, number, number];
    // Nobody writes the month before a day with a full stop.
    if (first > 12 || /^\d{1,2}\./.test(value)) return 'dmy';
    if (second > 12) return 'mdy';
    isOpen = true;
  }
  return isOpen ? null : 'ymd';
}

const YES =
  'true, yes, y, 1, x, ja, wahr, oui, vrai, sí, si, verdadero, vero, sim, verdadeiro, waar, tak, prawda, sant, はい';
const NO = 'false, no, n, 0, nein, falsch, non, faux, falso, não, nee, onwaar, nie, fałsz, nej, falskt, いいえ';
const TRUTHS = new Map([
  ...YES.split(', ').map((word) => [plain(word), 'true'] as const),
  ...NO.split(', ').map((word) => [plain(word), 'false'] as const),
]);

/** `true` or `false` for yes and no in the languages that we have texts in; null for other words. */
export const writtenTruth = (text: string): 'true' | 'false' | null => TRUTHS.get(plain(text)) ?? null;
