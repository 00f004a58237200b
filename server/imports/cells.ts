import { parseLocal } from '#core/model/calendar.ts';
import { parsePrice } from '#core/texts/prices.ts';
import { categoryId } from '#core/model/names.ts';
import type { Zone } from '#core/model/zone.ts';
import { toInstant } from '#core/model/zone.ts';
import { unescaped } from '../http/csvFile.ts';
import type { Refusal, Row } from './rows.ts';

/** Thrown by a cell's reader: the row does not go in, for this reason. */
export class BadCell extends Error {
  constructor(
    readonly column: string,
    readonly reason: string,
  ) {
    super(reason);
  }
}

/** Thrown by a row's reader, with all that is wrong with it. */
class BadRow extends Error {
  constructor(readonly cells: readonly BadCell[]) {
    super('a row cannot be read');
  }
}

/**
 * Reads a row cell by cell, to its end, so that all that is wrong with it is said at once.
 * @param read receives a reader of cells, which returns undefined for a bad one
 * @throws {BadRow}
 */
export function readRow<T>(read: (of: <Value>(readCell: () => Value) => Value | undefined) => T): T {
  const bad: BadCell[] = [];
  const result = read((readCell) => {
    try {
      return readCell();
    } catch (error) {
      if (!(error instanceof BadCell)) throw error;
      bad.push(error);
      return undefined;
    }
  });
  if (bad.length > 0) throw new BadRow(bad);
  return result;
}

/** Turns an error of reading a row into its refusal. @throws any other error */
export function refusals(error: unknown, { line }: Row): Refusal[] {
  const bad = error instanceof BadCell ? [error] : error instanceof BadRow ? error.cells : null;
  if (!bad) throw error;
  return bad.map(({ column, reason }) => ({ line, column, reason }));
}

/** A cell's text; undefined if the file lacks the column, which keeps the present value. */
export function cell(row: Row, column: string): string | undefined {
  const text = row.cells[column];
  if (text !== undefined && text.length > 20_000) throw new BadCell(column, 'is longer than 20,000 characters');
  // PostgreSQL has no text with this character.
  if (text?.includes('\0')) throw new BadCell(column, 'holds a NUL character');
  if (text?.includes('\uFFFD'))
    throw new BadCell(column, 'holds signs that cannot be read: the file is in another encoding');
  return text === undefined ? undefined : unescaped(text);
}

/** Reads a cell's text; null if it is blank. */
export function text(row: Row, column: string): string | null | undefined {
  const value = cell(row, column);
  return value === '' ? null : value;
}

/** A cell that must say something where it is there. */
export function required(row: Row, column: string): string {
  const text = cell(row, column);
  if (text === undefined || text === '') throw new BadCell(column, 'is empty, and every row needs it');
  if (text.length > 200) throw new BadCell(column, 'is longer than 200 characters');
  return text;
}

export function list(row: Row, column: string): string[] | undefined {
  return cell(row, column)
    ?.split('|')
    .map((part) => part.trim())
    .filter((part) => part !== '');
}

/** `name=value` pairs. */
export function pairs(row: Row, column: string): Record<string, string> | undefined {
  const parts = list(row, column);
  if (!parts) return undefined;
  return Object.fromEntries(
    parts.map((part) => {
      const at = part.indexOf('=');
      if (at < 1) throw new BadCell(column, `“${part}” is not name=value`);
      return [part.slice(0, at).trim(), part.slice(at + 1).trim()];
    }),
  );
}

/** Pairs whose values are local dates or date-times. */
export function dates(row: Row, column: string): Record<string, string> | undefined {
  const named = pairs(row, column);
  for (const [name, value] of Object.entries(named ?? {})) {
    if (parseLocal(value) === null) {
      throw new BadCell(column, `${name}: “${value}” is not a date; write YYYY-MM-DD or YYYY-MM-DDTHH:MM`);
    }
  }
  return named;
}

/** A decimal price in minor units; null for an empty cell. */
export function price(row: Row, column: string, exponent: number): number | null | undefined {
  const text = cell(row, column);
  if (text === undefined || text === '') return text === undefined ? undefined : null;
  const minor = parsePrice(text, exponent);
  if (minor === null) {
    throw new BadCell(column, `“${text}” is not a price; write it as a decimal such as ${(14.5).toFixed(exponent)}`);
  }
  return minor;
}

export function wholeNumber(row: Row, column: string): number | null | undefined {
  const text = cell(row, column);
  if (text === undefined || text === '') return text === undefined ? undefined : null;
  if (!/^-?\d{1,9}$/.test(text)) throw new BadCell(column, `“${text}” is not a whole number`);
  return Number(text);
}

/** Reads a whole number of 0 or more. */
export function count(row: Row, column: string): number | null | undefined {
  const value = wholeNumber(row, column);
  if (typeof value === 'number' && value < 0) throw new BadCell(column, `“${value}” is below 0`);
  return value;
}

const TRUTHS: Readonly<Record<string, boolean>> = { true: true, yes: true, 1: true, false: false, no: false, 0: false };

export function truth(row: Row, column: string): boolean | null | undefined {
  const text = cell(row, column);
  if (text === undefined || text === '') return text === undefined ? undefined : null;
  const value = TRUTHS[text.toLowerCase()];
  if (value === undefined) throw new BadCell(column, `“${text}” is neither true nor false`);
  return value;
}

export interface CategoryPath {
  readonly id: string;
  readonly names: readonly string[];
}

/** Paths like `Plants > Bulbs > Tulips`. */
export function categories(row: Row, column: string): CategoryPath[] | undefined {
  return list(row, column)?.map((path) => {
    const names = path.split('>').map((name) => name.trim());
    const id = categoryId(names);
    if (id === null) throw new BadCell(column, `“${path}” has a name without a letter or digit`);
    return { id, names };
  });
}

/** A path of this shop, without host or fragment; its query can tell products apart. */
export function path(row: Row, column: string): string | null | undefined {
  const text = cell(row, column);
  if (text === undefined || text === '') return text === undefined ? undefined : null;
  if (!/^\/(?!\/)[^#\s]*$/.test(text) || text.length > 2000) {
    throw new BadCell(column, `“${text}” is not a path of the shop; write one that begins with /`);
  }
  return text;
}

export interface RoleCell {
  readonly role: string;
  /** ISO 8601 instants; null when open. */
  readonly from: string | null;
  readonly until: string | null;
}

/** Roles separated by `|`, each with an optional `@from/until` in the shop's zone. */
export function roles(row: Row, column: string, zone: Zone): RoleCell[] | undefined {
  return list(row, column)?.map((part) => {
    const [role = '', dated, ...more] = part.split('@').map((piece) => piece.trim());
    if (role === '' || more.length > 0) throw new BadCell(column, `“${part}” is not a role, or a role@from/until`);
    if (dated === undefined) return { role, from: null, until: null };
    const [from, until, ...rest] = dated.split('/');
    if (until === undefined || rest.length > 0) {
      throw new BadCell(column, `“${part}”: write the dates as from/until, either of which may be empty`);
    }
    const bounds = { from: instant(from ?? '', column, zone), until: instant(until, column, zone) };
    if (bounds.from !== null && bounds.until !== null && bounds.from >= bounds.until) {
      throw new BadCell(column, `“${part}” ends before it begins`);
    }
    return { role, ...bounds };
  });
}

function instant(text: string, column: string, zone: Zone): string | null {
  if (text.trim() === '') return null;
  const local = parseLocal(text.trim());
  if (local === null) throw new BadCell(column, `“${text}” is not a date; write YYYY-MM-DD or YYYY-MM-DDTHH:MM`);
  return new Date(toInstant(zone, local)).toISOString();
}
