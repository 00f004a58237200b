import type { Role, StaffRole } from '#core/contract/permissions.ts';
import type { Queryable } from '../db/database.ts';

export interface StaffRow {
  id: number;
  name: string;
  email: string;
  role: Role;
  /** Seller they act for; null for the shop's colleagues. */
  sellerId: string | null;
  /** argon2id; null while an invitation waits for an answer. */
  passwordHash: string | null;
  invitedBy: string | null;
  /** When they last signed in. */
  seenAt: Date | null;
  /** Of their second factor (TOTP), base32; null without one. */
  totpSecret: string | null;
  /** Secret of a second factor that is not turned on yet. */
  totpPending: string | null;
}

/** Somebody who works in the shop. */
export type ColleagueRow = StaffRow & { role: StaffRole };

const COLUMNS = `
  id, name, email, role, seller_id AS "sellerId", password_hash AS "passwordHash", invited_by AS "invitedBy", seen_at AS "seenAt",
  totp_secret AS "totpSecret", totp_pending AS "totpPending"`;

const first = <T>({ rows: [row] }: { rows: T[] }): T | null => row ?? null;

export const staffByEmail = async (db: Queryable, email: string): Promise<StaffRow | null> =>
  first(await db.query<StaffRow>(`SELECT ${COLUMNS} FROM staff WHERE email = lower($1)`, [email]));

export const staffById = async (db: Queryable, id: number): Promise<StaffRow | null> =>
  first(await db.query<StaffRow>(`SELECT ${COLUMNS} FROM staff WHERE id = $1`, [id]));

/** All colleagues, those with the most permissions first. */
export async function allStaff(db: Queryable): Promise<ColleagueRow[]> {
  const order = `array_position(ARRAY['owner', 'publisher', 'editor', 'viewer'], role), lower(name), id`;
  return (await db.query<ColleagueRow>(`SELECT ${COLUMNS} FROM staff WHERE seller_id IS NULL ORDER BY ${order}`)).rows;
}

/** Everybody who decides for a seller. */
export const sellersPeople = async (db: Queryable): Promise<StaffRow[]> =>
  (await db.query<StaffRow>(`SELECT ${COLUMNS} FROM staff WHERE seller_id IS NOT NULL ORDER BY lower(name), id`)).rows;

const CREATE = `
  INSERT INTO staff (name, email, role, password_hash, invited_by, seller_id) VALUES ($1, lower($2), $3, $4, $5, $6)
  ON CONFLICT (email) DO NOTHING
  RETURNING ${COLUMNS}`;

/** @returns null when somebody has this address already */
export async function createStaff(
  db: Queryable,
  staff: Omit<StaffRow, 'id' | 'seenAt' | 'totpSecret' | 'totpPending'>,
): Promise<StaffRow | null> {
  const { name, email, role, passwordHash, invitedBy, sellerId } = staff;
  return first(await db.query<StaffRow>(CREATE, [name, email, role, passwordHash, invitedBy, sellerId]));
}

/** Has changes to who the owners are come one after the other. */
export async function lockStaff(client: Queryable): Promise<void> {
  await client.query('LOCK TABLE staff IN SHARE ROW EXCLUSIVE MODE');
}

export async function setRole(db: Queryable, id: number, role: StaffRole): Promise<void> {
  await db.query('UPDATE staff SET role = $2 WHERE id = $1', [id, role]);
}

export async function setPassword(db: Queryable, id: number, passwordHash: string): Promise<void> {
  await db.query('UPDATE staff SET password_hash = $2 WHERE id = $1', [id, passwordHash]);
}

/** Replaces the password that was read. @returns false if it has changed meanwhile */
export async function replacePassword(
  db: Queryable,
  { id, passwordHash: before }: Pick<StaffRow, 'id' | 'passwordHash'>,
  passwordHash: string,
): Promise<boolean> {
  const write = 'UPDATE staff SET password_hash = $2 WHERE id = $1 AND password_hash IS NOT DISTINCT FROM $3';
  return (await db.query(write, [id, passwordHash, before])).rowCount === 1;
}

export async function beginTotp(db: Queryable, id: number, secret: string): Promise<void> {
  await db.query('UPDATE staff SET totp_pending = $2 WHERE id = $1', [id, secret]);
}

/** Turns on a second factor. @param step time step of the code that confirmed it */
export async function startTotp(db: Queryable, id: number, step: number): Promise<void> {
  await db.query(
    'UPDATE staff SET totp_secret = totp_pending, totp_pending = NULL, totp_step = $2 WHERE id = $1 AND totp_pending IS NOT NULL',
    [id, step],
  );
}

export async function endTotp(db: Queryable, id: number): Promise<void> {
  await db.query('UPDATE staff SET totp_secret = NULL, totp_pending = NULL WHERE id = $1', [id]);
  await db.query('DELETE FROM recovery_codes WHERE staff_id = $1', [id]);
}

export async function recoveryCodesLeft(db: Queryable, id: number): Promise<number> {
  const count = 'SELECT count(*) AS count FROM recovery_codes WHERE staff_id = $1';
  return (await db.query<{ count: number }>(count, [id])).rows[0]?.count ?? 0;
}

export async function markSeen(db: Queryable, id: number, at: Date): Promise<void> {
  await db.query('UPDATE staff SET seen_at = $2 WHERE id = $1', [id, at]);
}

export async function deleteStaff(db: Queryable, id: number): Promise<void> {
  await db.query('DELETE FROM staff WHERE id = $1', [id]);
}

/**
 * @param keep the id of a session that goes on
 * @returns how many were ended
 */
export async function endSessions(db: Queryable, staffId: number, keep: string | null): Promise<number> {
  const end = "DELETE FROM sessions WHERE (sess->>'staffId')::bigint = $1 AND sid IS DISTINCT FROM $2";
  return (await db.query(end, [staffId, keep])).rowCount ?? 0;
}

/** A session as it is kept. */
export interface SessionRow {
  readonly sid: string;
  readonly browser: string | null;
  /** Epoch ms. */
  readonly startedAt: number | null;
}

const SESSIONS = `
  SELECT sid, sess->>'browser' AS browser, (sess->>'startedAt')::bigint AS "startedAt" FROM sessions
  WHERE (sess->>'staffId')::bigint = $1 AND expire > now() ORDER BY (sess->>'startedAt')::bigint DESC NULLS LAST`;

/** Sessions of a colleague, the newest first. */
export const sessionsOf = async (db: Queryable, staffId: number): Promise<SessionRow[]> =>
  (await db.query<SessionRow>(SESSIONS, [staffId])).rows;

export async function endSession(db: Queryable, sid: string): Promise<void> {
  await db.query('DELETE FROM sessions WHERE sid = $1', [sid]);
}

export async function sessionSecret(db: Queryable): Promise<string> {
  const { rows } = await db.query<{ value: string }>("SELECT value FROM secrets WHERE name = 'session'");
  const [row] = rows;
  if (!row) throw new Error('the session secret is missing from the database');
  return row.value;
}
