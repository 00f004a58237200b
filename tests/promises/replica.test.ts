import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { z } from 'zod';
import type { postImpact } from '#core/contract/rehearsalCalls.ts';
import type { Vocabulary } from '#core/contract/shopCalls.ts';
import { migrate } from '../../server/db/migrate.ts';
import { book, make, everything } from '../support/oneVariant.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

/** Much is read from a streaming replica, and is never behind what was answered before; without it, everything goes on. */

const folder = mkdtempSync(join(tmpdir(), 'understudy-replica-'));
const replicas = (action: 'start' | 'end-replica' | 'stop') =>
  execFileSync('bash', ['tests/support/replica.sh', action, folder], { encoding: 'utf8' }).trim().split('\n');

let server: TestServer;
let replica: pg.Client;
beforeAll(async () => {
  const [url = '', readUrl = ''] = replicas('start');
  await migrate(url);
  server = await startShop({ readUrl }, url);
  await server.publish(book(make('all', { control: { kind: 'preorder' } }, everything)));
  replica = new pg.Client({ connectionString: readUrl });
  // The replica stops before this connection does.
  replica.on('error', () => undefined);
  await replica.connect();
});
afterAll(async () => {
  await server.stop();
  await replica.end().catch(() => undefined);
  replicas('stop');
  rmSync(folder, { recursive: true });
});

const importPlants = (tags: readonly string[]) =>
  importCsv(
    server,
    'catalog',
    [
      'variant_id,product_id,path,title,tags,price',
      ...tags.map((tag, index) => `v-${index},p-${index},/plants/${index},Plant ${index},${tag},950`),
    ].join('\n'),
  );
const tagsKnown = async () => {
  const { body } = await server.send('GET', '/api/vocabulary');
  return (body as z.infer<typeof Vocabulary>).tags.map(({ name }) => name).toSorted();
};
const looked = async () => {
  const { body } = await server.send('POST', '/api/rehearsal/impact', { body: { from: { edition: 0 }, to: 'live' } });
  return (body as z.infer<(typeof postImpact.replies)[200]>).looked;
};
/** Last query of the server's connections there. */
const askedThere = async () => {
  const { rows } = await replica.query<{ query: string }>(
    "SELECT query FROM pg_stat_activity WHERE backend_type = 'client backend' AND pid <> pg_backend_pid()",
  );
  return rows.map(({ query }) => query).join();
};

it('gives what was written just before, again and again', async () => {
  for (let round = 1; round <= 8; round += 1) {
    const tags = Array.from({ length: round }, (_, index) => `round-${round}-${index}`);
    await importPlants(tags);
    expect(await tagsKnown()).toEqual(tags.toSorted());
    expect(await looked()).toBe(round);
  }
  expect(await askedThere()).toContain('FROM products');
});

it('is not waited for when it stands still', async () => {
  await replica.query('SELECT pg_wal_replay_pause()');
  await importPlants(['paused']);
  expect(await tagsKnown()).toContain('paused');
  await replica.query('SELECT pg_wal_replay_resume()');
});

it('is not needed', async () => {
  replicas('end-replica');
  await importPlants(['alone']);
  expect(await tagsKnown()).toContain('alone');
  expect(await looked()).toBe(8);
});
