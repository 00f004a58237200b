import { setTimeout } from 'node:timers/promises';
import type { Logger } from 'pino';
import { connect, POOLS, type Database, type Queryable } from './database.ts';

/** A replica that is further behind is not waited for. */
const PATIENCE_MS = 2000;
const LOOK_EVERY_MS = 20;

/** From where much is read at once. */
export interface BulkReading {
  /** The replica once it has everything committed until now; the database if there is none, or it is away or behind. */
  database(): Promise<Queryable>;
  end(): Promise<void>;
}

/** @param replicaUrl a physical (streaming) replica of that database; null for none */
export function readInBulk(database: Database, replicaUrl: string | null, log: Logger): BulkReading {
  if (replicaUrl === null) return { database: () => Promise.resolve(database), end: () => Promise.resolve() };
  const replica = connect(replicaUrl, log, POOLS.thread);
  return {
    async database() {
      try {
        if (await hasCaughtUp(database, replica)) return replica;
        log.warn(`the replica is more than ${PATIENCE_MS} ms behind: the database itself is read`);
      } catch (error) {
        log.warn({ err: error }, 'the replica does not answer: the database itself is read');
      }
      return database;
    },
    end: () => replica.end(),
  };
}

/** Whether a replica has reached a position in the write-ahead log (PostgreSQL 15, 9.27.3 and 9.27.4). */
async function hasCaughtUp(database: Queryable, replica: Queryable): Promise<boolean> {
  const { rows } = await database.query<{ place: string }>('SELECT pg_current_wal_insert_lsn() AS place');
  const question = 'SELECT pg_last_wal_replay_lsn() >= $1::pg_lsn AS "hasIt"';
  const until = performance.now() + PATIENCE_MS;
  for (;;) {
    const answer = await replica.query<{ hasIt: boolean | null }>(question, [rows[0]?.place]);
    if (answer.rows[0]?.hasIt) return true;
    if (performance.now() > until) return false;
    await setTimeout(LOOK_EVERY_MS);
  }
}
