import { build } from 'esbuild';
import pg from 'pg';
import PgBoss from 'pg-boss';
import { migrate } from '../../server/db/migrate.ts';
import { databaseUrl, TEMPLATE } from './databases.ts';
import { THREAD_SOURCES, THREADS } from './threads.ts';

/** Makes the programs of threads, and the migrated database that API tests clone. Unit tests run without one. */
export default async function setup(): Promise<void> {
  if (process.env.TEST_PG_URL === undefined) return;
  const client = new pg.Client({ connectionString: databaseUrl('postgres') });
  await client.connect();
  await client.query(`DROP DATABASE IF EXISTS ${TEMPLATE} WITH (FORCE)`);
  await client.query(`CREATE DATABASE ${TEMPLATE}`);
  await client.end();
  const url = databaseUrl(TEMPLATE);
  await migrate(url);
  const template = new pg.Client({ connectionString: url });
  await template.connect();
  await template.query(PgBoss.getConstructionPlans('jobs'));
  await template.end();
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
}
