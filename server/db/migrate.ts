import { fileURLToPath } from 'node:url';
import { runner } from 'node-pg-migrate';

/** Brings a database to the newest schema: all steps in one transaction, under an advisory lock. */
export async function migrate(databaseUrl: string, migrationsFolder = defaultFolder()): Promise<void> {
  await runner({
    databaseUrl,
    dir: migrationsFolder,
    migrationsTable: 'migrations',
    direction: 'up',
    singleTransaction: true,
    log: () => undefined,
  });
}

/** Beside this file in the sources; the build copies it beside the bundle. */
const defaultFolder = () => fileURLToPath(new URL('./migrations', import.meta.url));
