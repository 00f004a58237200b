import { parse } from 'csv-parse/sync';
import { ProblemError } from '../errors.ts';

/** One row as read: its cells by column, and where it stands in the file. */
export interface Row {
  readonly line: number;
  readonly cells: Readonly<Record<string, string>>;
}

/** Why a row does not go in. */
export interface Refusal {
  readonly line: number;
  readonly column: string | null;
  readonly reason: string;
}

/** Reads a CSV file (RFC 4180, with or without a byte order mark, a header first). */
export function readCsv(text: string): { columns: string[]; rows: Row[]; refused: Refusal[] } {
  const refused: Refusal[] = [];
  let records: { record: string[]; info: { lines: number } }[];
  try {
    // With `info`, each record comes with the number of its last line, which the type does not tell.
    records = parse(text, {
      bom: true,
      info: true,
      relax_column_count: true,
      skip_empty_lines: true,
      trim: true,
    }) as unknown as typeof records;
  } catch (error) {
    const reason = error instanceof Error ? error.message : 'it is not CSV';
    throw new ProblemError(
      400,
      'broken-csv',
      'Not CSV',
      `The file could not be read, so nothing was changed: ${reason}`,
    );
  }
  const [header, ...body] = records;
  const columns = (header?.record ?? []).map((name) => name.trim().toLowerCase());
  const rows: Row[] = [];
  for (const { record, info } of body) {
    if (record.length !== columns.length) {
      const reason = `has ${record.length} cells where the header has ${columns.length}`;
      refused.push({ line: info.lines, column: null, reason });
      continue;
    }
    rows.push({
      line: info.lines,
      cells: Object.fromEntries(columns.map((name, index) => [name, record[index] ?? ''])),
    });
  }
  return { columns, rows, refused };
}

type JsonCell = string | number | boolean | null | string[] | Record<string, string>;

/** JSON rows, brought to the form that a CSV file has. */
export function readJson(input: readonly Readonly<Record<string, JsonCell>>[]): { columns: string[]; rows: Row[] } {
  const columns = [...new Set(input.flatMap((row) => Object.keys(row)))];
  const rows = input.map((row, index) => ({
    line: index + 2,
    cells: Object.fromEntries(Object.entries(row).map(([name, value]) => [name, cellText(value)])),
  }));
  return { columns, rows };
}

function cellText(value: JsonCell): string {
  if (value === null) return '';
  if (Array.isArray(value)) return value.join('|');
  if (typeof value === 'object') {
    return Object.entries(value)
      .map(([name, inner]) => `${name}=${inner}`)
      .join('|');
  }
  return String(value).trim();
}
