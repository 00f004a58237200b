import { stringify } from 'csv-stringify/sync';

/** Matches text that spreadsheets read as a formula (OWASP, CSV injection), escaped or not. */
const FORMULA = /^'*[=+\-@\t\r]/;

/**
 * Writes CSV (RFC 4180, UTF-8) that spreadsheets open as text: what they would take for a formula begins with an apostrophe,
 * which imports take away again. Numbers stay as they are.
 * @param part of a file in several parts: only the first has headings
 */
export const csvFile = (
  rows: readonly object[],
  columns: readonly string[],
  part: 'whole' | 'first' | 'next' = 'whole',
): string =>
  stringify([...rows], {
    header: part !== 'next',
    bom: part !== 'next',
    columns: [...columns],
    cast: { string: (value, { header }) => (!header && FORMULA.test(value) ? `'${value}` : value) },
  });

/** Takes away the apostrophe that `csvFile` put before a text. */
export const unescaped = (text: string): string => (text.startsWith("'") && FORMULA.test(text) ? text.slice(1) : text);
