import type { Person } from '#core/contract/shopCalls.ts';
import { partOf, type Database, type Queryable } from '../db/database.ts';
import { readPage, type Page } from '../db/page.ts';

const FITTING = `c.archived_at IS NULL
  AND ($1::text IS NULL OR c.found_by ILIKE $1)
  AND ($3::text IS NULL OR c.id = (SELECT coalesce(merged_into, id) FROM customers WHERE external_id = $3))
  AND ($2::text IS NULL OR EXISTS (SELECT FROM customer_roles r WHERE r.customer_id = c.id AND r.role = $2))`;
const INSTANT = (column: string) => `to_char(${column} AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"')`;

const PAGE = `
  SELECT c.external_id AS id, c.email, c.name, c.phone,
    (SELECT coalesce(json_agg(json_build_object(
       'code', r.role, 'from', ${INSTANT('r.held_from')}, 'until', ${INSTANT('r.held_until')})
       ORDER BY r.role COLLATE "C", r.held_from NULLS FIRST), '[]')
     FROM customer_roles r WHERE r.customer_id = c.id) AS roles,
    (SELECT count(*) FROM customers c WHERE ${FITTING}) AS total
  FROM customers c WHERE ${FITTING} AND ($4::text IS NULL OR c.external_id > $4)
  ORDER BY c.external_id LIMIT $5`;

export interface PeopleFilters {
  readonly after?: string | undefined;
  readonly limit: number;
  readonly search?: string | undefined;
  readonly role?: string | undefined;
  readonly id?: string | undefined;
}

export async function pageOfPeople(
  db: Queryable,
  { after, limit, search, role, id }: PeopleFilters,
): Promise<Page<Person>> {
  return readPage(db, PAGE, [partOf(search), role ?? null, id ?? null, after ?? null], limit);
}

/** Resolves the shop's id of a customer, following merges. */
const CURRENT = `
  SELECT c.external_id AS name FROM customers asked
    JOIN customers c ON c.id = coalesce(asked.merged_into, asked.id) AND c.archived_at IS NULL
  WHERE asked.external_id = $1 FOR UPDATE OF c`;
const CUSTOMER = '(SELECT id FROM customers WHERE external_id = $1 AND archived_at IS NULL)';
const DROP = `DELETE FROM customer_roles WHERE customer_id = ${CUSTOMER} AND role = $2
  AND held_from IS NOT DISTINCT FROM $3::timestamptz AND held_until IS NOT DISTINCT FROM $4::timestamptz`;
const END = `UPDATE customer_roles SET held_until = $3
  WHERE customer_id = ${CUSTOMER} AND role = $2 AND (held_from IS NULL OR held_from < $3)
    AND (held_until IS NULL OR held_until > $3)`;
const NEVER_BEGAN = `DELETE FROM customer_roles WHERE customer_id = ${CUSTOMER} AND role = $2 AND held_from >= $3`;
const GRANT = `INSERT INTO customer_roles (customer_id, role, held_from, held_until)
  SELECT c.id, $2, $3, $4 FROM customers c WHERE c.external_id = $1 AND c.archived_at IS NULL AND NOT EXISTS (
    SELECT FROM customer_roles r WHERE r.customer_id = c.id AND r.role = $2
      AND r.held_from IS NOT DISTINCT FROM $3::timestamptz AND r.held_until IS NOT DISTINCT FROM $4::timestamptz)`;

/** A role, and between which instants it is held. */
export interface Holding {
  readonly role: string;
  readonly from: string | null;
  readonly until: string | null;
}

export interface RoleChanges {
  readonly grant: readonly Holding[];
  readonly drop: readonly Holding[];
  readonly end: readonly { readonly role: string; readonly at?: string | undefined }[];
  readonly at: Date;
}

export async function grantRole(db: Queryable, id: string, { role, from, until }: Holding): Promise<void> {
  await db.query(GRANT, [id, role, from, until]);
}

/** Drops, ends and grants roles; the same again changes nothing. @returns whether there is such a customer */
export async function changeRoles(
  db: Database,
  asked: string,
  { grant, drop, end, at }: RoleChanges,
): Promise<boolean> {
  return db.transaction(async (client) => {
    const [found] = (await client.query<{ name: string }>(CURRENT, [asked])).rows;
    if (!found) return false;
    const id = found.name;
    await client.query("UPDATE customers SET written = nextval('write_order') WHERE external_id = $1", [id]);
    for (const { role, from, until } of drop) await client.query(DROP, [id, role, from, until]);
    for (const { role, at: when } of end) {
      const values = [id, role, when ?? at];
      await client.query(END, values);
      await client.query(NEVER_BEGAN, values);
    }
    for (const holding of grant) await grantRole(client, id, holding);
    return true;
  });
}
