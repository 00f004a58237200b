import type { ImportPreview, ImportReading, ImportReport, ImportState } from '#core/contract/importCalls.ts';
import { ProblemError } from '../http/errors.ts';
import type { Queryable } from '../db/database.ts';
import { isOurs } from '#core/imports/columns.ts';
import type { FileReading, TargetName } from '#core/imports/fileReading.ts';
import type { Refusal, Row } from './rows.ts';

/** An import, as far as it has come. */
export interface ImportRow {
  id: string;
  target: TargetName;
  mode: 'merge' | 'replace';
  badRows: 'skip' | 'refuseAll';
  state: ImportState;
  columns: string[];
  rows: number;
  rowsDone: number;
  created: number;
  changed: number;
  archived: number;
  kept: number;
  refused: number;
  order: number;
  atOnce: boolean;
  wants: 'cancel' | null;
  /** Options for reading its file; null for our own format. */
  reading: FileReading | null;
  preview: ImportPreview | null;
  error: string | null;
  madeBy: string | null;
  createdAt: Date;
  endedAt: Date | null;
  canUndo: boolean;
}

const COLUMNS = `
  id, target, mode, bad_rows AS "badRows", state, columns, row_count AS rows, rows_done AS "rowsDone", created, changed,
  archived, kept, (SELECT count(DISTINCT line) FROM import_refusals r WHERE r.import_id = imports.id) AS refused,
  write_order AS "order", at_once AS "atOnce", wants, reading, preview, error, made_by AS "madeBy", created_at AS "createdAt",
  ended_at AS "endedAt",
  can_undo AND created + changed + archived > 0 AND state IN ('done', 'cancelled', 'interrupted', 'failed') AS "canUndo"`;

const CREATE = `
  INSERT INTO imports (target, mode, bad_rows, made_by, reading) VALUES ($1, $2, $3, $4, $5) RETURNING ${COLUMNS}`;

/** Its place among all that writes is that of the moment at which it begins to come in. */
export async function createImport(
  db: Queryable,
  one: { target: TargetName; mode: string; badRows: string; by: string; reading: FileReading | null },
): Promise<ImportRow> {
  const { rows } = await db.query<ImportRow>(CREATE, [one.target, one.mode, one.badRows, one.by, one.reading]);
  return rows[0]!;
}

export async function importById(db: Queryable, id: string, lock = false): Promise<ImportRow | null> {
  const read = `SELECT ${COLUMNS} FROM imports WHERE id = $1${lock ? ' FOR UPDATE' : ''}`;
  return (await db.query<ImportRow>(read, [id])).rows[0] ?? null;
}

const NEWEST = `SELECT ${COLUMNS} FROM imports WHERE $1::text IS NULL OR target = $1 ORDER BY created_at DESC, id LIMIT $2`;

export async function newestImports(db: Queryable, target: TargetName | null, limit: number): Promise<ImportRow[]> {
  return (await db.query<ImportRow>(NEWEST, [target, limit])).rows;
}

/** Says that somebody still works on it. */
export async function beat(db: Queryable, id: string): Promise<void> {
  await db.query('UPDATE imports SET heartbeat_at = now() WHERE id = $1', [id]);
}

const STAGE = `
  WITH own AS (SELECT id FROM imports WHERE id = $1 AND state = 'reading' FOR SHARE)
  INSERT INTO import_rows (import_id, place, line, key, cells)
  SELECT own.id, r.place, r.line, r.key, r.cells
  FROM own, json_to_recordset($2) AS r (place integer, line integer, key text, cells json)`;

/**
 * An import that was ended by another copy of the server, for which this one had been silent for too long. Its rows are
 * gone, so nothing more may be done for it.
 */
const interrupted = () =>
  new ProblemError(
    'interrupted',
    'This import was interrupted because the server stood still. Nothing of it is left to be written: send the file again.',
  );

/** Returns the variant or customer of a row. PostgreSQL has no text with NUL; the cell is refused when it is read. */
export const keyOf = (cells: Row['cells'], keyColumn: string): string => (cells[keyColumn] ?? '').replaceAll('\0', '');

/** Puts rows in their places, to be written from there. @throws {ProblemError} 409 when the import was ended */
export async function stageRows(
  db: Queryable,
  id: string,
  { rows, from, keyColumn }: { rows: readonly Row[]; from: number; keyColumn: string },
): Promise<void> {
  const placed = rows.map(({ line, cells }, index) => ({
    place: from + index,
    line,
    key: keyOf(cells, keyColumn),
    cells,
  }));
  const { rowCount } = await db.query(STAGE, [id, JSON.stringify(placed)]);
  if (rowCount !== placed.length) throw interrupted();
}

export async function stagedRows(db: Queryable, id: string, after: number, limit: number): Promise<Row[]> {
  const staged = 'SELECT line, cells FROM import_rows WHERE import_id = $1 AND place >= $2 ORDER BY place LIMIT $3';
  return (await db.query<Row>(staged, [id, after, limit])).rows;
}

/** Has the planner know the tables that imports read and write. */
export async function analyse(db: Queryable): Promise<void> {
  await db.query('ANALYZE products, variants, product_categories, import_rows, import_changes');
}

export async function forgetRows(db: Queryable, id: string): Promise<void> {
  await db.query('DELETE FROM import_rows WHERE import_id = $1', [id]);
}

const REFUSE = `
  INSERT INTO import_refusals (import_id, line, column_name, reason, key)
  SELECT $1, * FROM unnest($2::int[], $3::text[], $4::text[], $5::text[])`;

/** @param keys the customers or variants of the lines, where they are known */
export async function keepRefusals(
  db: Queryable,
  id: string,
  refused: readonly Refusal[],
  keys: ReadonlyMap<number, string> = new Map(),
): Promise<void> {
  if (refused.length === 0) return;
  await db.query(REFUSE, [
    id,
    refused.map(({ line }) => line),
    refused.map(({ column }) => column),
    refused.map(({ reason }) => reason.replaceAll('\0', '')),
    refused.map(({ line }) => keys.get(line) ?? null),
  ]);
}

export async function refusalsOf(db: Queryable, id: string, limit: number): Promise<Refusal[]> {
  const all =
    'SELECT line, column_name AS column, reason FROM import_refusals WHERE import_id = $1 ORDER BY line LIMIT $2';
  return (await db.query<Refusal>(all, [id, limit])).rows;
}

/** Update of an import; missing fields stay. */
interface Step {
  readonly state?: ImportState;
  readonly columns?: readonly string[];
  readonly rows?: number;
  readonly rowsDone?: number;
  readonly created?: number;
  readonly changed?: number;
  readonly archived?: number;
  readonly kept?: number;
  readonly atOnce?: boolean;
  readonly error?: string;
  readonly ended?: boolean;
}

const STEP = `
  UPDATE imports SET state = coalesce($2, state), columns = coalesce($3, columns), row_count = coalesce($4, row_count),
    rows_done = coalesce($5, rows_done), created = created + $6, changed = changed + $7, archived = archived + $8,
    kept = kept + $9, at_once = coalesce($10, at_once), error = coalesce($11, error),
    ended_at = CASE WHEN $12 THEN now() ELSE ended_at END, heartbeat_at = now()
  WHERE id = $1 AND state = ANY($13)`;

/**
 * Notes the progress of an import; counts are added.
 * @param during states in which the step may be taken
 * @throws {ProblemError} 409 when it is in another state
 */
export async function noteStep(db: Queryable, id: string, during: readonly ImportState[], step: Step): Promise<void> {
  const { state, columns, rows, rowsDone, created = 0, changed = 0, archived = 0, kept = 0 } = step;
  const { atOnce, error, ended = false } = step;
  const what = [state ?? null, columns ?? null, rows ?? null, rowsDone ?? null];
  const counts = [created, changed, archived, kept];
  const { rowCount } = await db.query(STEP, [id, ...what, ...counts, atOnce ?? null, error ?? null, ended, during]);
  if (rowCount !== 1) throw interrupted();
}

/** Keeps the preview of an import, which waits to be started. */
export async function keepPreview(db: Queryable, id: string, preview: ImportPreview): Promise<void> {
  await db.query("UPDATE imports SET state = 'previewed', preview = $2 WHERE id = $1 AND state = 'previewing'", [
    id,
    preview,
  ]);
}

const START = `
  UPDATE imports SET state = 'waiting', heartbeat_at = now(), preview = NULL WHERE id = $1 AND state = 'previewed'`;

/** @returns whether it was waiting to be started */
export async function askToStart(db: Queryable, id: string): Promise<boolean> {
  return (await db.query(START, [id])).rowCount === 1;
}

const DROP = `
  UPDATE imports SET state = 'cancelled', ended_at = now(), preview = NULL
  WHERE state = 'previewed' AND (id = $1 OR created_at < $2) RETURNING id`;

/** Ends an import that was looked at and is not wanted, or all that nobody started before a time. @returns how many */
export async function dropPreviewed(
  db: Queryable,
  which: { readonly id?: string; readonly before?: Date },
): Promise<number> {
  const { rows } = await db.query<{ id: string }>(DROP, [which.id ?? null, which.before ?? null]);
  for (const { id } of rows) await forgetRows(db, id);
  return rows.length;
}

/** @returns whether it was under way */
export async function askToCancel(db: Queryable, id: string): Promise<boolean> {
  const ask = "UPDATE imports SET wants = 'cancel' WHERE id = $1 AND state IN ('waiting', 'running')";
  return (await db.query(ask, [id])).rowCount === 1;
}

const UNDO = `
  UPDATE imports SET state = 'undoing', heartbeat_at = '-infinity', wants = NULL
  WHERE id = $1 AND state IN ('done', 'cancelled', 'interrupted', 'failed')
    AND can_undo AND created + changed + archived > 0`;

/** @returns whether there was something to undo */
export async function askToUndo(db: Queryable, id: string): Promise<boolean> {
  return (await db.query(UNDO, [id])).rowCount === 1;
}

/** Silence after which an import counts as abandoned and is resumed or ended. */
const SILENT = "interval '12 seconds'";

const TAKE_UP = `
  UPDATE imports SET heartbeat_at = now(), state = CASE state WHEN 'waiting' THEN 'running' ELSE state END
  WHERE id = (
    SELECT id FROM imports WHERE state = 'waiting'
      OR ((state = 'undoing' OR (state = 'running' AND NOT at_once)) AND heartbeat_at < now() - ${SILENT})
    ORDER BY write_order LIMIT 1 FOR UPDATE SKIP LOCKED)
  RETURNING id`;

/** Takes a waiting or abandoned import. */
export async function takeUp(db: Queryable): Promise<string | null> {
  return (await db.query<{ id: string }>(TAKE_UP)).rows[0]?.id ?? null;
}

const INTERRUPT = `
  UPDATE imports SET state = 'interrupted', ended_at = now()
  WHERE (state IN ('reading', 'previewing') OR (state = 'running' AND at_once)) AND heartbeat_at < now() - ${SILENT}
  RETURNING id`;

/** Ends imports that cannot be resumed, because their unread rows were lost with their server. */
export async function endInterrupted(db: Queryable): Promise<void> {
  const { rows } = await db.query<{ id: string }>(INTERRUPT);
  for (const { id } of rows) await forgetRows(db, id);
}

const SWEEP = `
  WITH old AS (
    UPDATE imports i SET can_undo = false WHERE can_undo AND state NOT IN ('running', 'undoing', 'waiting', 'reading')
      AND (SELECT count(*) FROM imports n WHERE n.target = i.target AND n.created_at > i.created_at) >= $1
    RETURNING id)
  DELETE FROM import_changes WHERE import_id IN (SELECT id FROM old)`;

/** Deletes previous values of older imports; only the newest of each kind can be undone. */
export async function sweepChanges(db: Queryable, kept: number): Promise<void> {
  await db.query(SWEEP, [kept]);
}

/** Maximum number of refused rows in a report. */
const LISTED = 10_000;

export async function reportOf(db: Queryable, one: ImportRow): Promise<ImportReport> {
  const { id, mode, rows, created, changed, archived, kept } = one;
  const notices = columnNotices(one);
  if (kept > 0) notices.push(`${kept} rows were changed since by something newer, which was kept.`);
  if (one.refused > LISTED) notices.push(`${one.refused} rows were refused; the first ${LISTED} are listed.`);
  const refused = await refusalsOf(db, id, LISTED);
  return { mode, rows, created, changed, archived, kept, refused, refusedRows: one.refused, notices };
}

/** Says which columns of a file mean nothing to us. */
export const columnNotices = ({ target, columns }: Pick<ImportRow, 'target' | 'columns'>): string[] =>
  columns
    .filter((column) => !isOurs(target, column))
    .map((column) => `The column “${column}” is not one of ours and was left out.`);

/** Counts the rows of an import that leave the stock blank and do not say whether it is tracked. */
export async function blankStock(db: Queryable, id: string): Promise<number> {
  const { rows } = await db.query<{ count: number }>(
    `SELECT count(*) FROM import_rows
     WHERE import_id = $1 AND btrim(cells ->> 'stock_quantity') = '' AND cells ->> 'stock_tracked' IS NULL`,
    [id],
  );
  return rows[0]!.count;
}

export const allReadings = async (db: Queryable): Promise<ImportReading[]> =>
  (
    await db.query<ImportReading>(
      'SELECT id, target, headings, reading FROM import_readings ORDER BY used_at DESC, id DESC LIMIT 200',
    )
  ).rows;

/** @returns null if files with these headings have no reading */
export async function readingById(db: Queryable, id: number, target: TargetName): Promise<FileReading | null> {
  const find = 'UPDATE import_readings SET used_at = now() WHERE id = $1 AND target = $2 RETURNING reading';
  return (await db.query<{ reading: FileReading }>(find, [id, target])).rows[0]?.reading ?? null;
}

const WRITE_READING = `
  INSERT INTO import_readings (target, headings, reading) VALUES ($1, $2, $3)
  ON CONFLICT (target, headings) DO UPDATE SET reading = excluded.reading, used_at = now() RETURNING id`;

/** @returns its number */
export async function writeReading(db: Queryable, one: Omit<ImportReading, 'id'>): Promise<number> {
  return (await db.query<{ id: number }>(WRITE_READING, [one.target, one.headings, one.reading])).rows[0]!.id;
}
