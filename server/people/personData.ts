import type { PersonData } from '#core/contract/peopleCalls.ts';
import { record } from '../base/record.ts';
import type { Database, Queryable } from '../db/database.ts';

/** One person: a customer by the shop's id, or whoever gave an e-mail address. */
export interface Whose {
  readonly customer?: string | undefined;
  readonly email?: string | undefined;
}

/** Stands where an address was. `.invalid` reaches nobody (RFC 2606). */
export const NOBODY = 'erased@nobody.invalid';

interface Person {
  readonly key: number | null;
  readonly emails: readonly string[];
}

/** A customer's own address is theirs too: what they did before they signed in. */
async function personOf(db: Queryable, { customer, email }: Whose): Promise<Person> {
  const find = `SELECT id, lower(email) AS email FROM customers
     WHERE id = (SELECT coalesce(merged_into, id) FROM customers WHERE external_id = $1) OR lower(email) = $2 ORDER BY id LIMIT 1`;
  const { rows } = await db.query<{ id: number; email: string | null }>(find, [customer ?? null, email ?? null]);
  const [row] = rows;
  const emails = [...new Set([email, row?.email].filter((address) => typeof address === 'string'))];
  return { key: row?.id ?? null, emails };
}

const OF_PERSON = '(t.customer_id = $1 OR lower(t.email) = ANY($2))';
const GOODS = `(SELECT p.external_id FROM products p WHERE p.id = t.product_id) AS product`;
const VARIANT = `(SELECT v.external_id FROM variants v WHERE v.id = t.variant_id) AS variant`;
const THREAD = (column: string) =>
  `(SELECT coalesce(json_agg(json_build_object('byOwner', s.by_owner, 'words', s.words, 'at', s.at) ORDER BY s.id), '[]') FROM thread_messages s WHERE s.${column} = t.id) AS said`;

const KEPT = {
  roles: 'SELECT role, held_from, held_until FROM customer_roles WHERE customer_id = $1 AND $2::text[] IS NOT NULL',
  waitlists: `SELECT ${GOODS}, ${VARIANT}, name, email, locale, note, state, joined_at, changed_at FROM waitlist_entries t WHERE ${OF_PERSON}`,
  preorders: `SELECT ${VARIANT}, name, email, locale, units, unit_price, order_number, state, created_at FROM preorders t WHERE ${OF_PERSON}`,
  quotes: `SELECT name, email, locale, answers, state,
    (SELECT sum(k.delivery)::bigint FROM quote_parts k WHERE k.quote_id = t.id) AS delivery, valid_until, order_number, created_at, ${THREAD('quote_id')},
    (SELECT coalesce(json_agg(json_build_object('variant', v.external_id, 'units', l.units, 'unitPrice', l.unit_price, 'note', l.note)), '[]')
     FROM quote_lines l JOIN variants v ON v.id = l.variant_id WHERE l.quote_id = t.id) AS lines
    FROM quotes t WHERE ${OF_PERSON}`,
  enquiries: `SELECT ${GOODS}, ${VARIANT}, name, email, locale, answers, state, created_at, ${THREAD('enquiry_id')} FROM enquiries t WHERE ${OF_PERSON}`,
  messages: `SELECT event, recipient, subject, text_body, state, created_at, sent_at FROM messages
    WHERE lower(about) = ANY($2) AND $1::bigint IS NOT DISTINCT FROM $1 ORDER BY id`,
} as const;

/** Everything that is kept of one person. */
export async function dataOf(db: Queryable, whose: Whose): Promise<PersonData> {
  const { key, emails } = await personOf(db, whose);
  const list = async (sql: string) => (await db.query<Record<string, unknown>>(sql, [key, emails])).rows;
  const customers = 'SELECT external_id AS id, email, name, phone FROM customers WHERE id = $1';
  const { rows } = await db.query<Record<string, unknown>>(customers, [key]);
  return {
    customer: rows[0] ?? null,
    roles: await list(KEPT.roles),
    waitlists: await list(KEPT.waitlists),
    preorders: await list(KEPT.preorders),
    quotes: await list(KEPT.quotes),
    enquiries: await list(KEPT.enquiries),
    messages: await list(KEPT.messages),
  };
}

/** In an order that foreign keys allow. What was ordered stays, without who it was. */
const ERASE = [
  `DELETE FROM waitlist_entries t WHERE ${OF_PERSON}`,
  `DELETE FROM enquiries t WHERE ${OF_PERSON}`,
  `DELETE FROM thread_messages WHERE quote_id IN (SELECT id FROM quotes t WHERE ${OF_PERSON})`,
  `UPDATE quotes t SET customer_id = NULL, email = '${NOBODY}', name = NULL, answers = '[]' WHERE ${OF_PERSON}`,
  `UPDATE preorders t SET customer_id = NULL, email = '${NOBODY}', name = NULL WHERE ${OF_PERSON}`,
  `DELETE FROM messages t WHERE lower(t.about) = ANY($2) AND $1::bigint IS NOT DISTINCT FROM $1`,
  `DELETE FROM customer_roles WHERE customer_id = $1 AND $2::text[] IS NOT NULL`,
  `UPDATE customers SET email = NULL, name = NULL, phone = NULL, archived_at = coalesce(archived_at, now()) WHERE id = $1 AND $2::text[] IS NOT NULL`,
] as const;

/** Forgets one person, and writes down that it was done, not of whom. */
export async function erase(db: Database, whose: Whose, { by, at }: { by: string; at: Date }): Promise<void> {
  await db.transaction(async (client) => {
    const { key, emails } = await personOf(client, whose);
    for (const sql of ERASE) await client.query(sql, [key, emails]);
    await record(client, at, by, 'erased a person');
  });
}
