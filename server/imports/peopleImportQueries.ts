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
  /** By which write. */
  readonly written: number;
}

const PEOPLE = `
  SELECT external_id AS "customerId", email, name, phone, archived_at IS NOT NULL AS archived, written,
    (SELECT coalesce(json_agg(json_build_object('role', role,
       'from', to_char(held_from AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"'),
       'until', to_char(held_until AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"'))
       ORDER BY role COLLATE "C", held_from NULLS FIRST, held_until NULLS FIRST), '[]')
     FROM customer_roles WHERE customer_id = customers.id) AS roles
  FROM customers WHERE external_id = ANY($1) ORDER BY id FOR NO KEY UPDATE`;

export async function personStates(db: Queryable, ids: readonly string[]): Promise<PersonState[]> {
  return (await db.query<PersonState>(PEOPLE, [ids])).rows;
}

/** Finds ids that were merged into another customer's: files that still list them no longer change them. */
export async function mergedAmong(db: Queryable, ids: readonly string[]): Promise<ReadonlySet<string>> {
  const find = 'SELECT external_id AS id FROM customers WHERE external_id = ANY($1) AND merged_into IS NOT NULL';
  return new Set((await db.query<{ id: string }>(find, [ids])).rows.map(({ id }) => id));
}

const UPSERT = `
  WITH given AS (
    SELECT * FROM jsonb_to_recordset($1) AS r ("customerId" text, email text, name text, phone text, written bigint))
  INSERT INTO customers (external_id, email, name, phone, written)
  SELECT "customerId", email, name, phone, written FROM given
  ON CONFLICT (external_id) DO UPDATE SET email = excluded.email, name = excluded.name, phone = excluded.phone,
    written = excluded.written, archived_at = NULL`;
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

/** Customers that an import lists neither by id nor by one merged into theirs. */
const NOT_LISTED = `archived_at IS NULL AND written < $2
    AND NOT EXISTS (SELECT FROM import_rows r WHERE r.import_id = $1 AND r.key = c.external_id)
    AND NOT EXISTS (SELECT FROM customers m JOIN import_rows r ON r.import_id = $1 AND r.key = m.external_id
                    WHERE m.merged_into = c.id)`;
const LEFT_OUT = `SELECT external_id AS id FROM customers c WHERE ${NOT_LISTED} ORDER BY id LIMIT $3`;

/** Some of the customers that an import does not list and nothing newer wrote. */
export async function leftOutPeople(
  db: Queryable,
  { importId, order, limit }: { importId: string; order: number; limit: number },
): Promise<string[]> {
  return (await db.query<{ id: string }>(LEFT_OUT, [importId, order, limit])).rows.map(({ id }) => id);
}

const COUNT_LEFT_OUT = `SELECT count(*) AS count FROM customers c WHERE ${NOT_LISTED}`;

export async function countLeftOutPeople(
  db: Queryable,
  { importId, order }: { importId: string; order: number },
): Promise<number> {
  return (await db.query<{ count: number }>(COUNT_LEFT_OUT, [importId, order])).rows[0]!.count;
}

export async function countPeople(db: Queryable): Promise<number> {
  const all = 'SELECT count(*) AS count FROM customers WHERE archived_at IS NULL';
  return (await db.query<{ count: number }>(all)).rows[0]!.count;
}

const MADE = `
  SELECT external_id AS id FROM customers c WHERE written = $2 AND NOT EXISTS (
    SELECT FROM import_changes k WHERE k.import_id = $1 AND k.kind = 'customer' AND k.key = c.external_id)
  LIMIT $3`;

/** Some of the customers that an import made and nothing wrote since. */
export async function peopleMade(
  db: Queryable,
  { importId, by, limit }: { importId: string; by: number; limit: number },
): Promise<string[]> {
  return (await db.query<{ id: string }>(MADE, [importId, by, limit])).rows.map(({ id }) => id);
}

/** @returns how many customers were archived */
export async function archivePeople(
  db: Queryable,
  ids: readonly string[],
  { order, at }: { order: number; at: Date },
): Promise<number> {
  const archive =
    'UPDATE customers SET archived_at = coalesce(archived_at, $2), written = $3 WHERE external_id = ANY ($1)';
  return (await db.query(archive, [ids, at, order])).rowCount ?? 0;
}
