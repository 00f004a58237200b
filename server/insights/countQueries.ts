import type { CountedEvent } from '#core/insights/countedEvents.ts';
import { toLocal, type Zone } from '#core/model/zone.ts';
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

/** Fields common to a batch. */
export interface CountedBatch {
  /** A batch that has one counts once, however often it comes. */
  readonly id: string | null;
  readonly at: Date;
  /** The shop’s, whose hours and days are counted. */
  readonly zone: Zone;
  readonly audience: string;
  readonly rows: readonly CountedRow[];
}

const COUNTED = ['seen', 'pressed', 'finished', 'refused'] as const satisfies readonly CountedEvent[];
const COLUMNS = COUNTED.join(', ');
const GIVEN = COUNTED.map((event) => `${event} bigint`).join(', ');
const SUMMED_AS = COUNTED.map((event) => `sum(${event}) AS ${event}`).join(', ');
const SUMMED = COUNTED.map((event) => `sum(${event})`).join(', ');
const ADDED = COUNTED.map((event) => `${event} = c.${event} + excluded.${event}`).join(', ');
const IS_FRESH = '($1::uuid IS NULL OR EXISTS (SELECT FROM fresh))';

// In one order in each table, so that two batches wait for each other, not both at once.
const COUNT = `
  WITH fresh AS (
    INSERT INTO counted_batches (id, at) SELECT $1::uuid, $2 WHERE $1 IS NOT NULL ON CONFLICT DO NOTHING RETURNING id),
  given AS (
    SELECT * FROM json_to_recordset($3) AS r (hour timestamptz, day date, until timestamptz, rule text, control text, surface text, ${GIVEN})
    WHERE ${IS_FRESH}),
  by_hour AS (
    INSERT INTO rule_counts AS c (hour, rule, control, edition, audience, surface, ${COLUMNS}, changed_at)
    SELECT hour, rule, control, coalesce((SELECT number FROM editions WHERE published_at <= until ORDER BY number DESC LIMIT 1), 0),
      $4, surface, ${COLUMNS}, $2 FROM given ORDER BY hour, rule, control, surface
    ON CONFLICT (hour, rule, control, edition, audience, surface) DO UPDATE SET changed_at = excluded.changed_at, ${ADDED}),
  by_day AS (
    INSERT INTO rule_days AS c (day, rule, control, audience, surface, ${COLUMNS})
    SELECT day, rule, control, $4, surface, ${SUMMED}
    FROM given GROUP BY day, rule, control, surface ORDER BY day, rule, control, surface
    ON CONFLICT (day, rule, control, audience, surface) DO UPDATE SET ${ADDED}),
  given_products AS (
    SELECT rule, control, p.id AS product_id, CASE WHEN v.product_id = p.id THEN v.id ELSE 0 END AS variant_id, day, ${SUMMED_AS}
    FROM json_to_recordset($5) AS r (day date, rule text, control text, product text, variant text, ${GIVEN})
      JOIN products p ON p.external_id = r.product LEFT JOIN variants v ON v.external_id = r.variant
    WHERE ${IS_FRESH} GROUP BY rule, control, p.id, 4, day),
  by_product AS (
    INSERT INTO product_days AS c (rule, control, product_id, variant_id, day, ${COLUMNS})
    SELECT * FROM given_products ORDER BY rule, control, product_id, variant_id, day
    ON CONFLICT (rule, control, product_id, variant_id, day) DO UPDATE SET ${ADDED})
  SELECT (SELECT count(*) FROM given_products) - (
    SELECT count(*) FROM given_products JOIN product_days USING (rule, control, product_id, variant_id, day)) AS added`;

const HOUR_MS = 3_600_000;

/** Rows that are alike in what is named, as one each with how often each event is in them. */
function together(rows: readonly { readonly event: CountedEvent; readonly [name: string]: unknown }[]): object[] {
  const byKey = new Map<string, Record<CountedEvent, number>>();
  for (const { event, ...row } of rows) {
    const key = JSON.stringify(row);
    const found = byKey.get(key) ?? { ...row, seen: 0, pressed: 0, finished: 0, refused: 0 };
    found[event] += 1;
    byKey.set(key, found);
  }
  return [...byKey.values()];
}

/** Counts a batch, in one statement. @returns the number of new rows among the daily counts of products */
export async function count(db: Queryable, { id, at, zone, audience, rows }: CountedBatch): Promise<number> {
  const dated = rows.map(({ ago, rule, ...row }) => {
    const instant = at.getTime() - ago * 1000;
    const local = toLocal(zone, instant);
    // Of the two hours that the clocks show when they are put back, each is its own.
    const hour = instant - (local % HOUR_MS);
    const day = new Date(local).toISOString().slice(0, 10);
    return {
      ...row,
      rule: rule ?? '',
      hour: new Date(hour),
      day,
      until: new Date(Math.min(hour + HOUR_MS, at.getTime())),
    };
  });
  const hours = together(
    dated.map(({ event, hour, day, until, rule, control, surface }) => ({
      event,
      hour,
      day,
      until,
      rule,
      control,
      surface,
    })),
  );
  const products = together(
    dated.map(({ event, day, rule, control, product, variant }) => ({ event, day, rule, control, product, variant })),
  );
  const values = [id, at, JSON.stringify(hours), audience, JSON.stringify(products)];
  const counted = await db.query<{ added: number }>({ name: 'count', text: COUNT, values });
  return counted.rows[0]!.added;
}

export async function makeCountMonths(db: Queryable, first: Date, last: Date): Promise<void> {
  await db.query('SELECT make_count_months($1, $2)', [first, last]);
}

const FORGET = [
  `DELETE FROM rule_counts USING shop WHERE hour >= $1::date::timestamp AT TIME ZONE zone
     AND hour < $2::date::timestamp AT TIME ZONE zone`,
  'DELETE FROM rule_days WHERE day >= $1 AND day < $2',
  'DELETE FROM product_days WHERE day >= $1 AND day < $2',
  'DELETE FROM searched_words WHERE day >= $1 AND day < $2',
];

/** Deletes all counts of a period, in days of the shop; `until` is not included. */
export async function forgetCounts(db: Queryable, { from, until }: { from: string; until: string }): Promise<void> {
  for (const sql of FORGET) await db.query(sql, [from, until]);
}
