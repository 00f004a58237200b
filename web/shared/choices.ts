import countryToCurrency from 'country-to-currency';
import { LANGUAGES } from '#core/texts/languages.ts';

/** One of a long list, found by its code or by its name. */
export interface Option {
  readonly code: string;
  readonly name: string;
}

const byName = (a: Option, b: Option) => a.name.localeCompare(b.name, 'en');

/** Every time zone (IANA), with its distance from UTC now. */
export const zones = (): readonly Option[] =>
  [...new Set(['UTC', ...Intl.supportedValuesOf('timeZone')])].map((code) => ({
    code,
    name: `${code.replaceAll('_', ' ')}, ${offset(code)}`,
  }));

const offset = (timeZone: string): string =>
  new Intl.DateTimeFormat('en', { timeZone, timeZoneName: 'longOffset' })
    .formatToParts()
    .find(({ type }) => type === 'timeZoneName')
    ?.value.replace(/^GMT$/, 'GMT+00:00') ?? '';

/** Every currency that is in use (ISO 4217). */
export function currencies(): readonly Option[] {
  const names = new Intl.DisplayNames('en', { type: 'currency' });
  return Intl.supportedValuesOf('currency')
    .map((code) => ({ code, name: `${names.of(code) ?? code}, ${code}` }))
    .sort(byName);
}

/** All two-letter languages (ISO 639-1), those with texts first. */
export function languages(): readonly Option[] {
  const names = new Intl.DisplayNames('en', { type: 'language', fallback: 'none' });
  const letters = Array.from('abcdefghijklmnopqrstuvwxyz');
  const all = letters.flatMap((first) =>
    letters.flatMap((second) => {
      const name = names.of(first + second);
      return name === undefined ? [] : [{ code: first + second, name }];
    }),
  );
  const isOurs = ({ code }: Option) => code in LANGUAGES;
  return [...all.filter(isOurs).sort(byName), ...all.filter((one) => !isOurs(one)).sort(byName)];
}

/** Guesses zone, currency and language from the browser. */
export function fromBrowser(): { readonly zone: string; readonly currency: string; readonly language: string } {
  const { language, region } = new Intl.Locale(navigator.language).maximize();
  return {
    zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
    currency: (countryToCurrency as Readonly<Record<string, string>>)[region ?? ''] ?? 'EUR',
    language,
  };
}
