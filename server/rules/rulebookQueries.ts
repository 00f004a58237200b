import { NEXT_REVISION } from './revisions.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { upgraded } from '#core/rulebook/upgrades.ts';
import type { Queryable } from '../db/database.ts';
import { readPage, type Page } from '../db/page.ts';

export interface DraftRow {
  document: Rulebook;
  revision: number;
  savedAt: Date;
  savedBy: string | null;
}

const DRAFT = 'SELECT document, revision, saved_at AS "savedAt", saved_by AS "savedBy" FROM draft';

export async function readDraft(db: Queryable): Promise<DraftRow> {
  return current(theOne(await db.query<DraftRow>(DRAFT)));
}

/** Reads the draft and keeps others from changing it until the transaction ends. */
export async function lockDraft(db: Queryable): Promise<DraftRow> {
  return current(theOne(await db.query<DraftRow>(`${DRAFT} FOR UPDATE`)));
}

const WRITE = `
  UPDATE draft SET document = $1, revision = ${NEXT_REVISION}, saved_at = $2, saved_by = $3
  WHERE $4::bigint IS NULL OR revision = $4
  RETURNING revision`;

/** @param revision required of the draft; null accepts every one @returns the new revision, or null if it differs */
export async function writeDraft(
  db: Queryable,
  { document, at, by, revision }: { document: Rulebook; at: Date; by: string; revision: number | null },
): Promise<number | null> {
  const { rows } = await db.query<{ revision: number }>(WRITE, [JSON.stringify(document), at, by, revision]);
  return rows[0]?.revision ?? null;
}

export interface EditionRow {
  number: number;
  document: Rulebook;
  note: string | null;
  publishedAt: Date;
  publishedBy: string;
  restoredFrom: number | null;
}

const EDITION_COLUMNS = `
  number, document, note, published_at AS "publishedAt", published_by AS "publishedBy", restored_from AS "restoredFrom"`;
const NEWEST = `SELECT ${EDITION_COLUMNS} FROM editions ORDER BY number DESC LIMIT 1`;
const BY_NUMBER = `SELECT ${EDITION_COLUMNS} FROM editions WHERE number = $1`;
const PAGE = `
  SELECT ${EDITION_COLUMNS} FROM editions
  WHERE $1::int IS NULL OR number < $1 ORDER BY number DESC LIMIT $2`;

/** The live one; null before the first. */
export async function newestEdition(db: Queryable): Promise<EditionRow | null> {
  return firstOf(await db.query<EditionRow>(NEWEST));
}

export async function editionByNumber(db: Queryable, number: number): Promise<EditionRow | null> {
  return firstOf(await db.query<EditionRow>(BY_NUMBER, [number]));
}

export async function pageOfEditions(
  db: Queryable,
  before: number | undefined,
  limit: number,
): Promise<Page<EditionRow>> {
  const page = await readPage<EditionRow>(db, PAGE, [before ?? null], limit);
  return { ...page, rows: page.rows.map(current) };
}

const PUBLISH = `
  INSERT INTO editions (number, document, note, published_at, published_by, restored_from)
  SELECT coalesce(max(number), 0) + 1, $1, $2, $3, $4, $5::int FROM editions
  RETURNING ${EDITION_COLUMNS}`;

/** Gives the next number; the draft must be locked, so that no other copy gives it too. */
export async function insertEdition(db: Queryable, edition: Omit<EditionRow, 'number'>): Promise<EditionRow> {
  const { document, note, publishedAt, publishedBy, restoredFrom } = edition;
  return theOne(
    await db.query<EditionRow>(PUBLISH, [JSON.stringify(document), note, publishedAt, publishedBy, restoredFrom]),
  );
}

/** Upgrades documents stored by earlier versions. */
const current = <T extends { document: Rulebook }>(row: T): T => ({ ...row, document: upgraded(row.document) });

function firstOf<T extends { document: Rulebook }>({ rows: [row] }: { rows: T[] }): T | null {
  return row ? current(row) : null;
}

function theOne<T>({ rows }: { rows: T[] }): T {
  const [row] = rows;
  if (!row) throw new Error('a row that is always there is missing');
  return row;
}
