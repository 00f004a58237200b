import { randomUUID } from 'node:crypto';
import pg from 'pg';

export const TEMPLATE = 'understudy_template';

/** A database of the cluster that bin/test starts. */
export function databaseUrl(name: string): string {
  const { TEST_PG_URL } = process.env;
  if (!TEST_PG_URL) throw new Error('TEST_PG_URL is not set: run bin/test, which starts a PostgreSQL for the tests');
  const url = new URL(TEST_PG_URL);
  url.pathname = `/${name}`;
  return url.href;
}

/** A database of one's own, cloned from the migrated template or another. */
export async function cloneDatabase(template = TEMPLATE): Promise<string> {
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  const client = new pg.Client({ connectionString: databaseUrl('postgres') });
  await client.connect();
  // One clone at a time: PostgreSQL refuses while another session reads the template.
  await client.query("SELECT pg_advisory_lock(hashtext('clone'))");
  await client.query(`CREATE DATABASE ${name} TEMPLATE ${template}`);
  await client.end();
  return databaseUrl(name);
}
