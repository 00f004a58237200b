import pg from 'pg';
import { cloneDatabase } from '#tests/support/databases.ts';
import { manyRows } from '#tests/support/manyRows.ts';
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
for (const sql of manyRows(ROWS)) await db.query(sql);

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
  ['waitlists', '/api/waitlists?limit=60', '&after=60', '&search=plant+7'],
  ['a waitlist', '/api/waitlists/entries?product=p-7', '&state=waiting', '&search=person'],
  ['pre-orders by product', '/api/preorders/goods?limit=60', '&after=60', '&search=plant+7'],
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
