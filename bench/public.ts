import pg from 'pg';
import { CALLS } from '#core/contract/calls.ts';
import { cloneDatabase } from '#tests/support/databases.ts';
import { startUnderstudy } from '#tests/support/programs.ts';
import { post, processorOf } from './asking.ts';
import { fillIn } from './bigShop.ts';

/**
 * Measures what strangers can make the server compute: for every public call that takes a body, bodies as long as it takes,
 * refused and accepted. Prints the CPU time of each; above 5 ms it is marked. Needs TEST_PG_URL.
 */
/** Requests measured for each body, after as many to warm up: Linux counts CPU time in steps of 10 ms. */
const TIMES = 100;
/** Maximum length of a body. */
const BYTES = 100_000;
const PROMISE_MS = 5;

const databaseUrl = await cloneDatabase();
const understudy = await startUnderstudy(databaseUrl);
const db = new pg.Client({ connectionString: databaseUrl });
await db.connect();
await fillIn(understudy.url, db);
const { rows } = await db.query<{ id: string }>('SELECT external_id AS id FROM variants ORDER BY id LIMIT 500');
await db.end();

const many = (value: string, bytes: number) =>
  Array(Math.floor(bytes / (value.length + 1)))
    .fill(value)
    .join(',');
/** Bodies that no schema takes, each as long as a body may be. */
const hostile = (name: string): Readonly<Record<string, string>> => ({
  [`${name}: [0, 0, …]`]: `{"${name}":[${many('0', BYTES - 100)}]}`,
  [`${name}: [{}, {}, …]`]: `{"${name}":[${many('{}', BYTES - 100)}]}`,
  'keys that mean nothing': `{${Array.from({ length: 9_000 }, (_, index) => `"k${index}":0`).join(',')}}`,
  'arrays in arrays': `{"${name}":${'['.repeat(BYTES / 3)}${']'.repeat(BYTES / 3)}}`,
  'one long text': `{"${name}":"${'x'.repeat(BYTES - 100)}"}`,
});
const FIELDS: Readonly<Record<string, string>> = {
  '/v1/decisions': 'products',
  '/v1/guard': 'lines',
  '/v1/quotes': 'lines',
  '/v1/events': 'events',
  '/v1/misses': 'missing',
};
/** A page that is another in each request, so that no answer is held. */
const EACH = '/each-page';
const ACCEPTED: Readonly<Record<string, Readonly<Record<string, object>>>> = {
  '/v1/decisions': Object.fromEntries(
    [20, 100, 500].map((count) => [
      `${count} products, accepted`,
      {
        surface: 'listing',
        page: EACH,
        products: Array.from({ length: count }, (_, index) => ({ path: `/plants/${index + 1}` })),
      },
    ]),
  ),
  '/v1/guard': Object.fromEntries(
    [20, 100, 500].map((count) => [
      `${count} lines, accepted`,
      { via: 'cart', lines: rows.slice(0, count).map(({ id }) => ({ variantId: id, quantity: 1 })) },
    ]),
  ),
};

/** CPU time of one, in ms. */
async function costOf(path: string, body: string): Promise<{ ms: number; status: number }> {
  const ask = post(path, {});
  const headers = {
    ...(ask.headers as Record<string, string>),
    'Content-Type': 'application/json',
    'User-Agent': 'Mozilla/5.0',
  };
  const one = async (time: number) => {
    const sent = body.replace(EACH, `${EACH}-${time}`);
    const answer = await fetch(understudy.url + path, { method: 'POST', headers, body: sent });
    await answer.arrayBuffer();
    return answer.status;
  };
  for (let time = 0; time < TIMES; time += 1) await one(-time);
  let status = 0;
  const before = processorOf(understudy.pid);
  for (let time = 0; time < TIMES; time += 1) status = await one(time);
  return { ms: ((processorOf(understudy.pid) - before) / TIMES) * 1000, status };
}

console.log('| call | body | kB | status | ms of CPU | |\n| --- | --- | --- | --- | --- | --- |');
for (const call of CALLS) {
  if (call.auth !== 'public' || call.method !== 'post' || call.path === '/api/setup') continue;
  const bodies = {
    ...hostile(FIELDS[call.path] ?? 'email'),
    ...Object.fromEntries(
      Object.entries(ACCEPTED[call.path] ?? {}).map(([name, body]) => [name, JSON.stringify(body)] as const),
    ),
  };
  for (const [name, body] of Object.entries(bodies)) {
    const { ms, status } = await costOf(call.path, body);
    const cells = [
      call.path,
      name,
      (body.length / 1000).toFixed(0),
      status,
      ms.toFixed(1),
      ms > PROMISE_MS ? '**over**' : '',
    ];
    console.log(`| ${cells.join(' | ')} |`);
  }
}
await understudy.stop();
