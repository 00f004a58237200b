const NUMBER = String.raw`\p{Nd}+(?:[\s'’.,٬]\p{Nd}{3})*(?:[.,٫]\p{Nd}+)?`;
const CODE = '[A-Z]{3}';
const AMOUNT = new RegExp(
  String.raw`(?:\p{Sc}|(?<!\p{L})(?<before>${CODE}))\s?${NUMBER}|${NUMBER}\s?(?:\p{Sc}|(?<after>${CODE})(?!\p{L}))`,
  'gu',
);
const CURRENCIES = new Set(Intl.supportedValuesOf('currency'));

/** Replaces amounts of money: digits of any script, beside a sign of a currency (Unicode Sc) or its code (ISO 4217). */
const replaced = (text: string, by: string): string =>
  text.replace(AMOUNT, (amount: string, ...rest: unknown[]) => {
    const { before, after } = rest.at(-1) as { before?: string; after?: string };
    const code = before ?? after;
    return code === undefined || CURRENCIES.has(code) ? by : amount;
  });

export const hasAmount = (text: string): boolean => replaced(text, '') !== text;

/** Returns a text without its amounts of money, and without the signs that join them to it; spaces around it stay. */
export function withoutAmounts(text: string): string {
  const without = replaced(text, '');
  if (without === text) return text;
  const rest = without.replace(/\(\s*\)/g, '').replace(/^[\s–—:;,|/+-]+|[\s–—:;,|/+-]+$/gu, '');
  const [before = ''] = /^\s*/.exec(text) ?? [];
  const [after = ''] = /\s*$/.exec(text) ?? [];
  return rest === '' ? '' : before + rest + after;
}
