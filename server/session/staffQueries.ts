import type { Queryable } from '../db/database.ts';

export interface StaffRow {
  id: number;
  name: string;
  email: string;
  passwordHash: string;
}

const BY_EMAIL = 'SELECT id, name, email, password_hash AS "passwordHash" FROM staff WHERE email = lower($1)';

export async function staffByEmail(db: Queryable, email: string): Promise<StaffRow | null> {
  const { rows } = await db.query<StaffRow>(BY_EMAIL, [email]);
  return rows[0] ?? null;
}

const CREATE = `
  INSERT INTO staff (name, email, password_hash) VALUES ($1, lower($2), $3)
  RETURNING id, name, email, password_hash AS "passwordHash"`;

export async function createStaff(db: Queryable, staff: Omit<StaffRow, 'id'>): Promise<StaffRow> {
  const { rows } = await db.query<StaffRow>(CREATE, [staff.name, staff.email, staff.passwordHash]);
  const [row] = rows;
  if (!row) throw new Error('the new owner did not come back');
  return row;
}

/** @returns how many were ended */
export async function endOtherSessions(db: Queryable, staffId: number, keep: string): Promise<number> {
  const end = "DELETE FROM sessions WHERE (sess->>'staffId')::bigint = $1 AND sid <> $2";
  return (await db.query(end, [staffId, keep])).rowCount ?? 0;
}

export async function sessionSecret(db: Queryable): Promise<string> {
  const { rows } = await db.query<{ value: string }>("SELECT value FROM secrets WHERE name = 'session'");
  const [row] = rows;
  if (!row) throw new Error('the session secret is missing from the database');
  return row.value;
}
