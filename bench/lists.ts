import pg from 'pg';
import { cloneDatabase } from '#tests/support/databases.ts';
import { OWNER_KEY, SETUP_TOKEN, startUnderstudy } from '#tests/support/programs.ts';

/**
 * Measures the owner's lists at the server, with 100,000 rows in each: the first page, a page far on, a filter, a search.
 * Needs TEST_PG_URL.
 */
const ROWS = 100_000;
const ROUNDS = 9;

const databaseUrl = await cloneDatabase();
const understudy = await startUnderstudy(databaseUrl);
const send = async (method: string, path: string, body?: string) => {
  const headers = { Authorization: `Bearer ${OWNER_KEY}`, 'Content-Type': 'application/json', 'If-Match': '*' };
  const answer = await fetch(understudy.url + path, { method, headers, ...(body === undefined ? {} : { body }) });
  if (!answer.ok) throw new Error(`${path} answered ${answer.status}: ${await answer.text()}`);
  return answer.text();
};
// A program that is left behind would keep this one from ending.
process.on('uncaughtException', (error) => {
  console.error(error);
  void understudy.stop('SIGKILL').finally(() => process.exit(1));
});
const setup = {
  token: SETUP_TOKEN,
  shop: { name: 'Quillfern Nursery', zone: 'Europe/Lisbon', locales: ['en'], currency: 'EUR' },
  owner: { name: 'Olive Tarrant', email: 'olive@quillfern.example', password: 'tansy-and-thyme' },
};
await send('POST', '/api/setup', JSON.stringify(setup));

const db = new pg.Client({ connectionString: databaseUrl });
await db.connect();
const many = `generate_series(1, ${ROWS}) AS n`;
const product = `(n % 1000) + (SELECT min(id) FROM products)`;
const variant = `(n % 1000) + (SELECT min(id) FROM variants)`;
for (const sql of [
  `INSERT INTO products (external_id, title, path) SELECT 'p-' || n, to_json('Plant ' || n), '/plants/' || n FROM generate_series(1, 1000) AS n`,
  `INSERT INTO variants (external_id, product_id, price) SELECT 'v-' || p.id, p.id, 450 FROM products p ORDER BY p.id`,
  `INSERT INTO customers (external_id, email, name) SELECT 'c-' || n, 'person-' || n || '@quillfern.example', 'Person ' || n FROM ${many}`,
  `INSERT INTO waitlist_entries (product_id, email, name, state, joined_at)
   SELECT ${product}, 'person-' || n || '@quillfern.example', 'Person ' || n, (ARRAY['waiting','left','bought'])[1 + n % 3], now() - n * interval '1 minute' FROM ${many}`,
  `INSERT INTO preorders (variant_id, email, name, units, state, created_at, order_number)
   SELECT ${variant}, 'person-' || n || '@quillfern.example', 'Person ' || n, 1 + n % 5, (ARRAY['reserved','fulfilled'])[1 + n % 2], now() - n * interval '1 minute', 'N-' || n FROM ${many}`,
  `INSERT INTO quotes (email, name, answers, state, created_at, changed_at)
   SELECT 'person-' || n || '@quillfern.example', 'Person ' || n, '[]', (ARRAY['asked','declined'])[1 + n % 2], now(), now() FROM ${many}`,
  `INSERT INTO quote_parts (quote_id) SELECT id FROM quotes`,
  `INSERT INTO quote_lines (quote_id, part_id, variant_id, units)
   SELECT k.quote_id, k.id, (k.quote_id % 1000) + (SELECT min(id) FROM variants), 10 FROM quote_parts k`,
  `INSERT INTO enquiries (form, product_id, email, name, answers, state, created_at, changed_at)
   SELECT 'contact', ${product}, 'person-' || n || '@quillfern.example', 'Person ' || n, '[{"label":"Your question","value":"When?"}]', (ARRAY['open','closed'])[1 + n % 2], now(), now() FROM ${many}`,
  `INSERT INTO messages (event, audience, channel, recipient, subject, text_body, html_body, state, created_at, sent_at)
   SELECT 'waitlist.joined', 'customer', 'email', 'person-' || n || '@quillfern.example', 'You are on the waitlist for Plant ' || n, 'Words', '<p>Words</p>', 'sent', now(), now() FROM ${many}`,
  'ANALYZE',
])
  await db.query(sql);

const median = (values: number[]) => values.sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0;
const timed = async (path: string) => {
  const times: number[] = [];
  for (let round = 0; round <= ROUNDS; round += 1) {
    const begun = performance.now();
    await send('GET', path);
    if (round > 0) times.push(performance.now() - begun);
  }
  return median(times);
};
const LISTS = [
  ['people', '/api/people?limit=60', '&after=c-5', '&search=person-77777'],
  ['waitlists', '/api/waitlists?', '', ''],
  ['a waitlist', '/api/waitlists/entries?product=p-7', '&state=waiting', '&search=person'],
  ['pre-orders by product', '/api/preorders/goods?', '', ''],
  ['pre-orders', '/api/preorders?variant=v-7&limit=60', '&state=reserved', '&search=person-77777'],
  ['quotes', '/api/quotes?limit=60', '&state=asked', '&search=person-77777'],
  ['enquiries', '/api/enquiries?limit=60', '&state=open', '&search=person-77777'],
  ['messages', '/api/messages?limit=60', '&state=sent', '&search=person-77777'],
  ['attention', '/api/attention?', '', ''],
] as const;
const ms = (value: number | null) => (value === null ? '' : `${value.toFixed(0)} ms`);
console.log('| list, 100,000 rows | first page | filtered, or further on | searched |\n| --- | --- | --- | --- |');
for (const [name, path, filter, search] of LISTS) {
  const more = async (query: string) => (query === '' ? null : timed(path + query));
  console.log(`| ${name} | ${ms(await timed(path))} | ${ms(await more(filter))} | ${ms(await more(search))} |`);
}
await db.end();
await understudy.stop();
