import { OUR_COLUMNS } from './columns.ts';
import type { Encoding, FileReading, TargetName } from './fileReading.ts';
import type { Sample } from './sample.ts';
import { isOptionName, isThing, namedBy, namedInPart } from './headings.ts';
import { dateFormOf, decimalOf, isDate, writtenNumber } from './values.ts';

export interface Guess {
  readonly reading: FileReading;
  /** Days and months are ambiguous: somebody must choose the order. */
  readonly asksForDates: boolean;
}

/** Guesses a file's character encoding. @param isUtf8 whether all its bytes are valid UTF-8 */
export function encodingOf(head: Uint8Array, isUtf8: boolean): Encoding {
  const [first, second] = head;
  if (first === 0xff && second === 0xfe) return 'utf-16le';
  if (first === 0xfe && second === 0xff) return 'utf-16be';
  const zeros = [0, 0];
  head.subarray(0, 2000).forEach((byte, at) => {
    if (byte === 0) zeros[at % 2]! += 1;
  });
  const most = Math.min(head.length, 2000) / 5;
  if (zeros[1]! > most) return 'utf-16le';
  if (zeros[0]! > most) return 'utf-16be';
  return isUtf8 ? 'utf-8' : 'windows-1252';
}

/** Long texts are nothing that a rule asks about. */
const LONGEST_ATTRIBUTE = 60;
/** Share of a column's values that must be of a kind. */
const MOST = 0.8;

/** Guesses a file's columns from headings and values, and the format of its numbers and dates. */
export function guessReading(target: TargetName, { headings, rows, encoding, separator }: Sample): Guess {
  const valuesOf = (index: number) => rows.map((row) => (row[index] ?? '').trim()).filter((value) => value !== '');
  const columns = columnsOf(target, headings, valuesOf);
  const of = (wanted: (column: string) => boolean) =>
    columns.flatMap((column, index) => (column !== null && wanted(column) ? valuesOf(index) : []));
  const amounts = of((column) => ['price', 'price_before', 'stock_quantity'].includes(column));
  const dates = dateFormOf(of((column) => column.startsWith('date:') || column.startsWith('role_')));
  const listed = of((column) => column === 'tags' || column === 'roles').join('\n');
  return {
    reading: {
      encoding,
      separator,
      decimal: decimalOf(amounts) ?? (separator === ';' ? ',' : '.'),
      dates: dates ?? 'dmy',
      lists: listed.includes('|') ? '|' : ((['|', ';', ','] as const).find((sign) => listed.includes(sign)) ?? '|'),
      columns,
    },
    asksForDates: dates === null,
  };
}

function columnsOf(
  target: TargetName,
  headings: readonly string[],
  valuesOf: (index: number) => readonly string[],
): (string | null)[] {
  const columns: (string | null)[] = headings.map(() => null);
  const take = (find: (heading: string, index: number) => string | null) => {
    headings.forEach((heading, index) => {
      if (columns[index] !== null) return;
      const column = find(heading, index);
      if (column !== null && !columns.includes(column)) columns[index] = column;
    });
  };
  const isFree = (column: string) => !columns.includes(column);
  take((heading) => namedBy(target, heading));
  if (target === 'catalog') {
    take((heading) => (isOptionName(heading) ? `option:${heading}` : null));
    take((heading, index) => {
      if (!isThing(heading)) return null;
      return isFree('title') && !areCodes(valuesOf(index)) ? 'title' : isFree('variant_id') ? 'variant_id' : 'title';
    });
  }
  take((heading, index) => {
    const column = namedInPart(target, heading);
    return column !== null && fits(column, valuesOf(index)) ? column : null;
  });
  if (target === 'people') {
    take((_heading, index) => (most(valuesOf(index), isEmail) ? 'email' : null));
    return columns;
  }
  take((_heading, index) => {
    const values = valuesOf(index);
    if (most(values, isPicture)) return 'image';
    if (most(values, isAddress)) return 'path';
    return null;
  });
  take((heading, index) => (most(valuesOf(index), isDate) ? `date:${heading}` : null));
  if (isFree('title')) take((_heading, index) => (most(valuesOf(index), isPhrase) && isFree('title') ? 'title' : null));
  if (isFree('price')) take((_heading, index) => (most(valuesOf(index), isAmount) && isFree('price') ? 'price' : null));
  take((heading, index) => (isAttribute(heading, valuesOf(index)) ? `attribute:${heading}` : null));
  return columns;
}

const most = (values: readonly string[], is: (value: string) => boolean): boolean =>
  values.length > 0 && values.filter(is).length >= values.length * MOST;

const isEmail = (value: string) => /^[^@\s]+@[^@\s]+\.[^@\s]+$/.test(value);
const isPicture = (value: string) => /^(https?:\/\/|\/).*\.(jpe?g|png|webp|gif|avif|svg)(\?.*)?$/i.test(value);
const isAddress = (value: string) => /^(https?:\/\/\S+|\/\S*)$/i.test(value);
const isPhrase = (value: string) => /\p{L}{2,}.*\s.*\p{L}{2,}/u.test(value);
const isAmount = (value: string) =>
  /\d[.,]\d{2}\b|[€$£¥￥₹]/.test(value) && (writtenNumber(value, '.') ?? writtenNumber(value, ',')) !== null;

/** Numbers of articles: short, without spaces, each another, most with a digit. */
function areCodes(values: readonly string[]): boolean {
  return (
    new Set(values).size === values.length &&
    most(values, (value) => /^[^\s]{1,40}$/.test(value) && /\d|^[A-Z]{2,}|[-_]/.test(value))
  );
}

const isWritten = (value: string) => (writtenNumber(value, '.') ?? writtenNumber(value, ',')) !== null;

/** Whether a column's values fit a word of its heading. */
function fits(column: string, values: readonly string[]): boolean {
  if (['price', 'price_before', 'stock_quantity'].includes(column)) return most(values, isWritten);
  if (column.startsWith('role_')) return most(values, isDate);
  if (column === 'email') return most(values, isEmail);
  return column in OUR_COLUMNS.catalog || column in OUR_COLUMNS.people;
}

/** Whether rules could use a column as an attribute: its values are short and repeat. */
function isAttribute(heading: string, values: readonly string[]): boolean {
  const different = new Set(values).size;
  return (
    /\p{L}{2,}/u.test(heading) &&
    values.length > 0 &&
    values.every((value) => value.length <= LONGEST_ATTRIBUTE) &&
    different <= Math.max(20, values.length / 2)
  );
}
