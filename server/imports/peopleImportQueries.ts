import type { Queryable } from '../db/database.ts';
import type { RoleCell } from './cells.ts';

/** A customer as an import reads and writes it. */
export interface PersonState {
  readonly customerId: string;
  readonly email: string | null;
  readonly name: string | null;
  /** E.164. */
  readonly phone: string | null;
  readonly roles: readonly RoleCell[];
  readonly archived: boolean;
}

const PEOPLE = `
  SELECT external_id AS "customerId", email, name, phone, archived_at IS NOT NULL AS archived,
    (SELECT coalesce(json_agg(json_build_object('role', role,
       'from', to_char(held_from AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"'),
       'until', to_char(held_until AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"'))
       ORDER BY role COLLATE "C", held_from NULLS FIRST, held_until NULLS FIRST), '[]')
     FROM customer_roles WHERE customer_id = customers.id) AS roles
  FROM customers WHERE external_id = ANY($1) FOR UPDATE`;

export async function personStates(db: Queryable, ids: readonly string[]): Promise<PersonState[]> {
  return (await db.query<PersonState>(PEOPLE, [ids])).rows;
}

const UPSERT = `
  WITH given AS (
    SELECT * FROM jsonb_to_recordset($1) AS r ("customerId" text, email text, name text, phone text, roles jsonb))
  INSERT INTO customers (external_id, email, name, phone) SELECT "customerId", email, name, phone FROM given
  ON CONFLICT (external_id) DO UPDATE SET email = excluded.email, name = excluded.name, phone = excluded.phone, archived_at = NULL`;
const CLEAR_ROLES = `
  DELETE FROM customer_roles USING customers c WHERE c.id = customer_id AND c.external_id = ANY($1)`;
const GIVE_ROLES = `
  INSERT INTO customer_roles (customer_id, role, held_from, held_until)
  SELECT c.id, held.role, held."from", held."until"
  FROM jsonb_to_recordset($1) AS r ("customerId" text, roles jsonb)
  JOIN customers c ON c.external_id = r."customerId"
  CROSS JOIN LATERAL jsonb_to_recordset(r.roles) AS held (role text, "from" timestamptz, "until" timestamptz)`;

export async function upsertPeople(db: Queryable, people: readonly PersonState[]): Promise<void> {
  if (people.length === 0) return;
  await db.query(UPSERT, [JSON.stringify(people)]);
  await db.query(CLEAR_ROLES, [people.map(({ customerId }) => customerId)]);
  await db.query(GIVE_ROLES, [JSON.stringify(people)]);
}

/** @returns how many customers were archived */
export async function archiveOtherPeople(db: Queryable, ids: readonly string[], at: Date): Promise<number> {
  const text = 'UPDATE customers SET archived_at = $2 WHERE archived_at IS NULL AND external_id <> ALL ($1)';
  return (await db.query(text, [ids, at])).rowCount ?? 0;
}
