import { build } from 'esbuild';
import { migrate } from '../../server/db/migrate.ts';
import { createDatabase, databaseUrl, SHOP_TEMPLATE, TEMPLATE } from './databases.ts';
import { setUpShop, startServer } from './testServer.ts';
import { THREAD_SOURCES, THREADS } from './threads.ts';

/** Makes the programs of threads, and the databases that API tests clone. Unit tests run without one. */
export default async function setup(): Promise<void> {
  if (process.env.TEST_PG_URL === undefined) return;
  // Threads need programs of their own.
  for (const thread of Object.keys(THREADS) as (keyof typeof THREADS)[])
    await build({
      entryPoints: [THREAD_SOURCES[thread]],
      outfile: THREADS[thread],
      bundle: true,
      platform: 'node',
      format: 'esm',
      target: 'node20',
      packages: 'external',
      logLevel: 'warning',
    });
  await createDatabase(TEMPLATE);
  await migrate(databaseUrl(TEMPLATE));
  await (await startServer(databaseUrl(TEMPLATE))).stop();
  await createDatabase(SHOP_TEMPLATE, TEMPLATE);
  const shop = await startServer(databaseUrl(SHOP_TEMPLATE));
  await setUpShop(shop);
  await shop.stop();
}
