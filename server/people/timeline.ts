import type { TimelineEntry } from '#core/contract/peopleCalls.ts';
import type { LocalisedText } from '#core/model/localisedText.ts';
import { titleOf, VARIANT_TITLE } from '../catalog/titles.ts';
import type { Queryable } from '../db/database.ts';
import { readPage, type Page } from '../db/page.ts';
import { notFound } from '../http/errors.ts';
import { findPerson, OF_PERSON, WITH_PERSON } from './personData.ts';

/** Columns of an entry about a product, or a variant of it. */
const OF_GOODS = `p.title::jsonb AS title, ${VARIANT_TITLE} AS "variantTitle", NULL AS words, p.external_id AS product,
    v.external_id AS variant`;
const OF_WORDS = (words: string) =>
  `NULL::jsonb AS title, NULL AS "variantTitle", ${words} AS words, NULL AS product, NULL AS variant`;
const TIMELINE = `${WITH_PERSON}, entries AS (
  SELECT 'waitlist' AS kind, t.id::text AS key, t.changed_at AS at, t.state, ${OF_GOODS}, NULL::bigint AS units, NULL AS "order"
    FROM waitlist_entries t JOIN products p ON p.id = t.product_id LEFT JOIN variants v ON v.id = t.variant_id
    WHERE ${OF_PERSON}
  UNION ALL SELECT 'preorder', t.id::text, t.changed_at, t.state, ${OF_GOODS}, t.units, t.order_number
    FROM preorders t JOIN variants v ON v.id = t.variant_id JOIN products p ON p.id = v.product_id WHERE ${OF_PERSON}
  UNION ALL SELECT 'quote', t.id::text, t.changed_at, t.state, ${OF_WORDS('NULL')},
    (SELECT sum(l.units)::bigint FROM quote_lines l WHERE l.quote_id = t.id), t.order_number
    FROM quotes t WHERE ${OF_PERSON}
  UNION ALL SELECT 'enquiry', t.id::text, t.changed_at, t.state, ${OF_GOODS}, NULL, NULL
    FROM enquiries t LEFT JOIN products p ON p.id = t.product_id LEFT JOIN variants v ON v.id = t.variant_id
    WHERE ${OF_PERSON}
  UNION ALL SELECT 'message', t.id::text, t.created_at, t.state, ${OF_WORDS('t.subject')}, NULL, NULL
    FROM messages t WHERE lower(t.recipient) = ANY($2)
  UNION ALL SELECT 'role', t.role, t.held_from,
    CASE WHEN t.held_from > $5 THEN 'coming' WHEN t.held_until <= $5 THEN 'over' ELSE 'held' END, ${OF_WORDS('t.role')},
    NULL, NULL
    FROM customer_roles t WHERE t.customer_id = ANY($1) AND t.held_from IS NOT NULL)
  SELECT *, (SELECT count(*) FROM entries) AS total FROM entries ORDER BY at DESC, kind, key OFFSET $6 LIMIT $7`;

interface EntryRow extends Omit<TimelineEntry, 'at' | 'title'> {
  at: Date;
  title: LocalisedText | null;
  variantTitle: string | null;
  words: string | null;
}

/**
 * Reads a page of all that a customer did, was sent and was given, the newest first.
 * @throws {ProblemError} 404 for an unknown customer
 */
export async function timelineOf(
  db: Queryable,
  customer: string,
  { after, limit, at, locales }: { after: number; limit: number; at: Date; locales: readonly string[] },
): Promise<Page<TimelineEntry>> {
  const { keys, emails, others, ids } = await findPerson(db, { customer });
  if (keys.length === 0) throw notFound(`customer ${customer}`);
  const values = [keys, emails, others.map(({ key }) => key), ids, at, after];
  const { rows, ...page } = await readPage<EntryRow>(db, TIMELINE, values, limit);
  const entries = rows.map(({ title, variantTitle, words, ...row }) => ({
    ...row,
    at: row.at.toISOString(),
    title: title ? titleOf({ title, variantTitle }, null, locales) : words,
  }));
  return { ...page, rows: entries };
}
