import pg from 'pg';
import { cloneDatabase } from '#tests/support/databases.ts';
import { startUnderstudy } from '#tests/support/programs.ts';
import { asOwner } from './asking.ts';
import { fillIn, PRODUCTS } from './bigShop.ts';

/**
 * Measures looking back at ten million counted events of 300,000 variants, over ninety days: each screen at the server,
 * and a batch of fifty events as a page tells it. Needs TEST_PG_URL.
 */
const EVENTS = 10_000_000;
const DAYS = 90;
const ROUNDS = 9;
/** The part of the events that is about a rule that is only ever seen: a line of text where the button was. */
const RULES = 200;

const databaseUrl = await cloneDatabase();
const understudy = await startUnderstudy(databaseUrl);
process.on('uncaughtException', (error) => {
  console.error(error);
  void understudy.stop('SIGKILL').finally(() => process.exit(1));
});
const db = new pg.Client({ connectionString: databaseUrl });
await db.connect();
await fillIn(understudy.url, db);

// Some are looked at far more than others; of twelve that are seen one is pressed, and of eight of those something comes.
// Rules are as unequal; every fifth is one that nothing comes of.
const DRAWN = `
  CREATE UNLOGGED TABLE drawn AS
  SELECT *, floor(${RULES} * power(((nth + 1) * 48271 * 16807 % 2147483647) / 2147483647.0, 2))::int AS rule, nth * 16807 % 10 < 3 AS is_own
  FROM (SELECT least(${PRODUCTS} - 1, floor(${PRODUCTS} * power(random(), 2.5)))::bigint AS nth,
    floor(random() * ${DAYS})::int AS ago, floor(random() * 24)::int AS hour, floor(random() * 4)::int AS who, random() AS what
    FROM generate_series(1, ${EVENTS})) AS e`;
const CONTROL =
  "CASE WHEN is_own THEN 'buy' WHEN rule % 5 = 0 THEN 'notice' WHEN rule % 5 < 3 THEN 'preorder' ELSE 'waitlist' END";
const RULE = "CASE WHEN is_own THEN '' ELSE 'rule-' || rule END";
const IS_PRESSED = 'what > 0.92 AND (is_own OR rule % 5 > 0)';
const EVENT_COUNTS = `
  count(*) FILTER (WHERE NOT (${IS_PRESSED})) AS seen, count(*) FILTER (WHERE ${IS_PRESSED} AND what <= 0.99) AS pressed,
  count(*) FILTER (WHERE ${IS_PRESSED} AND what > 0.99 AND what <= 0.9995) AS finished,
  count(*) FILTER (WHERE ${IS_PRESSED} AND what > 0.9995) AS refused`;
const DAY = '(current_date - ago)';
for (const sql of [
  DRAWN,
  `SELECT make_count_months(now() - interval '${DAYS} days', now())`,
  `INSERT INTO rule_counts SELECT ${DAY} + hour * interval '1 hour', ${RULE}, ${CONTROL}, 1, 'Audience ' || who, 'product', ${EVENT_COUNTS}, now()
   FROM drawn GROUP BY 1, 2, 3, 5`,
  `INSERT INTO rule_days SELECT ${DAY}, ${RULE}, ${CONTROL}, 'Audience ' || who, 'product', ${EVENT_COUNTS} FROM drawn GROUP BY 1, 2, 3, 4`,
  `INSERT INTO product_days SELECT ${RULE}, ${CONTROL}, p.id, 0, ${DAY}, ${EVENT_COUNTS}
   FROM drawn JOIN (SELECT id, row_number() OVER (ORDER BY id * 7919 % 100003) - 1 AS nth FROM products) p USING (nth)
   GROUP BY p.id, ${RULE}, ${CONTROL}, ${DAY}`,
  'DROP TABLE drawn',
  `INSERT INTO categories (external_id, name) SELECT 'c-' || n, 'Category ' || n FROM generate_series(0, 1499) AS n`,
  `UPDATE categories c SET parent_id = up.id FROM categories up
   WHERE c.external_id <> 'c-0' AND up.external_id = 'c-' || (substring(c.external_id FROM 3)::int - 1) / 4`,
  `INSERT INTO product_categories (product_id, category_id)
   SELECT p.id, c.id FROM products p JOIN categories c ON c.external_id = 'c-' || p.id % 1500`,
  `INSERT INTO waitlist_entries (product_id, email, state, joined_at)
   SELECT id, 'one-' || id || '@quillfern.example', 'waiting', now() - random() * interval '90 days' FROM products WHERE id % 50 = 0`,
  `INSERT INTO preorders (variant_id, email, units, state, created_at)
   SELECT id, 'one-' || id || '@quillfern.example', 2, 'reserved', now() - random() * interval '90 days' FROM variants WHERE id % 100 = 0`,
  'ALTER TABLE editions DISABLE TRIGGER editions_are_unchangeable',
  "UPDATE editions SET published_at = now() - interval '30 days'",
  'VACUUM ANALYZE',
])
  await db.query(sql);
const rowsOf = async (table: string) =>
  Number((await db.query<{ n: string }>(`SELECT count(*) AS n FROM ${table}`)).rows[0]?.n).toLocaleString('en-GB');
console.log(
  `${EVENTS.toLocaleString('en-GB')} events: ${await rowsOf('rule_counts')} rows by hour, ${await rowsOf('rule_days')} by day, ${await rowsOf('product_days')} by product and day.`,
);

const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0;
const ms = (value: number) => `${value.toFixed(value < 10 ? 1 : 0)} ms`;
const day = (back: number) => new Date(Date.now() - back * 86_400_000).toISOString().slice(0, 10);
const PERIOD = `from=${day(DAYS - 1)}&until=${day(-1)}`;
const ASKED = {
  'each rule, beside the days before': `funnel?${PERIOD}`,
  'the same, of one audience': `funnel?${PERIOD}&audience=Audience%201`,
  'day by day': `series?${PERIOD}`,
  'products behind the shop’s own button': `products?${PERIOD}&rule=&control=buy`,
  'products behind a rule of a pre-order': `products?${PERIOD}&rule=rule-1&control=preorder`,
  'products behind a rule that shows a line of text': `products?${PERIOD}&rule=rule-0&control=notice`,
  'demand by product': `demand?${PERIOD}`,
  'demand by tag': `demand?${PERIOD}&by=tag`,
  'demand by category': `demand?${PERIOD}&by=category`,
  'how it was answered': `answers?${PERIOD}`,
  words: `words?${PERIOD}`,
  'what an edition did, fourteen days': 'editions/1',
};
console.log('| asked, over ninety days | first | then, median |\n| --- | --- | --- |');
for (const [name, path] of Object.entries(ASKED)) {
  const times: number[] = [];
  for (let round = 0; round <= ROUNDS; round += 1) {
    const begun = performance.now();
    await asOwner(understudy.url, 'GET', `/api/insights/${path}`);
    times.push(performance.now() - begun);
  }
  console.log(`| ${name} | ${ms(times[0] ?? 0)} | ${ms(median(times.slice(1)))} |`);
}

const { rows: shown } = await db.query<{ path: string; variant: string }>(
  `SELECT p.path, min(v.external_id) AS variant FROM products p JOIN variants v ON v.product_id = p.id
   WHERE p.path IS NOT NULL GROUP BY p.id ORDER BY p.id * 7919 % 100003 LIMIT 20000`,
);
const headers = { 'Content-Type': 'application/json', 'User-Agent': 'Mozilla/5.0' };
const ROUNDS_TOLD = 300;
console.log('| told in one batch | from sent to answered, median |\n| --- | --- |');
for (const size of [1, 12, 50]) {
  const told: number[] = [];
  for (let round = 0; round < ROUNDS_TOLD; round += 1) {
    // No address tells more than so many a minute.
    if (round % 100 === 0) await db.query('TRUNCATE rate_limits');
    const events = Array.from({ length: size }, (_event, nth) => {
      const { path, variant } = shown[(round * 50 + nth) % shown.length]!;
      const event = nth % 10 === 0 ? 'pressed' : 'seen';
      const shared = { surface: 'listing', control: 'buy', rule: null, ago: nth };
      return { ...shared, event, path, variant: nth % 3 === 0 ? variant : null };
    });
    const body = JSON.stringify({ id: crypto.randomUUID(), events });
    const begun = performance.now();
    const answer = await fetch(`${understudy.url}/v1/events`, { method: 'POST', headers, body });
    if (answer.status !== 204) throw new Error(`told ${answer.status}`);
    told.push(performance.now() - begun);
  }
  console.log(`| ${size} | ${ms(median(told.slice(100)))} |`);
}
await db.end();
await understudy.stop();
