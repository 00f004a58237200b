import { build } from 'esbuild';
import pg from 'pg';
import PgBoss from 'pg-boss';
import { ANALYST } from './analyst.ts';
import { migrate } from '../../server/db/migrate.ts';
import { databaseUrl, TEMPLATE } from './databases.ts';

/** Makes the program of the thread that analyses, and the migrated database that API tests clone. Unit tests run without one. */
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
  // The analyses run in a thread, which needs a program of its own.
  await build({
    entryPoints: ['server/rehearsal/worker.ts'],
    outfile: ANALYST,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    logLevel: 'warning',
  });
}
