import { connect, type Socket } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { cloneDatabase } from '../support/databases.ts';
import { startLine, type Line } from '../support/line.ts';
import { forProduct } from '../support/noted.ts';
import { OWNER_KEY as KEY, SETUP_TOKEN, startUnderstudy } from '../support/programs.ts';
import { shopToken } from '../support/shopToken.ts';
import { POOLS } from '../../server/db/database.ts';
import { importCsv, OWNER, SETUP_TOKEN as TOKEN, SHOP, startServer, type TestServer } from '../support/testServer.ts';

/** Nothing stops: whatever hangs, is frozen or comes at once, calls are answered, and all goes on afterwards. */

const rulebook = (rules: unknown[]) => ({ format: 'understudy-rulebook', version: 1, rules });
const RESERVE = forProduct('fern', { control: { kind: 'preorder', label: 'Reserve' } });
const CATALOG =
  'variant_id,product_id,path,title,price\nf-1,fern,/plants/fern,Shield fern,3\nt-1,tea,/plants/tea,Tea,4';
const setUp = async (server: TestServer) => {
  const setup = { token: TOKEN, shop: SHOP, owner: OWNER };
  expect((await server.send('POST', '/api/setup', { body: setup, asNobody: true })).status).toBe(201);
  expect((await importCsv(server, 'catalog', CATALOG)).status).toBe(200);
  await importCsv(server, 'people', 'customer_id,email,name\nc-1,ada@quillfern.example,Ada');
  expect((await server.publish(rulebook([RESERVE]))).status).toBe(201);
};
const decisions = (server: TestServer) =>
  server.send('POST', '/v1/decisions', {
    body: { surface: 'product', products: [{ id: 'fern' }, { id: 'tea' }] },
    asNobody: true,
  });
const many = (count: number, name: string) =>
  [
    'variant_id,product_id,title,price',
    ...Array.from({ length: count }, (_, index) => `${name}-${index},${name}-${index},Many,${index % 90}.00`),
  ].join('\n');
const job = async (server: TestServer, address: string) =>
  (await server.send('GET', address)).body as { state: string; rowsDone: number };

describe('a pool of one connection', () => {
  const one = { max: 1, waitMs: 20_000, statementMs: 20_000, lockMs: 20_000 };
  let server: TestServer;
  beforeAll(async () => {
    server = await startServer(undefined, {
      pools: { owner: one, shopper: one, order: one },
      jobConnections: 1,
    });
    await setUp(server);
  });
  afterAll(() => server.stop());

  it('is enough for everything: nothing that holds a transaction asks for a second', async () => {
    const long = await importCsv(server, 'catalog', many(6000, 'many'));
    expect(long.status).toBe(202);
    const token = await server.token('c-1');
    const shop = await shopToken(server);
    const order = (number: number) =>
      server.send('POST', '/v1/preorders', {
        body: { order: `one-${number}`, lines: [{ variantId: 'f-1', quantity: 1 }], visitor: token },
        headers: { Authorization: `Bearer ${shop}` },
      });
    const answers = await Promise.all([
      ...Array.from({ length: 12 }, (_, number) => order(number)),
      ...Array.from({ length: 12 }, () => decisions(server)),
      importCsv(server, 'catalog', many(50, 'few')),
      importCsv(server, 'people', 'customer_id,email,name\nc-2,bram@quillfern.example,Bram'),
      server.send('PATCH', '/api/products/fern', { body: { tags: ['rare'] } }),
      server.send('PUT', '/api/stock', { body: [{ variantId: 'f-1', quantity: 3, tracked: true }] }),
      server.send('PUT', '/api/people/c-1/roles', { body: { grant: [{ role: 'member' }] } }),
      server.publish(rulebook([RESERVE])),
      server.send('POST', '/api/preorders/allocation', { body: { variant: 'f-1', units: 2 } }),
      server.send('GET', '/api/attention'),
    ]);
    expect(answers.map(({ status }) => status).filter((status) => status >= 400)).toEqual([]);
    const address = long.headers.get('Location') ?? '';
    await expect.poll(async () => (await job(server, address)).state).toBe('done');
  });
});

describe('shoppers', () => {
  let server: TestServer;
  beforeAll(async () => {
    server = await startServer();
    await setUp(server);
  });
  afterAll(() => server.stop());

  it('are answered while others hold every lock and every connection there is for orders and for the owner', async () => {
    const shop = await shopToken(server);
    const { pool } = server.db;
    const holders = await Promise.all(Array.from({ length: pool.options.max }, () => pool.connect()));
    await holders[0]?.query('BEGIN');
    await holders[0]?.query('SELECT FROM products FOR UPDATE');
    const orders = Array.from({ length: 20 }, (_, number) =>
      server.send('POST', '/v1/preorders', {
        body: { order: `held-${number}`, lines: [{ variantId: 'f-1', quantity: 1 }], email: 'w@quillfern.example' },
        headers: { Authorization: `Bearer ${shop}` },
      }),
    );
    let isOrdered = false;
    void Promise.race(orders).then(() => (isOrdered = true));
    for (let times = 0; times < 10; times += 1) expect((await decisions(server)).status).toBe(200);
    // Other calls went on while the orders still waited for the locks.
    expect(isOrdered).toBe(false);
    expect((await server.send('GET', '/ready', { asNobody: true })).status).toBe(200);
    await holders[0]?.query('ROLLBACK');
    for (const holder of holders) holder.release();
    expect((await Promise.all(orders)).map(({ status }) => status)).toEqual(Array<number>(20).fill(200));
  });

  it('who wait too long for a lock are told to try again, not left waiting', async () => {
    const shop = await shopToken(server);
    const holder = await server.db.pool.connect();
    await holder.query('BEGIN');
    await holder.query("SELECT FROM products WHERE external_id = 'fern' FOR UPDATE");
    const quick = await startServer(server.databaseUrl, {
      pools: { ...POOLS, order: { max: 2, waitMs: 300, statementMs: 5000, lockMs: 300 } },
    });
    try {
      const answers = await Promise.all(
        Array.from({ length: 6 }, (_, number) =>
          quick.send('POST', '/v1/preorders', {
            body: { order: `late-${number}`, lines: [{ variantId: 'f-1', quantity: 1 }], email: 'w@quillfern.example' },
            headers: { Authorization: `Bearer ${shop}` },
          }),
        ),
      );
      for (const { status, headers } of answers) expect([status, headers.get('Retry-After')]).toEqual([503, '1']);
    } finally {
      await holder.query('ROLLBACK');
      holder.release();
      await quick.stop();
    }
  });
});

describe('a database that is frozen', () => {
  let line: Line;
  let server: TestServer;
  beforeAll(async () => {
    line = await startLine(await cloneDatabase());
    server = await startServer(line.url);
    await setUp(server);
  });
  afterAll(async () => {
    await server.stop();
    await line.stop();
  });

  it('has every call answered while it is frozen, and all goes on afterwards', async () => {
    const ask = () =>
      Promise.all([
        decisions(server),
        server.send('GET', '/v1/decisions?surface=product&id=fern', { asNobody: true }),
        server.send('GET', '/api/rulebook'),
        server.send('PUT', '/api/stock', { body: [{ variantId: 'f-1', quantity: 3 }] }),
        server.send('GET', '/ready', { asNobody: true }),
      ]);
    line.freeze();
    for (const answers of [await ask(), await ask()])
      expect(answers.map(({ status }) => status)).toEqual(answers.map(() => 503));
    line.thaw();
    await expect.poll(async () => (await decisions(server)).status).toBe(200);
    expect((await server.send('PUT', '/api/stock', { body: [{ variantId: 'f-1', quantity: 9 }] })).status).toBe(200);
    expect((await server.publish(rulebook([RESERVE]))).status).toBe(201);
  });

  it('whose connections are all cut is found again', async () => {
    line.cut();
    await expect.poll(async () => (await decisions(server)).status).toBe(200);
    await expect.poll(async () => (await server.publish(rulebook([RESERVE]))).status).toBe(201);
  });
});

describe('a server that is stopped', () => {
  it('ends cleanly, whatever connections stay open', async () => {
    const program = await startUnderstudy(await cloneDatabase());
    const { hostname, port } = new URL(program.url);
    const open = async (first: string): Promise<Socket> => {
      const socket = connect(Number(port), hostname);
      socket.on('error', () => undefined);
      await new Promise((resolve) => socket.once('connect', resolve));
      if (first !== '') socket.write(first);
      return socket;
    };
    const sockets = await Promise.all([
      open(''),
      open('GET /health HTTP/1.1\r\nHost: x\r\n\r\n'),
      open(
        'POST /v1/decisions HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 500\r\n\r\n{"surf',
      ),
      open(
        'POST /api/catalog/import HTTP/1.1\r\nHost: x\r\nAuthorization: Bearer ' +
          KEY +
          '\r\nContent-Type: text/csv\r\nContent-Length: 90000\r\n\r\nvariant_id',
      ),
    ]);
    expect(await program.stop()).toBe(0);
    for (const socket of sockets) socket.destroy();
  });

  it('ends cleanly though a browser keeps its connection', async () => {
    const program = await startUnderstudy(await cloneDatabase(), { UNDERSTUDY_SETUP_TOKEN: SETUP_TOKEN });
    await (await fetch(`${program.url}/health`)).text();
    // Reaching its own time limit would have ended it with 1.
    expect(await program.stop()).toBe(0);
  });
});

describe('a clock that jumps', () => {
  it('does not keep an opening from being made that has passed', async () => {
    const server = await startServer(undefined, { lookEveryMs: { openings: 50 } });
    try {
      await setUp(server);
      const at = new Date(server.now + 8 * 3_600_000).toISOString();
      expect((await server.send('POST', '/api/openings', { body: { at } })).status).toBe(201);
      const edition = async () => ((await decisions(server)).body as { edition: number }).edition;
      expect(await edition()).toBe(1);
      server.now += 9 * 3_600_000;
      await expect.poll(edition).toBe(2);
    } finally {
      await server.stop();
    }
  });
});
