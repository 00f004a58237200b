import type { SpotCheck } from '#core/contract/spotCheckCalls.ts';
import type { Queryable } from '../db/database.ts';

/** Fields missing in checks saved before audiences could have a customer. */
const NOBODY = { customer: null, invited: false };

type Row = Omit<SpotCheck, 'at'> & { id: number; at: Date | null };

const ALL = 'SELECT id, variant, surface, visitor, at, expects, blocks FROM spot_checks ORDER BY id';
const INSERT = `
  INSERT INTO spot_checks (variant, surface, visitor, at, expects, blocks, made_at, made_by)
  VALUES ($1, $2, $3, $4, $5, $6, $7, $8) RETURNING id`;
const UPDATE = `
  UPDATE spot_checks SET variant = $1, surface = $2, visitor = $3, at = $4, expects = $5, blocks = $6 WHERE id = $7`;

const values = ({ variant, surface, visitor, at, expects, blocks }: SpotCheck) => [
  variant,
  surface,
  JSON.stringify(visitor),
  at,
  JSON.stringify(expects),
  blocks,
];

export async function allSpotChecks(db: Queryable): Promise<(SpotCheck & { id: number })[]> {
  const { rows } = await db.query<Row>(ALL);
  return rows.map((row) => ({ ...row, visitor: { ...NOBODY, ...row.visitor }, at: row.at?.toISOString() ?? null }));
}

export async function insertSpotCheck(db: Queryable, check: SpotCheck, at: Date, by: string): Promise<number> {
  const { rows } = await db.query<{ id: number }>(INSERT, [...values(check), at, by]);
  return rows[0]?.id ?? 0;
}

/** @returns whether the check exists */
export async function updateSpotCheck(db: Queryable, id: number, check: SpotCheck): Promise<boolean> {
  return ((await db.query(UPDATE, [...values(check), id])).rowCount ?? 0) > 0;
}

/** @returns whether there was such a check */
export async function deleteSpotCheckById(db: Queryable, id: number): Promise<boolean> {
  return ((await db.query('DELETE FROM spot_checks WHERE id = $1', [id])).rowCount ?? 0) > 0;
}
