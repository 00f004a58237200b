import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { Agent } from 'node:http';
import type { AddressInfo } from 'node:net';
import express from 'express';
import pg from 'pg';
import { AskDecisions, AskGuard } from '#core/contract/storefront.ts';
import { cloneDatabase } from '#tests/support/databases.ts';
import { startUnderstudy } from '#tests/support/programs.ts';
import { post, processorOf, sent, signed, spread, timed, type Ask } from './asking.ts';
import { fillIn } from './bigShop.ts';

/**
 * Measures shoppers' calls beside an Express route that validates the same and serialises the same answer without deciding:
 * requests a second of each in turn, medians, and what one costs the server and PostgreSQL; then how long answers take at
 * half of what can be served, and while many order the same goods. Needs TEST_PG_URL.
 */
const SECONDS = 3;
const ROUNDS = 5;
const AT_ONCE = 8;
const ORDERS = 300;

const SCHEMAS = { '/v1/decisions': AskDecisions, '/v1/guard': AskGuard } as const;

/** The routes beside which ours are measured, in a program of their own, which is told by its parent what to answer. */
function besideRoutes(): void {
  const app = express();
  process.on('message', (answers: Readonly<Record<string, object>>) => {
    for (const [path, schema] of Object.entries(SCHEMAS))
      app.post(path, express.json({ limit: '1mb' }), (asked, response) => {
        schema.parse(asked.body);
        response.json(answers[path]);
      });
    const server = app.listen(0, '127.0.0.1', () => process.send?.((server.address() as AddressInfo).port));
  });
  process.on('disconnect', () => process.exit());
}

async function bench(): Promise<void> {
  const databaseUrl = await cloneDatabase();
  const understudy = await startUnderstudy(databaseUrl);
  const db = new pg.Client({ connectionString: databaseUrl });
  await db.connect();
  await fillIn(understudy.url, db);
  const decisions = (more: object = {}) => ({
    surface: 'listing',
    products: Array.from({ length: 20 }, (_, index) => ({ path: `/plants/${index + 1}` })),
    ...more,
  });
  const { rows } = await db.query<{ id: string }>('SELECT external_id AS id FROM variants ORDER BY id LIMIT 20');
  const guard = { via: 'cart', lines: rows.map(({ id }) => ({ variantId: id, quantity: 1 })) };

  const besideUs = spawn(process.execPath, [process.argv[1] ?? '', 'beside'], {
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  });
  besideUs.send({
    '/v1/decisions': JSON.parse(await sent(understudy.url, post('/v1/decisions', decisions()))) as object,
    '/v1/guard': JSON.parse(await sent(understudy.url, post('/v1/guard', guard))) as object,
  });
  const [port] = (await once(besideUs, 'message')) as [number];
  const [us, them] = [
    { url: understudy.url, pid: understudy.pid },
    { url: `http://127.0.0.1:${port}`, pid: besideUs.pid ?? 0 },
  ];

  const token = await signed(understudy.url, (claims) => claims.setSubject('c-3'));
  let page = 0;
  const query = new URLSearchParams([
    ['surface', 'listing'],
    ...Array.from({ length: 20 }, (_, index) => ['path', `/plants/${index + 1}`]),
  ]);
  const get = `/v1/decisions?${String(query)}`;
  const { headers } = await fetch(understudy.url + get);
  const ours: Readonly<Record<string, () => Ask>> = {
    'decisions, 20 products, nothing changed': () => post('/v1/decisions', decisions()),
    'the same, compressed': () => post('/v1/decisions', decisions(), { 'Accept-Encoding': 'gzip' }),
    'the same, a visitor who is signed in': () => post('/v1/decisions', decisions({ visitor: token })),
    'the same, made anew': () => post('/v1/decisions', decisions({ page: `/page/${(page += 1)}` })),
    'GET, whose ETag still stands': () => ({
      path: get,
      method: 'GET',
      body: '',
      headers: { 'If-None-Match': headers.get('ETag') ?? '' },
    }),
    'guard, 20 lines': () => post('/v1/guard', guard),
  };
  console.log('| call | a second | beside | ratio | µs of processor | beside | of PostgreSQL, statements |');
  console.log('| --- | --- | --- | --- | --- | --- | --- |');
  let most = 0;
  for (const [name, ask] of Object.entries(ours)) {
    const path = name.startsWith('guard') ? '/v1/guard' : '/v1/decisions';
    const plain = post(path, path === '/v1/guard' ? guard : decisions());
    const [mine, theirs] = [new Tally(us.pid), new Tally(them.pid)];
    const before = await statementsOf(db);
    for (let round = 0; round <= ROUNDS; round += 1) {
      // The first round warms up.
      await mine.count(() => load(us.url, ask), round > 0);
      await theirs.count(() => load(them.url, () => plain), round > 0);
    }
    const statements = ((await statementsOf(db)) - before) / mine.all;
    most ||= mine.rate;
    const cells = [mine.rate.toFixed(0), theirs.rate.toFixed(0), (mine.rate / theirs.rate).toFixed(2)];
    console.log(
      `| ${[name, ...cells, mine.cost.toFixed(0), theirs.cost.toFixed(0), statements.toFixed(3)].join(' | ')} |`,
    );
  }
  const steady = await paced(us.url, () => post('/v1/decisions', decisions()), most / 2);
  console.log(`\nAt ${(most / 2).toFixed(0)} a second: ${spread(steady)}`);
  await besideOrders(us.url, () => post('/v1/decisions', decisions()));

  besideUs.disconnect();
  await db.end();
  await understudy.stop();
}

/** Effect of orders for one product on readers of others. */
async function besideOrders(url: string, ask: () => Ask): Promise<void> {
  const shop = await signed(url, (token) => token.setAudience('understudy-shop'));
  const order = (number: number): Ask =>
    post(
      '/v1/preorders',
      { order: `N-${number}`, lines: [{ variantId: 'v-1-1', quantity: 1 }], email: 'wren@quillfern.example' },
      { Authorization: `Bearer ${shop}` },
    );
  const from = performance.now();
  const isDone = { yes: false };
  const ordering = Promise.all(Array.from({ length: ORDERS }, (_, number) => sent(url, order(number)))).then(() => {
    isDone.yes = true;
    return performance.now() - from;
  });
  const times: number[] = [];
  while (!isDone.yes) times.push(await timed(() => sent(url, ask())));
  console.log(`While ${ORDERS} order one product in ${(await ordering).toFixed(0)} ms: ${spread(times)}`);
}

/** Counts what is done, how long it took, and what it cost a process. */
class Tally {
  all = 0;
  private counted = 0;
  private used = 0;
  private readonly rates: number[] = [];

  constructor(private readonly pid: number) {}

  async count(work: () => Promise<number>, isCounted: boolean): Promise<void> {
    const before = processorOf(this.pid);
    const done = await work();
    this.all += done;
    if (!isCounted) return;
    this.counted += done;
    this.used += processorOf(this.pid) - before;
    this.rates.push(done / SECONDS);
  }

  /** A second, the median. */
  get rate(): number {
    return this.rates.toSorted((a, b) => a - b)[Math.floor(this.rates.length / 2)] ?? 0;
  }

  /** µs of the processor for one. */
  get cost(): number {
    return (this.used / this.counted) * 1e6;
  }
}

/** Number of answers within the time. */
async function load(url: string, ask: () => Ask): Promise<number> {
  const agent = new Agent({ keepAlive: true, maxSockets: AT_ONCE });
  const until = performance.now() + SECONDS * 1000;
  let answered = 0;
  const asking = async () => {
    while (performance.now() < until) {
      await sent(url, ask(), agent);
      answered += 1;
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, asking));
  agent.destroy();
  return answered;
}

/** Latencies at a constant request rate, in ms. */
async function paced(url: string, ask: () => Ask, rate: number): Promise<number[]> {
  const agent = new Agent({ keepAlive: true });
  const times: Promise<number>[] = [];
  const from = performance.now();
  while (performance.now() - from < SECONDS * 1000) {
    while (times.length < ((performance.now() - from) / 1000) * rate) times.push(timed(() => sent(url, ask(), agent)));
    await new Promise((resolve) => setImmediate(resolve));
  }
  const found = await Promise.all(times);
  agent.destroy();
  return found;
}

/** Number of transactions that the database has ended. */
async function statementsOf(db: pg.Client): Promise<number> {
  const { rows } = await db.query<{ ended: string }>(
    'SELECT xact_commit + xact_rollback AS ended FROM pg_stat_database WHERE datname = current_database()',
  );
  return Number(rows[0]?.ended ?? 0);
}

if (process.argv[2] === 'beside') besideRoutes();
else await bench();
