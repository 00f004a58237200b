import { randomUUID } from 'node:crypto';
import pg from 'pg';

/** Migrated, and started once: its queues and the months it counts in are there. */
export const TEMPLATE = 'understudy_template';
/** The same with its shop set up. */
export const SHOP_TEMPLATE = 'understudy_shop';

/** A database of the cluster that bin/test starts. */
export function databaseUrl(name: string): string {
  const { TEST_PG_URL } = process.env;
  if (!TEST_PG_URL) throw new Error('TEST_PG_URL is not set: run bin/test, which starts a PostgreSQL for the tests');
  const url = new URL(TEST_PG_URL);
  url.pathname = `/${name}`;
  return url.href;
}

async function onCluster(work: (client: pg.Client) => Promise<unknown>): Promise<void> {
  const client = new pg.Client({ connectionString: databaseUrl('postgres') });
  await client.connect();
  try {
    await work(client);
  } finally {
    await client.end();
  }
}

/** Makes a database, in place of one of that name that another run left. */
export const createDatabase = (name: string, template = 'template1'): Promise<void> =>
  onCluster(async (client) => {
    await client.query(`DROP DATABASE IF EXISTS ${name} WITH (FORCE)`);
    await client.query(`CREATE DATABASE ${name} TEMPLATE ${template}`);
  });

/** A database of one's own, cloned from the migrated template or another. */
export async function cloneDatabase(template = TEMPLATE): Promise<string> {
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  await onCluster(async (client) => {
    // One clone at a time: PostgreSQL refuses while another session reads the template.
    await client.query("SELECT pg_advisory_lock(hashtext('clone'))");
    await client.query(`CREATE DATABASE ${name} TEMPLATE ${template} STRATEGY file_copy`);
  });
  return databaseUrl(name);
}
