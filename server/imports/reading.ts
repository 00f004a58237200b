import { createReadStream } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { parse } from 'csv-parse';
import iconv from 'iconv-lite';
import { rowConverter } from '#core/imports/rowConverter.ts';
import { namedColumn, type FileReading, type TargetName } from '#core/imports/fileReading.ts';
import { ImportRows } from '#core/contract/importCalls.ts';
import { parse as validate } from '#core/contract/validation.ts';
import { invalid, ProblemError } from '../http/errors.ts';
import { readJson, type Refusal, type Row } from './rows.ts';

export type FileKind = 'csv' | 'json';

/** Rows of a file, read as a stream. */
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
export async function* readFileOf(
  path: string,
  kind: FileKind,
  target: TargetName,
  reading: FileReading | null,
): AsyncGenerator<Read> {
  yield* READERS[kind](path, target, reading);
}

type Reader = (path: string, target: TargetName, reading: FileReading | null) => AsyncGenerator<Read>;
const READERS: Readonly<Record<FileKind, Reader>> = { csv: readCsvFile, json: readJsonFile };

/** Lines of cells, a header first: RFC 4180 in UTF-8 with our own columns, or as a reading says. */
async function* readCsvFile(path: string, target: TargetName, reading: FileReading | null): AsyncGenerator<Read> {
  const { separator = ',', encoding = 'utf-8' } = reading ?? {};
  const records = createReadStream(path)
    .pipe(iconv.decodeStream(encoding))
    .pipe(
      parse({
        bom: true,
        delimiter: separator,
        info: true,
        relax_column_count: true,
        skip_empty_lines: true,
        trim: true,
        max_record_size: LONGEST_RECORD,
      }),
    );
  const ours = reading && rowConverter(target, reading);
  let columns: readonly string[] | null = null;
  let rows: Row[] = [];
  let refused: Refusal[] = [];
  let count = 0;
  try {
    // With `info`, each record comes with the number of its last line, which the type does not tell.
    for await (const { record, info } of records as AsyncIterable<{ record: string[]; info: { lines: number } }>) {
      if (columns === null) {
        columns = record.map((name) => (namedColumn(name.trim()) ? name.trim() : name.trim().toLowerCase()));
        if (reading && reading.columns.length !== columns.length)
          throw otherColumns(reading.columns.length, columns.length);
        continue;
      }
      // The number is that of a record's last line: what breaks within its cells is counted back.
      const line = info.lines - record.reduce((count, text) => count + (text.split('\n').length - 1), 0);
      count += 1;
      if (count > MOST_ROWS) throw tooMany();
      if (record.length !== columns.length) {
        const reason = `has ${record.length} cells where the header has ${columns.length}`;
        refused.push({ line, column: null, reason });
      } else {
        const cells = ours
          ? ours(record)
          : Object.fromEntries(columns.map((name, index) => [name, record[index] ?? '']));
        rows.push({ line, cells });
      }
      if (rows.length + refused.length < BATCH) continue;
      yield { columns: named(columns, reading), rows, refused };
      rows = [];
      refused = [];
    }
  } catch (error) {
    if (error instanceof ProblemError) throw error;
    const reason = error instanceof Error ? error.message : 'it is not CSV';
    const detail = `The file could not be read, so nothing was changed: ${reason}`;
    throw new ProblemError('broken-csv', detail);
  }
  yield { columns: named(columns ?? [], reading), rows, refused };
}

/** Columns to report: none if somebody assigned them. */
const named = (columns: readonly string[], reading: FileReading | null) => (reading ? [] : columns);

async function* readJsonFile(path: string): AsyncGenerator<Read> {
  const text = await readFile(path, 'utf8');
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    const detail = 'The body is not valid JSON, so nothing was changed. Correct it and send it again.';
    throw new ProblemError('broken-json', detail);
  }
  const result = validate(ImportRows, json);
  if (!result.ok) throw invalid('What was sent', result.faults);
  yield { ...readJson(result.value), refused: [] };
}

const tooMany = () => new ProblemError('too-large', `A file has at most ${MOST_ROWS} rows. Send it in parts.`);

const otherColumns = (expected: number, found: number) =>
  new ProblemError(
    'other-columns',
    `The file has ${found} columns where ${expected} were matched, so nothing was changed. Match them anew.`,
  );
