import type { Counts } from '#core/contract/countCalls.ts';
import type { CountedEvent } from '#core/insights/countedEvents.ts';
import type { LocalisedText } from '#core/model/localisedText.ts';
import type { Queryable } from '../db/database.ts';

/** Something that is counted once. */
export interface CountedRow {
  readonly event: CountedEvent;
  readonly product: string;
  readonly variant: string | null;
  readonly surface: string;
  readonly control: string;
  readonly rule: string | null;
  /** Seconds before `at`. */
  readonly ago: number;
}

/** What all of a batch shares. */
export interface CountedBatch {
  /** A batch that has one counts once, however often it comes. */
  readonly id: string | null;
  readonly at: Date;
  readonly audience: string;
  readonly rows: readonly CountedRow[];
}

// In one order in each table, so that two batches wait for each other and not both at once.
const COUNT = `
  WITH fresh AS (
    INSERT INTO counted_batches (id, at) SELECT $1::uuid, $2 WHERE $1 IS NOT NULL ON CONFLICT DO NOTHING RETURNING id),
  given AS (
    SELECT date_trunc('hour', e.at, 'UTC') AS hour, e.event, e.surface, e.control, coalesce(e.rule, '') AS rule,
      (SELECT coalesce(max(number), 0) FROM editions WHERE published_at <= e.at) AS edition,
      p.id AS product, coalesce(v.id, 0) AS variant, count(*) AS n
    FROM (SELECT *, $2::timestamptz - ago * interval '1 second' AS at FROM json_to_recordset($3) AS r (
        event text, surface text, control text, rule text, product text, variant text, ago integer)) e
      JOIN products p ON p.external_id = e.product
      LEFT JOIN variants v ON v.external_id = e.variant AND v.product_id = p.id
    WHERE $1 IS NULL OR EXISTS (SELECT FROM fresh)
    GROUP BY 1, 2, 3, 4, 5, 6, 7, 8),
  by_rule AS (
    INSERT INTO rule_counts AS c (hour, event, edition, rule, control, audience, surface, count)
    SELECT hour, event, edition, rule, control, $4, surface, sum(n) FROM given
    GROUP BY hour, event, edition, rule, control, surface ORDER BY hour, event, edition, rule, control, surface
    ON CONFLICT (hour, event, edition, rule, control, audience, surface) DO UPDATE SET count = c.count + excluded.count)
  INSERT INTO product_counts AS c (hour, event, rule, control, product_id, variant_id, count)
  SELECT hour, event, rule, control, product, variant, sum(n) FROM given
  GROUP BY hour, event, rule, control, product, variant ORDER BY hour, event, product, variant, rule, control
  ON CONFLICT (hour, event, product_id, variant_id, rule, control) DO UPDATE SET count = c.count + excluded.count`;

/** Counts a batch, in one statement; what names no product of ours is left out. */
export async function count(db: Queryable, { id, at, audience, rows }: CountedBatch): Promise<void> {
  const values = [id, at, JSON.stringify(rows), audience];
  await db.query({ name: 'count', text: COUNT, values });
}

export async function makeCountMonths(db: Queryable, first: Date, last: Date): Promise<void> {
  await db.query('SELECT make_count_months($1, $2)', [first, last]);
}

const SUMS = `
  coalesce(sum(count) FILTER (WHERE event = 'seen'), 0)::bigint AS seen,
  coalesce(sum(count) FILTER (WHERE event = 'pressed'), 0)::bigint AS pressed,
  coalesce(sum(count) FILTER (WHERE event = 'finished'), 0)::bigint AS finished,
  coalesce(sum(count) FILTER (WHERE event = 'refused'), 0)::bigint AS refused`;

/** A time, from its first instant until before its last. */
export interface Span {
  readonly from: Date;
  readonly until: Date;
}

/** Which rows of counts are asked for: of any rule or kind where nothing is said. */
export interface Which {
  readonly rule?: string | undefined;
  readonly control?: string | undefined;
}

const BY_RULE = `
  SELECT rule, control, ${SUMS} FROM rule_counts WHERE hour >= $1 AND hour < $2 GROUP BY rule, control`;

export async function countsByRule(
  db: Queryable,
  { from, until }: Span,
): Promise<(Counts & { rule: string; control: string })[]> {
  return (await db.query<Counts & { rule: string; control: string }>(BY_RULE, [from, until])).rows;
}

const WHICH = '($3::text IS NULL OR rule = $3) AND ($4::text IS NULL OR control = $4)';
const BY_DAY = `
  SELECT to_char(hour AT TIME ZONE $5, 'YYYY-MM-DD') AS day, ${SUMS} FROM rule_counts
  WHERE hour >= $1 AND hour < $2 AND ${WHICH} GROUP BY day ORDER BY day`;

/** By the days of a time zone; those without any are missing. */
export async function countsByDay(
  db: Queryable,
  { from, until }: Span,
  { rule, control }: Which,
  zone: string,
): Promise<(Counts & { day: string })[]> {
  const values = [from, until, rule ?? null, control ?? null, zone];
  return (await db.query<Counts & { day: string }>(BY_DAY, values)).rows;
}

const BY_PRODUCT = `
  WITH counted AS (
    SELECT product_id, ${SUMS} FROM product_counts WHERE hour >= $1 AND hour < $2 AND ${WHICH} GROUP BY product_id)
  SELECT p.external_id AS product, p.title, c.seen, c.pressed, c.finished, c.refused, count(*) OVER () AS total
  FROM counted c JOIN products p ON p.id = c.product_id
  ORDER BY c.finished DESC, c.pressed DESC, c.seen DESC, p.external_id LIMIT $5`;

export type ProductCounts = Counts & { product: string; title: LocalisedText };

/** Those that most was done with, and how many there are. */
export async function countsByProduct(
  db: Queryable,
  { from, until }: Span,
  { rule, control }: Which,
  limit: number,
): Promise<{ rows: ProductCounts[]; total: number }> {
  const values = [from, until, rule ?? null, control ?? null, limit];
  const { rows } = await db.query<ProductCounts & { total: number }>(BY_PRODUCT, values);
  return { rows: rows.map(({ total: _total, ...row }) => row), total: rows[0]?.total ?? 0 };
}

const EDITIONS = `
  SELECT number, published_at AS "publishedAt", note FROM editions
  WHERE published_at >= $1 AND published_at < $2 ORDER BY number`;

export async function editionsIn(
  db: Queryable,
  { from, until }: Span,
): Promise<{ number: number; publishedAt: Date; note: string | null }[]> {
  return (await db.query<{ number: number; publishedAt: Date; note: string | null }>(EDITIONS, [from, until])).rows;
}
