import type { Erasure, PersonData } from '#core/contract/peopleCalls.ts';
import { record } from '../db/record.ts';
import type { Database, Queryable } from '../db/database.ts';
import { lockImports } from '../imports/importTarget.ts';

/** One person: a customer by the shop's id, or everyone with an e-mail address. */
export interface PersonKey {
  readonly customer?: string | undefined;
  readonly email?: string | undefined;
}

/** Replaces an erased address. `.invalid` reaches nobody (RFC 2606). */
const ERASED_EMAIL = 'erased@nobody.invalid';

/** The customers and addresses that an export, an erasure or a timeline covers. */
export interface Person {
  readonly keys: readonly number[];
  /** The shop's ids, also those merged into another. */
  readonly ids: readonly string[];
  readonly emails: readonly string[];
  /** Other customers with one of these addresses, who are not covered. */
  readonly others: readonly { readonly key: number; readonly id: string }[];
}

const FIND = `
  WITH current AS (
    SELECT coalesce(merged_into, id) AS id FROM customers WHERE external_id = $1 OR lower(email) = $2)
  SELECT id AS key, external_id AS id, lower(email) AS email FROM customers
  WHERE id IN (SELECT id FROM current) OR merged_into IN (SELECT id FROM current) ORDER BY id`;
const OTHERS = `
  SELECT id AS key, external_id AS id FROM customers WHERE lower(email) = ANY($1) AND id <> ALL($2) ORDER BY id`;

/** Finds the people covered. A customer's own address counts as theirs: it covers what they did before they signed in. */
export async function findPerson(db: Queryable, { customer, email }: PersonKey): Promise<Person> {
  const asked = email?.toLowerCase() ?? null;
  const { rows } = await db.query<{ key: number; id: string; email: string | null }>(FIND, [customer ?? null, asked]);
  const keys = rows.map(({ key }) => key);
  const emails = [...new Set([asked, ...rows.map((row) => row.email)].filter((address) => address !== null))];
  const others = (await db.query<{ key: number; id: string }>(OTHERS, [emails, keys])).rows;
  return { keys, ids: rows.map(({ id }) => id), emails, others };
}

// Names the parameters of every statement below, so that PostgreSQL knows the types of those a statement does not use.
export const WITH_PERSON =
  'WITH person AS (SELECT $1::bigint[] AS keys, $2::text[] AS emails, $3::bigint[] AS others, $4::text[] AS ids)';
const onPerson = <Row extends object>(db: Queryable, sql: string, { keys, emails, others, ids }: Person) =>
  db.query<Row>(`${WITH_PERSON} ${sql}`, [keys, emails, others.map(({ key }) => key), ids]);

/** Requests of these customers, and those from their addresses unless another customer made them. */
export const OF_PERSON =
  '(t.customer_id = ANY($1) OR lower(t.email) = ANY($2) AND coalesce(t.customer_id <> ALL($3), true))';
const OF_ADDRESS = '(lower(t.about) = ANY($2) OR lower(t.recipient) = ANY($2))';
/** A staged row of an import of customers. */
const OF_ROW = "(r.key = ANY($4) OR lower(r.cells ->> 'email') = ANY($2))";
const IMPORTS_OF_PEOPLE = "SELECT id FROM imports WHERE target = 'people'";

const GOODS = `(SELECT p.external_id FROM products p WHERE p.id = t.product_id) AS product`;
const VARIANT = `(SELECT v.external_id FROM variants v WHERE v.id = t.variant_id) AS variant`;
const THREAD = (column: string) =>
  `(SELECT coalesce(json_agg(json_build_object('byOwner', s.by_owner, 'words', s.words, 'at', s.at) ORDER BY s.id), '[]') FROM thread_messages s WHERE s.${column} = t.id) AS said`;

const KEPT: Readonly<Record<Exclude<keyof PersonData, 'sameAddress'>, string>> = {
  customers:
    'SELECT external_id AS id, email, name, phone FROM customers WHERE id = ANY($1) AND merged_into IS NULL ORDER BY id',
  roles: `SELECT c.external_id AS customer, h.role, h.held_from, h.held_until
    FROM customer_roles h JOIN customers c ON c.id = h.customer_id WHERE c.id = ANY($1) ORDER BY c.id`,
  waitlists: `SELECT ${GOODS}, ${VARIANT}, name, email, locale, note, state, joined_at, changed_at FROM waitlist_entries t WHERE ${OF_PERSON}`,
  preorders: `SELECT ${VARIANT}, name, email, locale, units, unit_price, order_number, state, created_at FROM preorders t WHERE ${OF_PERSON}`,
  quotes: `SELECT name, email, locale, answers, state,
    (SELECT sum(k.delivery)::bigint FROM quote_parts k WHERE k.quote_id = t.id) AS delivery, valid_until, order_number, created_at, ${THREAD('quote_id')},
    (SELECT coalesce(json_agg(json_build_object('variant', v.external_id, 'units', l.units, 'unitPrice', l.unit_price, 'note', l.note)), '[]')
     FROM quote_lines l JOIN variants v ON v.id = l.variant_id WHERE l.quote_id = t.id) AS lines
    FROM quotes t WHERE ${OF_PERSON}`,
  enquiries: `SELECT ${GOODS}, ${VARIANT}, name, email, locale, answers, state, created_at, ${THREAD('enquiry_id')} FROM enquiries t WHERE ${OF_PERSON}`,
  messages: `SELECT event, recipient, subject, text_body, state, created_at, sent_at FROM messages t
    WHERE ${OF_ADDRESS} ORDER BY id`,
};

/** Returns everything that is kept of one person. */
export async function dataOf(db: Queryable, whose: PersonKey): Promise<PersonData> {
  const person = await findPerson(db, whose);
  const list = async (sql: string) => (await onPerson<Record<string, unknown>>(db, sql, person)).rows;
  return {
    customers: await list(KEPT.customers),
    sameAddress: person.others.map(({ id }) => id),
    roles: await list(KEPT.roles),
    waitlists: await list(KEPT.waitlists),
    preorders: await list(KEPT.preorders),
    quotes: await list(KEPT.quotes),
    enquiries: await list(KEPT.enquiries),
    messages: await list(KEPT.messages),
  };
}

/** Statements that keep quotes and pre-orders for the books, without the person. @param which a condition on `t` */
export const anonymizeQuotes = (which: string): readonly string[] => {
  const quotes = `(SELECT t.id FROM quotes t WHERE ${which})`;
  return [
    `DELETE FROM thread_messages WHERE quote_id IN ${quotes}`,
    `UPDATE quote_lines SET note = NULL WHERE quote_id IN ${quotes}`,
    `UPDATE quote_parts SET words = '' WHERE quote_id IN ${quotes}`,
    `UPDATE quotes t SET customer_id = NULL, email = '${ERASED_EMAIL}', name = NULL, answers = '[]'
     WHERE ${which} AND email <> '${ERASED_EMAIL}'`,
  ];
};
export const anonymizePreorders = (which: string): string =>
  `UPDATE preorders t SET customer_id = NULL, email = '${ERASED_EMAIL}', name = NULL, note = NULL
   WHERE ${which} AND email IS DISTINCT FROM '${ERASED_EMAIL}'`;

const WITHOUT_PERSON = (part: string, of: string) => `coalesce((
  SELECT jsonb_agg(one ORDER BY place) FROM jsonb_array_elements(i.preview -> '${part}') WITH ORDINALITY AS e (one, place)
  WHERE NOT EXISTS (SELECT FROM import_rows r WHERE r.import_id = i.id AND ${of} AND ${OF_ROW})), '[]')`;

/** In an order that foreign keys allow. Orders stay, without the person. */
const ERASE = [
  `DELETE FROM waitlist_entries t WHERE ${OF_PERSON}`,
  `DELETE FROM enquiries t WHERE ${OF_PERSON}`,
  ...anonymizeQuotes(OF_PERSON),
  anonymizePreorders(OF_PERSON),
  `DELETE FROM messages t WHERE ${OF_ADDRESS}`,
  // Undoing an import would bring back the values from before it, and starting one those of its file.
  `DELETE FROM import_changes WHERE kind = 'customer' AND key = ANY($4)`,
  `DELETE FROM import_refusals WHERE key = ANY($4) AND import_id IN (${IMPORTS_OF_PEOPLE})`,
  // A preview in progress holds rows in memory, so it ends.
  `, ended AS (
     UPDATE imports SET state = 'interrupted', ended_at = now() WHERE target = 'people' AND state = 'previewing' RETURNING id)
   DELETE FROM import_rows WHERE import_id IN (SELECT id FROM ended)`,
  `UPDATE imports i SET preview = i.preview || jsonb_build_object(
     'examples', ${WITHOUT_PERSON('examples', "r.key = one ->> 'key'")},
     'refused', ${WITHOUT_PERSON('refused', "r.line = (one ->> 'line')::int")})
   WHERE target = 'people' AND preview IS NOT NULL`,
  `UPDATE import_rows r SET cells = '{}' WHERE ${OF_ROW} AND import_id IN (${IMPORTS_OF_PEOPLE})`,
  'DELETE FROM customer_roles WHERE customer_id = ANY($1)',
  `UPDATE customers SET email = NULL, name = NULL, phone = NULL, archived_at = coalesce(archived_at, now()),
     written = nextval('write_order') WHERE id = ANY($1)`,
] as const;

/** Erases one person, and records that it was done, but not whom it concerned. */
export async function erase(db: Database, whose: PersonKey, { by, at }: { by: string; at: Date }): Promise<Erasure> {
  return db.transaction(async (client) => {
    await lockImports(client);
    const person = await findPerson(client, whose);
    for (const sql of ERASE) await onPerson(client, sql, person);
    await record(client, at, by, 'erased a person');
    return { customers: [...person.ids], sameAddress: person.others.map(({ id }) => id) };
  });
}
