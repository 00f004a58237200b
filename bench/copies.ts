import { controlOf, reservationOf } from '#core/controls/controls.ts';
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createServer, Agent, request } from 'node:http';
import type { AddressInfo } from 'node:net';
import { setTimeout } from 'node:timers/promises';
import pg from 'pg';
import type { DecisionsAnswer } from '#core/contract/storefront.ts';
import type { SharedDecision } from '#core/engine/decision.ts';
import { cloneDatabase } from '#tests/support/databases.ts';
import { memoryOf } from '#tests/support/memory.ts';
import { startUnderstudy, type Program } from '#tests/support/programs.ts';
import { asOwner, post, processorOf, sent, setUp, signed, spread, timed, type Ask } from './asking.ts';
import { makeJob } from './job.ts';

/**
 * Measures 1, 2 and 4 copies of the server on one PostgreSQL, behind a plain proxy that takes them in turn: 300,000
 * variants, 2,000 rules and 10,000 customers who are signed in, while stock changes, editions are published and orders
 * come in. No answer may be wrong, or older than a second. Needs TEST_PG_URL.
 */
const COPIES = [1, 2, 4];
const PRODUCTS = 100_000;
const RULES = 1997;
const CUSTOMERS = 10_000;
const SECONDS = 20;
const AT_ONCE = 16;
const CAP = 100_000;
/** So old an answer may be. */
const HELD_MS = 1000;

/** Takes its copies in turn, in a program of its own, and does nothing else. */
function proxy(): void {
  process.on('message', (urls: readonly string[]) => {
    const agent = new Agent({ keepAlive: true, maxSockets: 64 });
    let turn = 0;
    const server = createServer((asked, answer) => {
      const url = urls[(turn += 1) % urls.length] ?? '';
      const on = request(url + (asked.url ?? ''), { method: asked.method, headers: asked.headers, agent }, (found) => {
        answer.writeHead(found.statusCode ?? 502, found.headers);
        found.pipe(answer);
      });
      on.on('error', (error) => answer.writeHead(502).end(String(error)));
      asked.pipe(on);
    }).listen(0, '127.0.0.1', () => process.send?.((server.address() as AddressInfo).port));
  });
  process.on('disconnect', () => process.exit());
}

/** History of a value, against which answers are checked. */
class History {
  private readonly all: { value: number; sentAt: number; knownAt: number }[] = [];
  looked = 0;
  wrong = 0;
  /** Maximum age of an outdated value, in ms. */
  oldest = 0;

  async change(value: number, write: () => Promise<unknown>): Promise<void> {
    const one = { value, sentAt: performance.now(), knownAt: Infinity };
    this.all.push(one);
    await write();
    one.knownAt = performance.now();
  }

  /** Something numbers so, having been asked and answered then. */
  check(value: number, askedAt: number, answeredAt: number): void {
    // Values before the first are unknown.
    if (askedAt < (this.all[0]?.knownAt ?? Infinity) + HELD_MS) return;
    this.looked += 1;
    const place = this.all.findLastIndex((one) => one.value === value && one.sentAt <= answeredAt);
    const age = place < 0 ? Infinity : askedAt - (this.all[place + 1]?.knownAt ?? Infinity);
    this.oldest = Math.max(this.oldest, age);
    if (age > HELD_MS) this.wrong += 1;
  }
}

/** Units ordered under the cap, and the last numbered value. */
const orders = { units: 0 };
let number = 0;

const job = makeJob({ rules: RULES, products: 10 });
const rulebook = (label: number) => ({
  ...job.rulebook,
  rules: [
    {
      id: 'stock',
      on: true,
      when: { fact: 'product.id', op: 'in', value: ['p-1'] },
      then: { control: { kind: 'notice', text: 'stock {stock.quantity}' } },
    },
    {
      id: 'reserved',
      on: true,
      when: { fact: 'product.id', op: 'in', value: ['p-2'] },
      then: { control: { kind: 'preorder', cap: { units: CAP, per: 'product' } } },
    },
    {
      id: 'edition',
      on: true,
      when: { fact: 'product.id', op: 'in', value: ['p-3'] },
      then: { control: { kind: 'notice', text: `edition ${label}` } },
    },
    ...job.rulebook.rules,
  ],
});

async function fillIn(url: string, db: pg.Client): Promise<void> {
  await setUp(url);
  for (const sql of [
    `INSERT INTO products (external_id, title, path, path_key, file_tags, brand, kind)
     SELECT 'p-' || n, to_json('Plant ' || n), '/plants/' || n, '/plants/' || n,
       ARRAY(SELECT DISTINCT 'tag ' || floor(2000 * random() ^ 3) FROM generate_series(0, n % 6)),
       'Brand ' || floor(120 * random() ^ 3), (ARRAY['plant','seed','bulb','tool','pot','book','tree','gift'])[1 + n % 8]
     FROM generate_series(1, ${PRODUCTS}) AS n`,
    `INSERT INTO variants (external_id, product_id, price, stock_tracked, stock_quantity)
     SELECT 'v-' || p.id || '-' || n, p.id, 200 + (p.id * 37) % 9800, true, (p.id * n) % 60 FROM products p, generate_series(1, 3) AS n`,
    `INSERT INTO customers (external_id) SELECT 'c-' || n FROM generate_series(1, ${CUSTOMERS}) AS n`,
    `INSERT INTO customer_roles (customer_id, role)
     SELECT id, (ARRAY['member','trade','staff','friend'])[1 + id % 4] FROM customers WHERE id % 3 = 0`,
    'ANALYZE',
  ])
    await db.query(sql);
  await asOwner(url, 'PUT', '/api/rulebook', rulebook(0));
  await asOwner(url, 'POST', '/api/editions', {});
}

/** Controls of the first variant of each requested product. */
function controlsOf({ decisions, products }: DecisionsAnswer): (SharedDecision['control'] | undefined)[] {
  return products.map(({ variants }) => decisions[variants[0]?.decision ?? -1]?.control);
}

/** The number in what a notice says, or of what is left of a cap. */
function numberIn(control: SharedDecision['control'] | undefined): number {
  if (!control) return NaN;
  if (controlOf(control).isText) return Number(/\d+/.exec(control.html ?? '')?.[0]);
  return reservationOf(control)?.left ?? NaN;
}

async function measure(count: number, databaseUrl: string, tokens: readonly string[]): Promise<void> {
  const copies: Program[] = [];
  for (let number = 0; number < count; number += 1)
    copies.push(await startUnderstudy(databaseUrl, { LOG_LEVEL: 'info' }));
  const front = spawn(process.execPath, [process.argv[1] ?? '', 'proxy'], {
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  });
  front.send(copies.map(({ url }) => url));
  const [port] = (await once(front, 'message')) as [number];
  const url = `http://127.0.0.1:${port}`;
  const shop = await signed(url, (token) => token.setAudience('understudy-shop'));

  const isOver = new AbortController();
  const over = () => isOver.signal.aborted;
  const pause = (ms: number) => setTimeout(ms, undefined, { signal: isOver.signal }).catch(() => undefined);
  const [stock, left, edition] = [new History(), new History(), new History()];
  const stockFeed = async () => {
    while (!over()) {
      const quantity = (number += 1);
      await stock.change(quantity, () => asOwner(url, 'PUT', '/api/stock', [{ variantId: 'v-1-1', quantity }]));
      await pause(300);
    }
  };
  const publishing = async () => {
    while (!over()) {
      const label = (number += 1);
      await asOwner(url, 'PUT', '/api/rulebook', rulebook(label));
      await edition.change(label, () => asOwner(url, 'POST', '/api/editions', {}));
      await pause(5000);
    }
  };
  const ordering = async () => {
    while (!over()) {
      orders.units += 1;
      const order = {
        order: `N-${count}-${(number += 1)}`,
        lines: [{ variantId: 'v-2-1', quantity: 1 }],
        email: 'wren@quillfern.example',
      };
      await left.change(CAP - orders.units, () =>
        sent(url, post('/v1/preorders', order, { Authorization: `Bearer ${shop}` })),
      );
      await pause(200);
    }
  };
  const looking = async () => {
    const body = { surface: 'product', products: ['p-1', 'p-2', 'p-3'].map((id) => ({ id })) };
    while (!over()) {
      // One after the other, so that what comes between them is not what is looked at.
      const askedAt = performance.now();
      const answer = JSON.parse(await sent(url, post('/v1/decisions', body))) as DecisionsAnswer;
      const answeredAt = performance.now();
      const numbers = controlsOf(answer).map(numberIn);
      [stock, left, edition].forEach((history, index) => {
        history.check(numbers[index] ?? NaN, askedAt, answeredAt);
      });
      await pause(20);
    }
  };

  const times: number[] = [];
  const agent = new Agent({ keepAlive: true, maxSockets: AT_ONCE });
  const below = (most: number) => 1 + Math.floor(Math.random() * most);
  const shopper = async () => {
    while (!over()) {
      const visitor = Math.random() < 0.5 ? tokens[below(tokens.length) - 1] : undefined;
      // Few goods are looked at by most.
      const from = Math.floor(2000 * Math.random() ** 3) + 1;
      const ask: Ask =
        Math.random() < 0.9
          ? post('/v1/decisions', {
              surface: 'listing',
              products: Array.from({ length: 20 }, (_, index) => ({ path: `/plants/${from * 20 + index}` })),
              visitor,
            })
          : post('/v1/guard', { via: 'cart', lines: [{ variantId: `v-${from}-1`, quantity: 1 }], visitor });
      times.push(await timed(() => sent(url, ask, agent)));
    }
  };
  const begun = performance.now();
  const before = copies.map(({ pid }) => processorOf(pid));
  const work = [stockFeed, publishing, ordering, looking].map((one) => one());
  const shoppers = Array.from({ length: AT_ONCE }, shopper);
  await setTimeout(SECONDS * 1000);
  isOver.abort();
  await Promise.all([...work, ...shoppers]);
  const seconds = (performance.now() - begun) / 1000;
  agent.destroy();
  const used = copies.reduce((sum, { pid }, index) => sum + processorOf(pid) - (before[index] ?? 0), 0);
  const memory = Math.max(...copies.map(({ pid }) => memoryOf(pid)));
  console.log(
    `${count} ${count === 1 ? 'copy' : 'copies'}: ${(times.length / seconds).toFixed(0)} answers a second; ${spread(times)}; ` +
      `${((used / times.length) * 1e6).toFixed(0)} µs of processor an answer, all included; a copy holds ${(memory / 1e6).toFixed(0)} MB`,
  );
  for (const [name, { looked, wrong, oldest }] of Object.entries({ stock, 'left of a cap': left, edition }))
    console.log(
      `  ${name}: ${looked} answers looked at, ${wrong} wrong or older than a second, the oldest ${oldest.toFixed(0)} ms`,
    );
  front.disconnect();
  for (const copy of copies) await copy.stop();
}

if (process.argv[2] === 'proxy') proxy();
else {
  const databaseUrl = await cloneDatabase();
  const db = new pg.Client({ connectionString: databaseUrl });
  await db.connect();
  const first = await startUnderstudy(databaseUrl);
  await fillIn(first.url, db);
  await db.end();
  const tokens = await Promise.all(
    Array.from({ length: 200 }, (_, index) => signed(first.url, (token) => token.setSubject(`c-${index * 50 + 1}`))),
  );
  await first.stop();
  for (const count of COPIES) await measure(count, databaseUrl, tokens);
}
