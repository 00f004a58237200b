import pg from 'pg';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { cloneDatabase, databaseUrl } from '../support/databases.ts';
import { SETUP_TOKEN, startUnderstudy, type Program } from '../support/programs.ts';
import { OWNER, SHOP, startServer, startShop, type TestServer } from '../support/testServer.ts';

const rulebook = (label: string) => ({
  format: 'understudy-rulebook',
  version: 1,
  rules: [
    {
      id: 'a',
      on: true,
      when: { fact: 'product', op: 'every', value: true },
      then: { control: { kind: 'buy', label } },
    },
  ],
});
const editionOf = async (server: TestServer) => {
  const { status, body } = await server.send('POST', '/v1/decisions', { body: { surface: 'product', products: [] } });
  return status === 200 ? (body as { edition: number }).edition : status;
};

let server: TestServer;
beforeAll(async () => {
  server = await startShop();
});
afterAll(() => server.stop());

it('a database that drops every connection is found again, also by the copy that listens for editions', async () => {
  const copy = await startServer(server.databaseUrl);
  try {
    const admin = new pg.Client({ connectionString: databaseUrl('postgres') });
    await admin.connect();
    const name = new URL(server.databaseUrl).pathname.slice(1);
    await admin.query('SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = $1', [name]);
    await admin.end();
    const publish = async () => (await server.publish(rulebook('After the storm'))).status;
    await expect.poll(publish, { interval: 20 }).toBe(201);
    const edition = await editionOf(server);
    await expect.poll(() => editionOf(copy), { interval: 20 }).toBe(edition);
  } finally {
    await copy.stop();
  }
});

it('a server killed while it publishes loses nothing, doubles nothing, and goes on', async () => {
  const url = await cloneDatabase();
  const KEY = { Authorization: 'Bearer of-the-fault-test', 'Content-Type': 'application/json' };
  const start = () => startUnderstudy(url, { UNDERSTUDY_OWNER_KEY: 'of-the-fault-test' });
  const call = (program: Program, method: string, path: string, body?: unknown, headers = {}) =>
    fetch(program.url + path, {
      method,
      headers: { ...KEY, ...headers },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });

  let program = await start();
  await call(program, 'POST', '/api/setup', { token: SETUP_TOKEN, shop: SHOP, owner: OWNER });
  await call(program, 'PUT', '/api/rulebook', rulebook('Before'), { 'If-Match': '*' });
  let answered = 0;
  const publishing = Array.from({ length: 20 }, async () => {
    const { status } = await call(program, 'POST', '/api/editions');
    if (status === 201) answered += 1;
    if (answered === 3) await program.stop('SIGKILL');
  });
  await Promise.allSettled(publishing);

  program = await start();
  const { editions } = (await (await call(program, 'GET', '/api/editions?limit=100')).json()) as {
    editions: { number: number }[];
  };
  expect(editions.length).toBeGreaterThanOrEqual(answered);
  expect(editions.map(({ number }) => number)).toEqual(editions.map((_, index) => editions.length - index));
  expect(await (await call(program, 'GET', '/api/rulebook')).json()).toEqual(rulebook('Before'));
  expect((await call(program, 'POST', '/api/editions')).status).toBe(201);
  await program.stop();
});
