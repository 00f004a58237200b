import {
  DEMANDS,
  type DEMAND_BY,
  type Answers,
  type Demand,
  type DemandKind,
  type DemandRow,
} from '#core/contract/demandCalls.ts';
import type { LocalisedText } from '#core/model/localisedText.ts';
import { partOf, type Queryable } from '../db/database.ts';
import type { Days } from './insightQueries.ts';

const AMOUNTS = DEMANDS.flatMap((what) => [`${what}_units`, `${what}_worth`]);
const WORTH = DEMANDS.map((what) => `${what}_worth`).join(' + ');

/**
 * Unmet demand of each product, in units and at today's price; the lowest price if no variant is named. Sums of doubles are as exact as JSON's numbers, and take half the time of those of integers.
 */
const LOWEST = (product: string) =>
  `coalesce((SELECT min(x.price) FROM variants x WHERE x.product_id = ${product} AND x.archived_at IS NULL), 0)`;
const WANTED = `
  WITH wanted AS (
    SELECT e.product_id, 'waiting' AS what, e.units, e.units * coalesce(v.price, ${LOWEST('e.product_id')}) AS worth
    FROM (SELECT product_id, variant_id, count(*) AS units FROM waitlist_entries
      WHERE state IN ('waiting', 'invited') GROUP BY 1, 2) e LEFT JOIN variants v ON v.id = e.variant_id
    UNION ALL
    SELECT v.product_id, 'reserved', o.units, o.units * v.price
    FROM (SELECT variant_id, sum(units) AS units FROM preorders WHERE state IN ('reserved', 'allocated') GROUP BY 1) o
      JOIN variants v ON v.id = o.variant_id
    UNION ALL
    SELECT v.product_id, 'asked', l.units, l.units * v.price
    FROM quotes q JOIN quote_lines l ON l.quote_id = q.id JOIN quote_parts k ON k.id = l.part_id
      JOIN variants v ON v.id = l.variant_id
    WHERE q.state IN ('asked', 'priced') AND k.state <> 'turnedDown'
    UNION ALL
    SELECT e.product_id, 'enquired', 1, coalesce(v.price, ${LOWEST('e.product_id')})
    FROM enquiries e LEFT JOIN variants v ON v.id = e.variant_id WHERE e.state = 'open' AND e.product_id IS NOT NULL
    UNION ALL
    SELECT r.product_id, 'refused', r.units, r.units * coalesce(v.price, ${LOWEST('r.product_id')})
    FROM (SELECT product_id, variant_id, sum(refused) AS units FROM product_days
      WHERE refused > 0 AND day >= $1 AND day < $2 GROUP BY 1, 2) r LEFT JOIN variants v ON v.id = nullif(r.variant_id, 0)),
  by_product AS MATERIALIZED (
    SELECT product_id, ${DEMANDS.map(
      (what) => `
      coalesce(sum(units::float8) FILTER (WHERE what = '${what}'), 0) AS ${what}_units,
      coalesce(sum(worth::float8) FILTER (WHERE what = '${what}'), 0) AS ${what}_worth`,
    ).join(',')}
    FROM wanted GROUP BY product_id)`;

const SUMS = AMOUNTS.map((amount) => `sum(${amount}) AS ${amount}`).join(', ');

/** Rows of each kind, with what they are called. */
const ROWS = {
  product: `SELECT p.external_id AS key, p.title, NULL AS within, ${AMOUNTS.join(', ')}
    FROM by_product JOIN products p ON p.id = product_id`,
  tag: `SELECT tag AS key, to_jsonb(tag) AS title, NULL AS within, ${SUMS}
    FROM by_product JOIN products p ON p.id = product_id, unnest(p.tags) AS tag GROUP BY tag`,
  category: `SELECT c.external_id AS key, to_jsonb(c.name) AS title, up.name AS within, ${SUMS}
    FROM (
      WITH RECURSIVE above AS (
        SELECT id AS category_id, id AS above_id, parent_id FROM categories
        UNION ALL SELECT category_id, c.id, c.parent_id FROM above a JOIN categories c ON c.id = a.parent_id)
      SELECT * FROM (SELECT DISTINCT product_id, above_id FROM by_product
          JOIN product_categories USING (product_id) JOIN above USING (category_id)) AS within
        JOIN by_product USING (product_id)) b
      JOIN categories c ON c.id = above_id LEFT JOIN categories up ON up.id = c.parent_id GROUP BY c.id, up.id`,
} as const;
const ALL_UNITS = DEMANDS.map(
  (what) => `'${what}', json_build_object('units', ${what}_units::bigint, 'worth', ${what}_worth::bigint)`,
).join(', ');

export type FoundDemand = Omit<DemandRow, 'title'> & { readonly title: LocalisedText };

/** Unmet demand, the largest first, with the number of rows, and totals that count each product once. */
export async function demand(
  db: Queryable,
  { from, until }: Days,
  how: {
    by: (typeof DEMAND_BY)[number];
    sort: DemandKind | 'worth';
    search: string | undefined;
    limit: number;
  },
): Promise<Omit<Demand, 'rows'> & { rows: FoundDemand[] }> {
  const place = how.sort === 'worth' ? WORTH : `${how.sort}_units`;
  const found = `${WANTED},
    fitting AS (SELECT *, ${WORTH} AS worth FROM (${ROWS[how.by]}) r
      WHERE ${place} > 0 AND ($3::text IS NULL OR title::text ILIKE $3 OR key ILIKE $3))
    SELECT (SELECT count(*) FROM fitting) AS total,
      (SELECT json_build_object(${ALL_UNITS}, 'worth', (${WORTH})::bigint)
       FROM (SELECT ${AMOUNTS.map((amount) => `coalesce(sum(${amount}), 0) AS ${amount}`).join(', ')} FROM by_product) a) AS "all",
      (SELECT coalesce(json_agg(json_build_object('key', key, 'title', title, 'within', within, ${ALL_UNITS}, 'worth', worth::bigint)), '[]')
       FROM (SELECT * FROM fitting ORDER BY ${place} DESC, worth DESC, key LIMIT $4) f) AS rows`;
  const values = [from, until, partOf(how.search), how.limit];
  return (await db.query<Omit<Demand, 'rows'> & { rows: FoundDemand[] }>(found, values)).rows[0]!;
}

const WITHIN = (column: string) =>
  `${column} >= $1::timestamp AT TIME ZONE $3 AND ${column} < $2::timestamp AT TIME ZONE $3`;
const HOURS = (from: string, until: string) =>
  `percentile_cont(0.5) WITHIN GROUP (ORDER BY extract(epoch FROM ${until} - ${from}) / 3600)`;
const ANSWERS = `
  SELECT
    (SELECT json_build_object('sent', count(*), 'bought', count(*) FILTER (WHERE e.state = 'bought'),
      'lapsed', count(*) FILTER (WHERE e.state = 'lapsed'), 'open', count(*) FILTER (WHERE e.state = 'invited'))
     FROM (SELECT DISTINCT entry_id FROM invitations WHERE ${WITHIN('invited_at')}) i
       JOIN waitlist_entries e ON e.id = i.entry_id) AS invitations,
    (SELECT json_build_object('asked', count(*), 'answered', count(*) FILTER (WHERE state <> 'asked'),
      'medianHours', ${HOURS('created_at', 'answered_at')}, 'accepted', count(*) FILTER (WHERE state = 'accepted'),
      'declined', count(*) FILTER (WHERE state = 'declined'), 'lapsed', count(*) FILTER (WHERE state = 'lapsed'),
      'turnedDown', count(*) FILTER (WHERE state = 'turnedDown'))
     FROM quotes WHERE ${WITHIN('created_at')}) AS quotes,
    (SELECT json_build_object('asked', count(*), 'answered', count(a.at), 'medianHours', ${HOURS('e.created_at', 'a.at')})
     FROM enquiries e LEFT JOIN LATERAL (
       SELECT min(at) AS at FROM thread_messages t WHERE t.enquiry_id = e.id AND t.by_owner) a ON true
     WHERE ${WITHIN('e.created_at')}) AS enquiries`;

/** Results of requests that began in a period. */
export async function answersIn(db: Queryable, { from, until }: Days, zone: string): Promise<Answers> {
  return (await db.query<Answers>(ANSWERS, [from, until, zone])).rows[0]!;
}

const SEARCHED = `
  WITH fresh AS (INSERT INTO counted_batches (id, at) VALUES ($1, $2) ON CONFLICT DO NOTHING RETURNING id)
  INSERT INTO searched_words AS s (day, words, times, found_none)
  SELECT ($2::timestamptz AT TIME ZONE $3)::date, $4, 1, $5 FROM fresh
  ON CONFLICT (day, words) DO UPDATE SET times = s.times + 1, found_none = s.found_none + excluded.found_none`;

/** Counts what was searched for, once a batch. */
export async function countSearch(
  db: Queryable,
  { id, at, zone, words, found }: { id: string; at: Date; zone: string; words: string; found: number },
): Promise<void> {
  await db.query(SEARCHED, [id, at, zone, words, found === 0 ? 1 : 0]);
}

const MOST_SEARCHED = `
  SELECT words, sum(times)::bigint AS times, sum(found_none)::bigint AS "foundNone" FROM searched_words
  WHERE day >= $1 AND day < $2 GROUP BY words HAVING sum(times) > 1 ORDER BY sum(times) DESC, words LIMIT $3`;

export async function mostSearched(
  db: Queryable,
  { from, until }: Days,
  limit: number,
): Promise<{ words: string; times: number; foundNone: number }[]> {
  const values = [from, until, limit];
  return (await db.query<{ words: string; times: number; foundNone: number }>(MOST_SEARCHED, values)).rows;
}

// Of each language the words that say something; numbers and addresses are none.
const MOST_ASKED = `
  SELECT word.lexeme AS word, count(DISTINCT e.id) AS enquiries
  FROM enquiries e, json_to_recordset(e.answers) AS a (value text),
    unnest(to_tsvector(coalesce((SELECT oid FROM pg_ts_config WHERE cfgname = 'words_' || left(coalesce(e.locale, $5), 2)),
      'words'::regconfig)::regconfig, a.value)) AS word
  WHERE ${WITHIN('e.created_at')} AND length(word.lexeme) > 2
  GROUP BY 1 HAVING count(DISTINCT e.id) > 1 ORDER BY 2 DESC, 1 LIMIT $4`;

/** @param locale the shop's own, for those who are of none */
export async function mostAsked(
  db: Queryable,
  { from, until }: Days,
  how: { zone: string; limit: number; locale: string },
): Promise<{ word: string; enquiries: number }[]> {
  const values = [from, until, how.zone, how.limit, how.locale];
  return (await db.query<{ word: string; enquiries: number }>(MOST_ASKED, values)).rows;
}
