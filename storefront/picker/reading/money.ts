/** Reads amounts of money in any script, with the sign, code or name of any currency (Unicode Sc, ISO 4217, CLDR). */

export interface Amount {
  /** Its digits in ASCII, those after a separator of parts of a whole included. */
  readonly digits: string;
  /** Amount in whole units of the currency. */
  readonly value: number;
  readonly from: number;
  readonly to: number;
}

const NUMBER = "\\p{Nd}+(?:[.,’'٫٬\\s\\u00a0\\u202f]\\p{Nd}+)*(?:[.,][-–—])?";
const MARKS_OF_DIRECTION = /[\u200e\u200f\u061c\u2066-\u2069]/g;

/** Reads amounts in pages written in certain languages. */
export class Money {
  private readonly pattern: RegExp;

  /**
   * @param languages of the page (BCP 47); names of currencies are read in these and in English
   * @param unit what the page calls its money beside that
   */
  constructor(languages: readonly string[], unit?: Unit) {
    const all = new Set(['en', ...languages].flatMap((language) => [...signsIn(language)]));
    const signs = [...all].sort((a, b) => b.length - a.length).map(escaped);
    const sign = `(?:(?<![\\p{L}\\p{M}])(?:${signs.join('|')})(?![\\p{L}\\p{M}])\\.?|[\\p{L}]{0,3}\\p{Sc})`;
    const between = '[\\s\\u00a0\\u202f]{0,2}';
    // A name may follow a number without a space, as in 1,980円.
    const after = `(?:\\p{Sc}|(?:${signs.join('|')})(?![\\p{L}\\p{M}]))`;
    // Whole amounts are written 59,- without any sign where everybody knows it.
    const bare = '(?<![\\p{Nd}.,])(\\p{Nd}+(?:[. \\u00a0]\\p{Nd}{3})*)[.,:][-–—](?!\\p{Nd})';
    const own = unit ? `|${escaped(unit.before)}${between}(${NUMBER})${between}${escaped(unit.after)}` : '';
    this.pattern = new RegExp(`${sign}${between}(${NUMBER})|(${NUMBER})${between}${after}|${bare}${own}`, 'gu');
  }

  amountsIn(text: string): Amount[] {
    return [...text.replace(MARKS_OF_DIRECTION, '').matchAll(this.pattern)].map((match) => {
      const number = asciiOf(match.slice(1).join(''));
      return {
        digits: number.replace(/\D/g, ''),
        value: valueOf(number),
        from: match.index,
        to: match.index + match[0].length,
      };
    });
  }
}

/** Texts before and after an amount. */
export interface Unit {
  readonly before: string;
  readonly after: string;
}

const ALONE = new RegExp(`^([^\\p{Nd}]{0,8}?)\\s*${NUMBER}\\s*([^\\p{Nd}]{0,8})$`, 'u');
/** Signs of other numbers: shares, ratings, counts in brackets. */
const OTHER = /[%‰★☆⭐#()[\]×*+°]/u;
const LEAST_DIGITS = 2;

/**
 * Finds the sign that most numbers have: everyday names of money need not be a currency's (تومان is ten rial), and whole
 * amounts have signs of their own (Rs. 450/-).
 * @param texts of small elements
 */
export function unitIn(texts: readonly string[]): Unit | undefined {
  const numbers = new Map<string, { unit: Unit; values: Set<string> }>();
  for (const text of texts) {
    const [whole, before = '', after = ''] = ALONE.exec(text) ?? [];
    const key = `${before} ${after}`;
    if (whole === undefined || key === ' ' || OTHER.test(key)) continue;
    if ((whole.match(/\p{Nd}/gu) ?? []).length < LEAST_DIGITS) continue;
    const known = numbers.get(key) ?? { unit: { before: before.trim(), after: after.trim() }, values: new Set() };
    known.values.add(whole);
    numbers.set(key, known);
  }
  const [most] = [...numbers.values()].sort((a, b) => b.values.size - a.values.size);
  return most && most.values.size > 1 ? most.unit : undefined;
}

/** Whether an amount equals a price in minor units, given the currency's number of decimals. */
export function isPrice({ digits, value }: Amount, price: number, exponent: number): boolean {
  // Parts of a whole may be written in an element of their own, without a separator.
  return Number(digits) === price || Math.round(value * 10 ** exponent) === price;
}

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/** By language, since working them out takes a fifth of a second, and a page may be read often. */
const signsByLanguage = new Map<string, ReadonlySet<string>>();

/** Names of currencies in a language: codes, signs with letters, names. */
function signsIn(language: string): ReadonlySet<string> {
  const known = signsByLanguage.get(language);
  if (known) return known;
  const codes = Intl.supportedValuesOf('currency');
  const signs = new Set(codes);
  for (const currency of codes)
    for (const currencyDisplay of ['symbol', 'narrowSymbol', 'name'] as const) {
      const sign = signOf(language, currency, currencyDisplay);
      if (sign === undefined || !/[\p{L}]/u.test(sign)) continue;
      signs.add(sign);
      // If a name includes the country, its last word is the currency: 원 of 대한민국 원.
      const last = sign.split(' ').at(-1) ?? '';
      if (currencyDisplay === 'name' && !/[\p{Script=Latin}]/u.test(last)) signs.add(last);
    }
  signsByLanguage.set(language, signs);
  return signs;
}

function signOf(language: string, currency: string, currencyDisplay: 'symbol' | 'narrowSymbol' | 'name') {
  try {
    const parts = new Intl.NumberFormat(language, { style: 'currency', currency, currencyDisplay }).formatToParts(5);
    return parts
      .find(({ type }) => type === 'currency')
      ?.value.replace(MARKS_OF_DIRECTION, '')
      .replace(/\.$/, '')
      .trim();
  } catch {
    return undefined;
  }
}

/** Digits of any script as ASCII: in each, those from nought to nine follow each other. */
function asciiOf(text: string): string {
  return text.replace(/\p{Nd}/gu, (digit) => {
    const point = digit.codePointAt(0) ?? 0;
    let value = 0;
    while (value < 9 && /\p{Nd}/u.test(String.fromCodePoint(point - value - 1))) value += 1;
    return String(value);
  });
}

/** Reads a written number: the last separator is the decimal one if one or two digits follow it. */
function valueOf(number: string): number {
  const [, whole = number, part = ''] = /^(.*)[.,٫](\d{1,2})$/.exec(number) ?? [];
  return Number(`${whole.replace(/\D/g, '')}.${part || '0'}`);
}
