/** Exponent of the currency's minor unit (ISO 4217, by the browser). */
export const exponentOf = (currency: string): number =>
  new Intl.NumberFormat('en', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2;

/** An amount of minor units in words. */
export const money = (minor: number, currency: string, locale = document.documentElement.lang): string =>
  new Intl.NumberFormat(locale || undefined, { style: 'currency', currency }).format(
    minor / 10 ** exponentOf(currency),
  );
