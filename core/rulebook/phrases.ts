import { parseDuration, parseLocal, type Duration } from '../model/calendar.ts';
import type { StockStatus, Surface } from '../model/subject.ts';
import { dateName } from '../texts/dateName.ts';
import type { Leaf, ValueOf } from './leaf.ts';
import type { LocalisedText } from './localisedText.ts';

/** How ids are called; without an entry the id itself is said. */
export interface Names {
  readonly product?: (id: string) => string;
  readonly category?: (id: string) => string;
  readonly variant?: (id: string) => string;
  /** A price in minor units, as the shop writes it. */
  readonly price?: (minor: number) => string;
  /** The language whose words are said without naming it. */
  readonly mainLocale?: string;
  /** Whether words in other languages are said in full, as they are by default, or only that they are there. */
  readonly translations?: 'full' | 'marked';
}

/** A condition in words, to stand after "For products …" or in a list of conditions. */
export function phraseOf(leaf: Leaf, names: Names): string {
  switch (leaf.fact) {
    case 'product':
      return 'everything';
    case 'product.id': {
      const which = listed(leaf.value, 'or', names.product);
      return leaf.op === 'in' ? `that are ${which}` : `other than ${which}`;
    }
    case 'product.tags':
      return {
        hasAny: `tagged ${listed(leaf.value, 'or')}`,
        hasAll: `tagged ${listed(leaf.value, 'and')}`,
        hasNone: `not tagged ${listed(leaf.value, 'or')}`,
      }[leaf.op];
    case 'product.categories': {
      const which = listed(leaf.value, 'or', names.category);
      return {
        within: `in ${which} and all below`,
        notWithin: `not in ${listed(leaf.value, 'or', names.category)} and all below`,
        exactly: `directly in ${which}`,
      }[leaf.op];
    }
    case 'product.brand':
      return `${leaf.op === 'in' ? '' : 'not '}of the brand ${listed(leaf.value, 'or')}`;
    case 'product.kind':
      return `${leaf.op === 'in' ? '' : 'not '}of the kind ${listed(leaf.value, 'or')}`;
    case 'product.seller':
      return `${leaf.op === 'in' ? '' : 'not '}sold by ${listed(leaf.value, 'or')}`;
    case 'product.path':
      return {
        equals: `at ${speech(leaf.value)}`,
        startsWith: `at addresses that begin with ${speech(leaf.value)}`,
        contains: `at addresses that contain ${speech(leaf.value)}`,
      }[leaf.op];
    case 'page.path':
      return {
        equals: `on the page ${speech(leaf.value)}`,
        startsWith: `on pages whose address begins with ${speech(leaf.value)}`,
        contains: `on pages whose address contains ${speech(leaf.value)}`,
      }[leaf.op];
    case 'product.attribute':
      return `whose ${valueWords(leaf)}`;
    case 'variant.id':
      return `in ${leaf.op === 'in' ? plural('the variant', leaf.value) : 'variants other than'} ${listed(leaf.value, 'or', names.variant)}`;
    case 'variant.option':
      return `in variants whose ${valueWords(leaf)}`;
    case 'variant.price':
      return `in variants that cost ${numberWords(leaf, names.price ?? ((minor) => `${minor} in minor units`), COSTS)}`;
    case 'stock.productTotal':
      return `with ${numberWords(leaf, String, COUNTS)} left in total`;
    case 'preorder.reserved':
      return `in variants with ${numberWords(leaf, String, COUNTS)} reserved`;
    case 'waitlist.length':
      return isNone(leaf)
        ? 'in variants with nobody waiting'
        : `in variants with ${numberWords(leaf, String, COUNTS)} people waiting`;
    case 'stock.status': {
      const statuses = joined(
        leaf.value.map((status) => STATUS[status]),
        'or',
      );
      return `in variants ${leaf.op === 'in' ? 'that are' : 'that are not'} ${statuses}`;
    }
    case 'stock.quantity':
      return `in variants with ${numberWords(leaf, String, COUNTS)} left`;
    case 'visitor.signedIn':
      return leaf.value ? 'for signed-in customers' : 'for guests';
    case 'visitor.roles':
      return {
        hasAny: `for customers with the role ${listed(leaf.value, 'or')}`,
        hasAll: `for customers with ${plural('the role', leaf.value)} ${listed(leaf.value, 'and')}`,
        hasNone: `for everyone without the role ${listed(leaf.value, 'or')}`,
      }[leaf.op];
    case 'visitor.customer':
      return `for ${leaf.op === 'in' ? '' : 'everyone but '}${plural('the customer', leaf.value)} ${listed(leaf.value, 'or')}`;
    case 'visitor.invited':
      return leaf.value ? 'for people invited from its waitlist' : 'for everyone not invited from its waitlist';
    case 'visitor.locale':
      return `for visitors who read ${joined(leaf.value, 'or')}`;
    case 'moment':
      return timeOf(leaf);
    case 'surface':
      return `on ${joined(
        leaf.value.map((surface) => SURFACE[surface]),
        'or',
      )}`;
  }
}

export const STATUS: Record<StockStatus, string> = {
  inStock: 'in stock',
  outOfStock: 'out of stock',
  backorder: 'on backorder',
  untracked: 'untracked',
};

export const SURFACE: Record<Surface, string> = {
  listing: 'listings',
  product: 'product pages',
  quickView: 'quick views',
  cart: 'the cart',
  checkout: 'the checkout',
};

function valueWords({ op, value }: Extract<Leaf, { fact: 'product.attribute' | 'variant.option' }>): string {
  return `${quoted(value.name)} is ${op === 'in' ? '' : 'not '}${listed(value.values, 'or')}`;
}

type Compared = Extract<
  Leaf,
  { fact: 'variant.price' | 'stock.quantity' | 'stock.productTotal' | 'preorder.reserved' | 'waitlist.length' }
>;

const COUNTS = { lt: 'fewer than', lte: 'at most', gt: 'more than', gte: 'at least', eq: 'exactly' };
const COSTS = { ...COUNTS, lt: 'less than' };

const isNone = ({ op, value }: Compared) => op === 'eq' && value === 0;
const plural = (noun: string, of: readonly unknown[]) => (of.length === 1 ? noun : `${noun}s`);

function numberWords(leaf: Compared, formatNumber: (number: number) => string, words: typeof COUNTS): string {
  if (leaf.op === 'between') return `${formatNumber(leaf.value[0])} to ${formatNumber(leaf.value[1])}`;
  if (isNone(leaf)) return 'none';
  return `${words[leaf.op]} ${formatNumber(leaf.value)}`;
}

function timeOf(leaf: Extract<Leaf, { fact: 'moment' }>): string {
  switch (leaf.op) {
    case 'between':
      return bounds(leaf.value, (written) => dateWords(written));
    case 'weekly': {
      const { days, from, until } = leaf.value;
      return `${daysWords(days)}${from === '00:00' && until === from ? ', all day' : ` from ${from} until ${until}${until <= from ? ' the next day' : ''}`}`;
    }
    case 'yearly':
      return `every year from ${yearDayWords(leaf.value.from)} until ${yearDayWords(leaf.value.until)}`;
    case 'around':
      return aroundWords(leaf.value);
  }
}

/** "every day", "on Mondays to Fridays", "on Mondays, Wednesdays and Fridays". */
function daysWords(days: readonly number[]): string {
  const sorted = [...new Set(days)].sort((a, b) => a - b);
  const names = sorted.map((day) => WEEKDAYS[day - 1] ?? '');
  if (sorted.length === 7) return 'every day';
  const isRun = sorted.length > 2 && sorted.every((day, index) => day === (sorted[0] ?? 0) + index);
  return `on ${isRun ? `${names[0] ?? ''} to ${names.at(-1) ?? ''}` : joined(names, 'and')}`;
}

function aroundWords({ date, from, until }: ValueOf<'moment', 'around'>): string {
  // One that reads like those of every shop stands in quotation marks.
  const noun = /^(ship|release)$/.test(date) ? `${speech(date)} date` : dateName(date, quoted);
  return bounds({ from, until }, (written, first) => {
    const duration = parseDuration(written);
    const size = duration ? durationWords(duration) : written;
    const its = first || from === undefined ? `its ${noun}` : 'that date';
    if (size === '') return its;
    return `${size} ${written.startsWith('-') ? 'before' : 'after'} ${its}`;
  });
}

/** "from … until …", with what there is of it. */
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

const yearDayWords = (written: string) => `${Number(written.slice(3))} ${MONTHS[Number(written.slice(0, 2)) - 1]}`;

const WEEKDAYS = ['Mondays', 'Tuesdays', 'Wednesdays', 'Thursdays', 'Fridays', 'Saturdays', 'Sundays'];
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

/** In quotation marks, with those inside told apart, and line breaks as a mark. */
export const speech = (words: string) => `“${words.replace(/[\\”⏎]/g, '\\$&').replace(/\n/g, ' ⏎ ')}”`;

/** A name as it is, or in quotation marks where it could be read as part of the sentence. */
export const quoted = (name: string) => (/^(?!(and|or|in|at)$)[\p{L}\p{N}_/-]+$/iu.test(name) ? name : speech(name));

const listed = (values: readonly string[], word: 'and' | 'or', name?: (id: string) => string) =>
  joined(
    values.map((value) => (name ? name(value) : quoted(value))),
    word,
  );

export function joined(parts: readonly string[], word: 'and' | 'or'): string {
  if (parts.length < 2) return parts[0] ?? '';
  return `${parts.slice(0, -1).join(', ')} ${word} ${parts.at(-1) ?? ''}`;
}
