import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { upgraded } from '#core/rulebook/upgrades.ts';
import type { Queryable } from '../db/database.ts';

export interface OpeningRow {
  id: number;
  document: Rulebook;
  note: string | null;
  opensAt: Date;
  over: number;
  setAt: Date;
  setBy: string;
}

const COLUMNS = `id, document, note, opens_at AS "opensAt", over, set_at AS "setAt", set_by AS "setBy"`;
const DUE = `DELETE FROM openings WHERE opens_at <= $1 RETURNING ${COLUMNS}`;
const NEXT = 'SELECT min(opens_at) AS next FROM openings';
const INSERT = `
  INSERT INTO openings (document, note, opens_at, over, set_at, set_by) VALUES ($1, $2, $3, $4, $5, $6) RETURNING ${COLUMNS}`;
const UPDATE = `
  UPDATE openings SET document = $2, note = $3, opens_at = $4, over = $5, set_at = $6, set_by = $7
  WHERE id = $1 RETURNING ${COLUMNS}`;

const current = (row: OpeningRow): OpeningRow => ({ ...row, document: upgraded(row.document) });

/** All that are still to come, the next first. */
export async function openingsToCome(db: Queryable): Promise<OpeningRow[]> {
  return (await db.query<OpeningRow>(`SELECT ${COLUMNS} FROM openings ORDER BY opens_at, id`)).rows.map(current);
}

export async function openingById(db: Queryable, id: number): Promise<OpeningRow | null> {
  const { rows } = await db.query<OpeningRow>(`SELECT ${COLUMNS} FROM openings WHERE id = $1`, [id]);
  return rows[0] ? current(rows[0]) : null;
}

const values = ({ document, note, opensAt, over, setAt, setBy }: Omit<OpeningRow, 'id'>) => [
  JSON.stringify(document),
  note,
  opensAt,
  over,
  setAt,
  setBy,
];

export async function insertOpening(db: Queryable, opening: Omit<OpeningRow, 'id'>): Promise<OpeningRow> {
  const { rows } = await db.query<OpeningRow>(INSERT, values(opening));
  if (!rows[0]) throw new Error('an opening was not kept');
  return rows[0];
}

/** @returns null when it has opened, or was called off, meanwhile */
export async function updateOpening(db: Queryable, { id, ...opening }: OpeningRow): Promise<OpeningRow | null> {
  return (await db.query<OpeningRow>(UPDATE, [id, ...values(opening)])).rows[0] ?? null;
}

/** @returns whether there was such an opening */
export async function deleteOpening(db: Queryable, id: number): Promise<boolean> {
  return ((await db.query('DELETE FROM openings WHERE id = $1', [id])).rowCount ?? 0) > 0;
}

/** Takes openings that are due, the earliest first. */
export async function takeDueOpenings(db: Queryable, at: Date): Promise<OpeningRow[]> {
  const { rows } = await db.query<OpeningRow>(DUE, [at]);
  return rows.map(current).sort((a, b) => a.opensAt.getTime() - b.opensAt.getTime() || a.id - b.id);
}

/** When the next one is; null when none is set. */
export async function nextOpening(db: Queryable): Promise<Date | null> {
  return (await db.query<{ next: Date | null }>(NEXT)).rows[0]?.next ?? null;
}
