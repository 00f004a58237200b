import type { ShopFacts } from '../model/subject.ts';
import { numberFormat } from './formats.ts';
import { conventionsOf, localeFor } from './locale.ts';

/** A decimal price in minor units: `14.50` with an exponent of 2 is 1450. Null when it is none, or finer than the unit. */
export function parsePrice(text: string, exponent: number): number | null {
  const match = /^(\d{1,12})(?:\.(\d+))?$/.exec(text);
  const fraction = match?.[2] ?? '';
  if (!match || /[1-9]/.test(fraction.slice(exponent))) return null;
  return Number(`${match[1]}${fraction.slice(0, exponent).padEnd(exponent, '0')}`);
}

/** A price in minor units, as a locale writes it. */
export function formatPrice(
  amount: number,
  { currency, exponent, locales }: Pick<ShopFacts, 'currency' | 'exponent' | 'locales'>,
  locale: string | null,
): string {
  const digits = { minimumFractionDigits: exponent, maximumFractionDigits: exponent };
  const style = { style: 'currency', currency, ...digits } as const;
  return numberFormat(conventionsOf(localeFor(locale, locales)), style).format(amount / 10 ** exponent);
}
