import { createHash, randomBytes } from 'node:crypto';
import type { KeyScope } from '#core/contract/permissions.ts';
import type { Queryable } from '../db/database.ts';

export interface KeyRow {
  id: number;
  name: string;
  scopes: KeyScope[];
  /** The last characters of the key. */
  ending: string;
  madeBy: string;
  madeAt: Date;
  /** To the minute. */
  usedAt: Date | null;
  revokedAt: Date | null;
  revokedBy: string | null;
}

const COLUMNS = `id, name, scopes, ending, made_by AS "madeBy", made_at AS "madeAt", used_at AS "usedAt",
  revoked_at AS "revokedAt", revoked_by AS "revokedBy"`;

/** Prefix by which secret scanners recognise a key. */
const PREFIX = 'understudy_';
const digest = (key: string) => createHash('sha256').update(key).digest();

const CREATE = `
  INSERT INTO program_keys (name, scopes, key_hash, ending, made_by, made_at) VALUES ($1, $2, $3, $4, $5, $6)
  RETURNING id`;

/** @returns the key, which is kept nowhere */
export async function createKey(
  db: Queryable,
  { name, scopes, madeBy, madeAt }: Pick<KeyRow, 'name' | 'scopes' | 'madeBy' | 'madeAt'>,
): Promise<{ id: number; key: string }> {
  const key = PREFIX + randomBytes(32).toString('base64url');
  const values = [name, [...new Set(scopes)], digest(key), key.slice(-4), madeBy, madeAt];
  return { id: (await db.query<{ id: number }>(CREATE, values)).rows[0]!.id, key };
}

/** Revoked ones too, the newest first. */
export const allKeys = async (db: Queryable): Promise<KeyRow[]> =>
  (await db.query<KeyRow>(`SELECT ${COLUMNS} FROM program_keys ORDER BY id DESC`)).rows;

/** Whether one was ever made. */
export const isKeyMade = async (db: Queryable): Promise<boolean> =>
  (await db.query<{ is: boolean }>('SELECT EXISTS (SELECT FROM program_keys) AS is')).rows[0]!.is;

/** @returns null for an unknown or revoked key */
export async function keyOf(db: Queryable, key: string): Promise<KeyRow | null> {
  const find = `SELECT ${COLUMNS} FROM program_keys WHERE key_hash = $1 AND revoked_at IS NULL`;
  return (await db.query<KeyRow>(find, [digest(key)])).rows[0] ?? null;
}

const USED = `
  UPDATE program_keys SET used_at = date_trunc('minute', $2::timestamptz)
  WHERE id = $1 AND used_at IS DISTINCT FROM date_trunc('minute', $2::timestamptz)`;

/** Written once a minute at most. */
export async function markUsed(db: Queryable, { id, usedAt }: KeyRow, at: Date): Promise<void> {
  if (usedAt === null || at.getTime() - usedAt.getTime() >= 60_000) await db.query(USED, [id, at]);
}

/** @returns its name; null if there is no such key */
export async function revokeKey(db: Queryable, id: number, by: string, at: Date): Promise<string | null> {
  const revoke = `UPDATE program_keys SET revoked_at = $2, revoked_by = $3 WHERE id = $1 AND revoked_at IS NULL
    RETURNING name`;
  return (await db.query<{ name: string }>(revoke, [id, at, by])).rows[0]?.name ?? null;
}
