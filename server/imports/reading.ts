import { createReadStream } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { parse } from 'csv-parse';
import { ImportRows } from '#core/contract/importCalls.ts';
import { parse as validate } from '#core/contract/validation.ts';
import { invalid, ProblemError } from '../http/errors.ts';
import { readJson, type Refusal, type Row } from './rows.ts';

export type FileKind = 'csv' | 'json';

/** What a file holds, bit by bit. */
export interface Read {
  readonly columns: readonly string[];
  readonly rows: readonly Row[];
  readonly refused: readonly Refusal[];
}

const BATCH = 1000;
const MOST_ROWS = 1_000_000;
/** A record is longer than this only where a quotation mark was never closed. */
const LONGEST_RECORD = 1_000_000;

/**
 * Reads a file of rows. However long it is, a batch of it is held at a time (JSON, whose rows are fewer, all at once).
 * @throws {ProblemError} 400 or 422 where it is no such file
 */
export async function* readFileOf(path: string, kind: FileKind): AsyncGenerator<Read> {
  if (kind === 'json') yield await readJsonFile(path);
  else yield* readCsvFile(path);
}

/** RFC 4180, with or without a byte order mark, a header first. */
async function* readCsvFile(path: string): AsyncGenerator<Read> {
  const records = createReadStream(path).pipe(
    parse({
      bom: true,
      info: true,
      relax_column_count: true,
      skip_empty_lines: true,
      trim: true,
      max_record_size: LONGEST_RECORD,
    }),
  );
  let columns: string[] | null = null;
  let rows: Row[] = [];
  let refused: Refusal[] = [];
  let count = 0;
  try {
    // With `info`, each record comes with the number of its last line, which the type does not tell.
    for await (const { record, info } of records as AsyncIterable<{ record: string[]; info: { lines: number } }>) {
      if (columns === null) {
        columns = record.map((name) => name.trim().toLowerCase());
        continue;
      }
      count += 1;
      if (count > MOST_ROWS) throw tooMany();
      if (record.length !== columns.length) {
        const reason = `has ${record.length} cells where the header has ${columns.length}`;
        refused.push({ line: info.lines, column: null, reason });
      } else {
        const cells = Object.fromEntries(columns.map((name, index) => [name, record[index] ?? '']));
        rows.push({ line: info.lines, cells });
      }
      if (rows.length + refused.length < BATCH) continue;
      yield { columns, rows, refused };
      rows = [];
      refused = [];
    }
  } catch (error) {
    if (error instanceof ProblemError) throw error;
    const reason = error instanceof Error ? error.message : 'it is not CSV';
    const detail = `The file could not be read, so nothing was changed: ${reason}`;
    throw new ProblemError(400, 'broken-csv', 'Not CSV', detail);
  }
  yield { columns: columns ?? [], rows, refused };
}

async function readJsonFile(path: string): Promise<Read> {
  const text = await readFile(path, 'utf8');
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    const detail = 'The body is not valid JSON, so nothing was changed. Correct it and send it again.';
    throw new ProblemError(400, 'broken-json', 'Not JSON', detail);
  }
  const result = validate(ImportRows, json);
  if (!result.ok) throw invalid('What was sent', result.faults);
  return { ...readJson(result.value), refused: [] };
}

const tooMany = () =>
  new ProblemError(413, 'too-large', 'Too large', `A file has at most ${MOST_ROWS} rows. Send it in parts.`);
