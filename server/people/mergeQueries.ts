import type { Moved } from '#core/contract/peopleCalls.ts';
import { waitlist } from '#core/requests/waitlist.ts';
import type { Queryable } from '../db/database.ts';

const FIND = `
  SELECT id, external_id AS name FROM customers WHERE external_id = ANY($1) AND archived_at IS NULL
  ORDER BY id FOR UPDATE`;

/** The keys of customers by the shop's ids, held for the transaction. */
export async function lockedKeys(db: Queryable, ids: readonly string[]): Promise<ReadonlyMap<string, number>> {
  const { rows } = await db.query<{ id: number; name: string }>(FIND, [ids]);
  return new Map(rows.map(({ id, name }) => [name, id]));
}

/** If both have an open entry on a list, the invited or earlier one stays. */
const ONE_PLACE = `
  UPDATE waitlist_entries SET state = $5, changed_at = $3 WHERE id IN (
    SELECT id FROM (
      SELECT id, row_number() OVER (
        PARTITION BY product_id, variant_id ORDER BY state = 'invited' DESC, joined_at, id) AS place
      FROM waitlist_entries WHERE customer_id IN ($1, $2) AND state = ANY($4)) AS open
    WHERE place > 1)`;

const ROLES = `
  INSERT INTO customer_roles (customer_id, role, held_from, held_until)
  SELECT $1, o.role, o.held_from, o.held_until FROM customer_roles o WHERE o.customer_id = $2 AND NOT EXISTS (
    SELECT FROM customer_roles r WHERE r.customer_id = $1 AND r.role = o.role
      AND r.held_from IS NOT DISTINCT FROM o.held_from AND r.held_until IS NOT DISTINCT FROM o.held_until)`;
const DETAILS = `
  UPDATE customers c SET email = coalesce(c.email, o.email), name = coalesce(c.name, o.name),
    phone = coalesce(c.phone, o.phone), written = nextval('write_order')
  FROM customers o WHERE c.id = $1 AND o.id = $2`;
const GONE = `
  UPDATE customers SET merged_into = $1, archived_at = $3, email = NULL, name = NULL, phone = NULL,
    written = nextval('write_order')
  WHERE id = $2`;

const MOVES = {
  waitlists: 'UPDATE waitlist_entries SET customer_id = $1 WHERE customer_id = $2',
  preorders: 'UPDATE preorders SET customer_id = $1 WHERE customer_id = $2',
  quotes: 'UPDATE quotes SET customer_id = $1 WHERE customer_id = $2',
  enquiries: 'UPDATE enquiries SET customer_id = $1 WHERE customer_id = $2',
} as const;

/** Makes two customers one; to be run in a transaction that holds both. @param other whose id means `kept` from then on */
export async function mergeCustomers(
  db: Queryable,
  { kept, other, at }: { kept: number; other: number; at: Date },
): Promise<Moved> {
  const both = [kept, other];
  const { from, to } = waitlist.transitions.joinPlaces;
  await db.query(ONE_PLACE, [...both, at, from, to[0]]);
  const move = async (sql: string) => (await db.query(sql, both)).rowCount ?? 0;
  const moved = {
    waitlists: await move(MOVES.waitlists),
    preorders: await move(MOVES.preorders),
    quotes: await move(MOVES.quotes),
    enquiries: await move(MOVES.enquiries),
  };
  await db.query(ROLES, both);
  await db.query('DELETE FROM customer_roles WHERE customer_id = $1', [other]);
  await db.query(DETAILS, both);
  await db.query('UPDATE customers SET merged_into = $1 WHERE merged_into = $2', both);
  await db.query(GONE, [...both, at]);
  await db.query(
    'UPDATE audiences SET customer = k.external_id FROM customers k, customers o WHERE k.id = $1 AND o.id = $2 AND customer = o.external_id',
    both,
  );
  return moved;
}
