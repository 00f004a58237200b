import type { Counts } from '#core/contract/insightCalls.ts';
import { COUNTED_EVENTS, type CountedEvent } from '#core/insights/countedEvents.ts';
import type { LocalisedText } from '#core/model/localisedText.ts';
import type { Queryable } from '../db/database.ts';

const SUMS = COUNTED_EVENTS.map((event) => `coalesce(sum(${event}), 0)::bigint AS ${event}`).join(', ');

/** Nothing was counted. */
export const NONE: Counts = { seen: 0, pressed: 0, finished: 0, refused: 0 };

const eachOf = (counts: (event: CountedEvent) => number): Counts => ({
  seen: counts('seen'),
  pressed: counts('pressed'),
  finished: counts('finished'),
  refused: counts('refused'),
});
export const more = (one: Counts, other: Counts): Counts => eachOf((event) => one[event] + other[event]);
export const less = (one: Counts, other: Counts): Counts => eachOf((event) => one[event] - other[event]);

/** Days of the shop, from the first until the day after the last (`YYYY-MM-DD`). */
export interface Days {
  readonly from: string;
  readonly until: string;
}

/** Filter of counts; missing fields match any rule or kind. */
export interface Which {
  readonly rule?: string | undefined;
  readonly control?: string | undefined;
  readonly audience?: string | undefined;
}

const OF_AUDIENCE = (at: string) => `(${at}::text IS NULL OR audience = ${at})`;
const BY_RULE = `
  SELECT rule, control, ${SUMS} FROM rule_days
  WHERE day >= $1 AND day < $2 AND ${OF_AUDIENCE('$3')} GROUP BY rule, control`;

export async function countsByRule(
  db: Queryable,
  { from, until }: Days,
  audience: string | undefined,
): Promise<(Counts & { rule: string; control: string })[]> {
  const values = [from, until, audience ?? null];
  return (await db.query<Counts & { rule: string; control: string }>(BY_RULE, values)).rows;
}

/** The audiences that anything was counted of, by their names. */
export async function audiencesCounted(db: Queryable, { from, until }: Days): Promise<string[]> {
  const distinct = 'SELECT DISTINCT audience FROM rule_days WHERE day >= $1 AND day < $2 ORDER BY audience';
  return (await db.query<{ audience: string }>(distinct, [from, until])).rows.map(({ audience }) => audience);
}

const WHICH = '($3::text IS NULL OR rule = $3) AND ($4::text IS NULL OR control = $4)';
const BY_DAY = `
  SELECT day::text AS day, ${SUMS} FROM rule_days
  WHERE day >= $1 AND day < $2 AND ${WHICH} AND ${OF_AUDIENCE('$5')} GROUP BY day ORDER BY day`;

/** By day; those without any are missing. */
export async function countsByDay(
  db: Queryable,
  { from, until }: Days,
  { rule, control, audience }: Which,
): Promise<(Counts & { day: string })[]> {
  const values = [from, until, rule ?? null, control ?? null, audience ?? null];
  return (await db.query<Counts & { day: string }>(BY_DAY, values)).rows;
}

export type ProductCounts = Counts & { product: string; title: LocalisedText };

/**
 * Rows with results first, then those pressed, then those seen; each by count. They are
 * found in that order, as few are pressed of all that are seen.
 */
const MOST = (event: 'finished' | 'pressed' | 'seen') => `
  SELECT product_id AS id FROM product_days
  WHERE day >= $1 AND day < $2 AND ${WHICH} AND ${event} > 0 AND product_id <> ALL($5::bigint[])
  GROUP BY product_id ORDER BY sum(${event}) DESC, product_id LIMIT $6`;
const OF_PRODUCTS = `
  SELECT p.external_id AS product, p.title, ${SUMS}
  FROM unnest($5::bigint[]) WITH ORDINALITY AS asked (id, place) JOIN products p USING (id)
    JOIN product_days c ON c.product_id = p.id
  WHERE day >= $1 AND day < $2 AND ${WHICH} GROUP BY p.id, asked.place ORDER BY asked.place`;

/** Finds the products with the most events, up to a limit, and whether there are more. */
export async function countsByProduct(
  db: Queryable,
  { from, until }: Days,
  { rule, control }: Which,
  limit: number,
): Promise<{ rows: ProductCounts[]; more: boolean }> {
  const asked = [from, until, rule ?? null, control ?? null];
  const ids: number[] = [];
  for (const event of ['finished', 'pressed', 'seen'] as const) {
    const left = limit + 1 - ids.length;
    if (left === 0) break;
    ids.push(...(await db.query<{ id: number }>(MOST(event), [...asked, ids, left])).rows.map(({ id }) => id));
  }
  const { rows } = await db.query<ProductCounts>(OF_PRODUCTS, [...asked, ids.slice(0, limit)]);
  return { rows, more: ids.length > limit };
}

/** An edition, and when it was published. */
export interface PublishedEdition {
  readonly number: number;
  readonly publishedAt: Date;
  readonly note: string | null;
}

const EDITIONS = `
  SELECT number, published_at AS "publishedAt", note FROM editions
  WHERE published_at >= $1::timestamp AT TIME ZONE $3 AND published_at < $2::timestamp AT TIME ZONE $3 ORDER BY number`;

export async function editionsIn(db: Queryable, { from, until }: Days, zone: string): Promise<PublishedEdition[]> {
  return (await db.query<PublishedEdition>(EDITIONS, [from, until, zone])).rows;
}

const NUMBERED = 'SELECT number, published_at AS "publishedAt", note FROM editions WHERE number = $1';

export async function editionNumbered(db: Queryable, number: number): Promise<PublishedEdition | null> {
  return (await db.query<PublishedEdition>(NUMBERED, [number])).rows[0] ?? null;
}

const OF_THESE = `
  SELECT day::text AS day, ${SUMS} FROM product_days
  WHERE day >= $1 AND day < $2 AND product_id IN (SELECT id FROM products WHERE external_id = ANY($3))
  GROUP BY day`;

/** By day, of these products together; days without any are missing. */
export async function countsOfProducts(
  db: Queryable,
  { from, until }: Days,
  products: readonly string[],
): Promise<(Counts & { day: string })[]> {
  return (await db.query<Counts & { day: string }>(OF_THESE, [from, until, products])).rows;
}

const HOURS = `
  SELECT hour, json_agg(json_build_object('rule', nullif(rule, ''), 'control', control, 'edition', edition, 'audience', audience,
    'surface', surface, ${COUNTED_EVENTS.map((event) => `'${event}', ${event}`).join(', ')})
    ORDER BY rule, control, edition, audience, surface) AS rows
  FROM rule_counts WHERE hour IN (
    SELECT hour FROM rule_counts WHERE changed_at >= $1 AND hour >= $1::timestamptz - interval '2 days' AND hour < date_trunc('hour', $2::timestamptz))
  GROUP BY hour ORDER BY hour`;

/** The whole hours in which something was counted since an instant, each with all that was counted in it. */
export async function hoursChanged(
  db: Queryable,
  since: Date,
  now: Date,
): Promise<{ hour: Date; rows: readonly object[] }[]> {
  return (await db.query<{ hour: Date; rows: readonly object[] }>(HOURS, [since, now])).rows;
}
