import { fileURLToPath } from 'node:url';
import { runner } from 'node-pg-migrate';
import pg from 'pg';

/**
 * Brings a database to the newest schema: all steps in one transaction. Copies of the server that start at the same time
 * wait for whichever is first (node-pg-migrate's own lock fails at once instead).
 */
export async function migrate(databaseUrl: string, migrationsFolder = defaultFolder()): Promise<void> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  try {
    await client.query("SELECT pg_advisory_lock(hashtext('understudy-migrate'))");
    await runner({
      databaseUrl,
      dir: migrationsFolder,
      migrationsTable: 'migrations',
      direction: 'up',
      singleTransaction: true,
      noLock: true,
      log: () => undefined,
    });
  } finally {
    await client.end();
  }
}

/** Beside this file in the sources; the build copies it beside the bundle. */
const defaultFolder = () => fileURLToPath(new URL('./migrations', import.meta.url));
