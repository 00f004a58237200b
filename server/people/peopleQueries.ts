import type { Person } from '#core/contract/shopCalls.ts';
import { partOf, type Queryable } from '../db/database.ts';

const FITTING = `c.archived_at IS NULL
  AND ($1::text IS NULL OR c.name ILIKE $1 OR c.email ILIKE $1 OR c.external_id ILIKE $1)
  AND ($2::text IS NULL OR EXISTS (SELECT FROM customer_roles r WHERE r.customer_id = c.id AND r.role = $2))`;
const INSTANT = (column: string) => `to_char(${column} AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"')`;

const PAGE = `
  SELECT c.external_id AS id, c.email, c.name,
    (SELECT coalesce(json_agg(json_build_object(
       'code', r.role, 'from', ${INSTANT('r.held_from')}, 'until', ${INSTANT('r.held_until')})
       ORDER BY r.role COLLATE "C", r.held_from NULLS FIRST), '[]')
     FROM customer_roles r WHERE r.customer_id = c.id) AS roles,
    (SELECT count(*) FROM customers c WHERE ${FITTING}) AS total
  FROM customers c WHERE ${FITTING} AND ($3::text IS NULL OR c.external_id > $3)
  ORDER BY c.external_id LIMIT $4`;

export interface PeopleAsked {
  readonly after?: string | undefined;
  readonly limit: number;
  readonly search?: string | undefined;
  readonly role?: string | undefined;
}

export async function pageOfPeople(
  db: Queryable,
  { after, limit, search, role }: PeopleAsked,
): Promise<{ people: Person[]; total: number }> {
  const { rows } = await db.query<Person & { total: number }>(PAGE, [
    partOf(search),
    role ?? null,
    after ?? null,
    limit,
  ]);
  return { people: rows.map(({ total: _total, ...person }) => person), total: rows[0]?.total ?? 0 };
}
