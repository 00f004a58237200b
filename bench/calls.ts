import { spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { Agent, request } from 'node:http';
import type { AddressInfo } from 'node:net';
import express from 'express';
import pg from 'pg';
import { AskDecisions, AskGuard } from '#core/contract/storefront.ts';
import { demoRulebook } from '#tests/support/demo.ts';
import { cloneDatabase } from '#tests/support/databases.ts';
import { OWNER_KEY, SETUP_TOKEN, startUnderstudy } from '#tests/support/programs.ts';

/**
 * Measures shoppers' calls beside an Express route that validates the same and serialises the same answer without deciding:
 * requests a second of each in turn, medians, and what one costs the server and PostgreSQL. Needs TEST_PG_URL.
 */
const PRODUCTS = 300_000 / 3;
const SECONDS = 4;
const ROUNDS = 5;
const AT_ONCE = 8;
/** Of Linux's clock, in which it counts what a process used of the processor. */
const TICKS_A_SECOND = 100;

/** The route beside which ours is measured: a program of its own, told its answers by its parent. */
if (process.argv[2] === 'beside') {
  const app = express().use(express.json());
  process.on('message', (answers: Readonly<Record<string, object>>) => {
    for (const [path, schema] of [
      ['/v1/decisions', AskDecisions],
      ['/v1/guard', AskGuard],
    ] as const)
      app.post(path, (asked, response) => {
        schema.parse(asked.body);
        response.json(answers[path]);
      });
    const server = app.listen(0, '127.0.0.1', () => process.send?.((server.address() as AddressInfo).port));
  });
} else await main();

async function main(): Promise<void> {
  const databaseUrl = await cloneDatabase();
  const understudy = await startUnderstudy(databaseUrl, { LOG_LEVEL: 'warn' });
  const owner = async (method: string, path: string, body?: object) => {
    const headers = { Authorization: `Bearer ${OWNER_KEY}`, 'Content-Type': 'application/json', 'If-Match': '*' };
    const sent = body === undefined ? {} : { body: JSON.stringify(body) };
    const answer = await fetch(understudy.url + path, { method, headers, ...sent });
    if (!answer.ok) throw new Error(`${path} answered ${answer.status}: ${await answer.text()}`);
  };
  await owner('POST', '/api/setup', {
    token: SETUP_TOKEN,
    shop: { name: 'Quillfern Nursery', zone: 'Europe/Lisbon', locales: ['en', 'fr'], currency: 'EUR' },
    owner: { name: 'Olive Tarrant', email: 'olive@quillfern.example', password: 'tansy-and-thyme' },
  });
  const db = new pg.Client({ connectionString: databaseUrl });
  await db.connect();
  for (const sql of [
    `INSERT INTO products (external_id, title, path, path_key, tags)
     SELECT 'p-' || n, to_json('Plant ' || n), '/plants/' || n, '/plants/' || n,
       ARRAY[(ARRAY['ships-spring','plug','surplus','bare root','cut flower'])[1 + n % 5]]
     FROM generate_series(1, ${PRODUCTS}) AS n`,
    `INSERT INTO variants (external_id, product_id, price, stock_tracked, stock_quantity)
     SELECT 'v-' || p.id || '-' || n, p.id, 450 + n, true, n FROM products p, generate_series(1, 3) AS n`,
    'ANALYZE',
  ])
    await db.query(sql);
  await owner('PUT', '/api/rulebook', demoRulebook(new Date()));
  await owner('POST', '/api/editions', {});

  const { rows } = await db.query<{ id: string }>('SELECT external_id AS id FROM variants ORDER BY id LIMIT 60');
  const asks: Readonly<Record<string, object>> = {
    '/v1/decisions': {
      surface: 'listing',
      products: Array.from({ length: 20 }, (_, index) => ({ path: `/plants/${index + 1}` })),
    },
    '/v1/guard': { via: 'cart', lines: rows.slice(0, 20).map(({ id }) => ({ variantId: id, quantity: 1 })) },
  };
  const answers: Record<string, object> = {};
  for (const [path, body] of Object.entries(asks))
    answers[path] = JSON.parse(await post(understudy.url + path, JSON.stringify(body))) as object;
  const beside = spawn(process.execPath, [process.argv[1] ?? '', 'beside'], {
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  });
  beside.send(answers);
  const port = await new Promise((resolve) => beside.once('message', resolve));

  console.log('| call | requests/s | beside | ratio | processor | statements |\n| --- | --- | --- | --- | --- | --- |');
  for (const [path, ask] of Object.entries(asks)) {
    const body = JSON.stringify(ask);
    const rates: [number[], number[]] = [[], []];
    let [used, asked, statements] = [0, 0, 0];
    for (let round = 0; round <= ROUNDS; round += 1) {
      const before = [processorOf(understudy.pid), await statementsOf(db)] as const;
      const ours = await load(understudy.url + path, body);
      const theirs = await load(`http://127.0.0.1:${String(port)}${path}`, body);
      // The first round warms up.
      if (round === 0) continue;
      used += processorOf(understudy.pid) - before[0];
      statements += (await statementsOf(db)) - before[1];
      asked += ours;
      rates[0].push(ours / SECONDS);
      rates[1].push(theirs / SECONDS);
    }
    const [ours, theirs] = rates.map(median) as [number, number];
    const cost = `${((used / asked) * 1e6).toFixed(0)} µs`;
    console.log(
      `| ${path} | ${ours.toFixed(0)} | ${theirs.toFixed(0)} | ${(ours / theirs).toFixed(2)} | ${cost} | ${(statements / asked).toFixed(3)} |`,
    );
  }
  beside.kill();
  await db.end();
  await understudy.stop();
}

/** How many are answered within the time. */
async function load(url: string, body: string): Promise<number> {
  const agent = new Agent({ keepAlive: true, maxSockets: AT_ONCE });
  const until = performance.now() + SECONDS * 1000;
  let answered = 0;
  await Promise.all(
    Array.from({ length: AT_ONCE }, async () => {
      while (performance.now() < until) {
        await post(url, body, agent);
        answered += 1;
      }
    }),
  );
  agent.destroy();
  return answered;
}

function post(url: string, body: string, agent?: Agent): Promise<string> {
  return new Promise((resolve, reject) => {
    const headers = { 'Content-Type': 'application/json', 'Content-Length': Buffer.byteLength(body) };
    const asked = request(url, { method: 'POST', headers, ...(agent ? { agent } : {}) }, (response) => {
      const parts: Buffer[] = [];
      response.on('data', (part: Buffer) => parts.push(part));
      response.on('end', () => {
        const text = Buffer.concat(parts).toString();
        if (response.statusCode === 200) resolve(text);
        else reject(new Error(`${url} answered ${response.statusCode ?? 0}: ${text}`));
      });
    });
    asked.on('error', reject);
    asked.end(body);
  });
}

/** Seconds of the processor that a process has used (proc(5)). */
function processorOf(pid: number): number {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]?.split(' ') ?? [];
  return (Number(fields[11]) + Number(fields[12])) / TICKS_A_SECOND;
}

/** How many transactions, of one statement or more, the database has ended. */
async function statementsOf(db: pg.Client): Promise<number> {
  const { rows } = await db.query<{ ended: string }>(
    'SELECT xact_commit + xact_rollback AS ended FROM pg_stat_database WHERE datname = current_database()',
  );
  return Number(rows[0]?.ended ?? 0);
}

const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0;
