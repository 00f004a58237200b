import type { ShopFacts } from '#core/model/subject.ts';
import type { Queryable } from '../db/database.ts';
import type { ImportPreview } from '#core/contract/importCalls.ts';
import type { Refusal, Row } from './rows.ts';

/** Import that writes, so that older data never overwrites newer, and its changes can be undone. */
export interface Writer {
  /** Number from `write_order`; values written by higher numbers are kept. */
  readonly order: number;
  /** The import to keep previous values for; null for none. */
  readonly importId: string | null;
}

export interface BatchOutcome {
  readonly created: number;
  readonly changed: number;
  /** Rows that kept a value, because a newer write set it. */
  readonly kept: number;
  readonly refused: readonly Refusal[];
  /** Examples of new and changed records. */
  readonly examples: (limit: number) => ImportPreview['examples'];
}

/** Target of an import. Its functions run in a transaction. */
export interface ImportTarget {
  /** The column that tells one row from another. */
  readonly keyColumn: string;
  write(client: Queryable, rows: readonly Row[], how: { shop: ShopFacts; writer: Writer }): Promise<BatchOutcome>;
  /** Archives a batch of rows that an import does not list, except newer ones. @returns their number; 0 at the end */
  archiveOthers(client: Queryable, writer: Writer & { importId: string }, at: Date): Promise<number>;
  /** Number of records that `archiveOthers` would archive. */
  countOthers(client: Queryable, writer: { order: number; importId: string }): Promise<number>;
  /** Counts all that are active. */
  countAll(client: Queryable): Promise<number>;
  /** Reverts a batch of an import, except rows written since. @returns the number of rows examined */
  undo(client: Queryable, writer: { undoes: string; itsOrder: number; order: number }, at: Date): Promise<number>;
}

/** Share of all rows that an import may archive without confirmation. */
const UNCONFIRMED = 0.1;

/** Counts what a replacing import would archive, and whether that needs confirmation. */
export async function archivingOf(
  client: Queryable,
  target: ImportTarget,
  { id: importId, mode, order }: { id: string; mode: 'merge' | 'replace'; order: number },
): Promise<{ gone: number; needsConfirmation: boolean }> {
  const gone = mode === 'replace' ? await target.countOthers(client, { importId, order }) : 0;
  return { gone, needsConfirmation: gone > 0 && gone > UNCONFIRMED * (await target.countAll(client)) };
}

/** Takes the next number of `write_order`. */
export async function nextWriteOrder(db: Queryable): Promise<number> {
  return (await db.query<{ order: number }>(`SELECT nextval('write_order') AS "order"`)).rows[0]!.order;
}

/** Serialises batches across copies of the server; they are short. */
export async function lockImports(db: Queryable): Promise<void> {
  await db.query("SELECT pg_advisory_xact_lock(hashtext('understudy-import'))");
}

const OLDER = `
  SELECT EXISTS (SELECT FROM imports WHERE write_order < $1 AND state IN ('reading', 'waiting', 'running')) AS is`;

/** Whether an older import has still to write; rows it must not overwrite are then marked even if unchanged. */
export async function isOlderUnderWay(db: Queryable, order: number): Promise<boolean> {
  return (await db.query<{ is: boolean }>(OLDER, [order])).rows[0]!.is;
}

const REMEMBER = `
  INSERT INTO import_changes (import_id, kind, key, before)
  SELECT $1, $2, r.key, r.before FROM jsonb_to_recordset($3) AS r (key text, before json)
  ON CONFLICT DO NOTHING`;

/** Keeps previous values of rows that an import writes. */
export async function rememberBefore(
  db: Queryable,
  importId: string,
  kind: 'product' | 'variant' | 'customer',
  before: readonly { readonly key: string; readonly before: object }[],
): Promise<void> {
  if (before.length > 0) await db.query(REMEMBER, [importId, kind, JSON.stringify(before)]);
}

const CHANGES = `
  DELETE FROM import_changes WHERE ctid = ANY (ARRAY (
    SELECT ctid FROM import_changes WHERE import_id = $1 AND kind = $2 ORDER BY key LIMIT $3))
  RETURNING key, before`;

/** A row that an import wrote, with its previous value. */
export interface Change<State> {
  readonly key: string;
  readonly before: State;
}

/** Takes a batch of kept values. */
export async function takeChanges(
  db: Queryable,
  importId: string,
  kind: 'product' | 'variant' | 'customer',
  limit: number,
): Promise<Change<unknown>[]> {
  return (await db.query<Change<unknown>>(CHANGES, [importId, kind, limit])).rows;
}

/**
 * Describes the differences between two states of a record.
 * @param columns the name of each field
 */
export function differences<State extends object>(
  before: State | undefined,
  after: State,
  columns: Readonly<Partial<Record<keyof State, string>>>,
): ImportPreview['examples'][number]['fields'] {
  return (Object.entries(columns) as [keyof State, string][])
    .map(([part, column]) => ({ column, before: before ? inWords(before[part]) : '', after: inWords(after[part]) }))
    .filter((field) => field.before !== field.after);
}

function inWords(value: unknown): string {
  if (value === null || value === undefined) return '';
  if (Array.isArray(value)) return value.map(inWords).join(', ');
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'object')
    return Object.entries(value)
      .map(([name, inner]) => `${name}: ${inWords(inner)}`)
      .join(', ');
  return typeof value === 'string' ? value : JSON.stringify(value);
}
