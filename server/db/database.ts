import { setTimeout } from 'node:timers/promises';
import pg from 'pg';
import type { Logger } from 'pino';
import { acting } from './acting.ts';
import { isDatabaseAway, isDatabaseBusy } from './databaseErrors.ts';
import type { Watch } from './watch.ts';

/** bigint columns are counts and keys, far below 2^53. */
const BIGINT = 20;

export type Queryable = Pick<pg.Pool, 'query'>;

/** A pool of connections, and the one way to a transaction. */
export interface Database extends Queryable {
  readonly pool: pg.Pool;
  /**
   * Commits the changes of `work`, or rolls them back when it throws. All its queries must use the given client: a second
   * connection from the pool, while others wait for one, can stop everything.
   */
  transaction<T>(work: (client: Queryable) => Promise<T>): Promise<T>;
  /** Waits until caches have heard of everything committed before, by any thread. */
  caughtUp(): Promise<void>;
  end(): Promise<void>;
}

/** Size of a pool, and its timeouts in ms. */
export interface PoolSettings {
  readonly max: number;
  /** For a connection to be free. */
  readonly waitMs: number;
  readonly statementMs: number;
  /** Timeout for locks held by others. */
  readonly lockMs: number;
}

/** Idle time after which a connection is closed: a new one costs more than a query. */
const IDLE_MS = 60_000;

/** Nobody holds a transaction open and does nothing for longer. */
const IDLE_IN_TRANSACTION_MS = 15_000;

/**
 * Shoppers' reads, orders and the owner's work have separate pools, so that none can take another's connections.
 */
export const POOLS = {
  shopper: { max: 6, waitMs: 1500, statementMs: 5000, lockMs: 1500 },
  // Orders of one product wait for each other.
  order: { max: 6, waitMs: 10_000, statementMs: 10_000, lockMs: 10_000 },
  owner: { max: 6, waitMs: 10_000, statementMs: 60_000, lockMs: 10_000 },
  /** Threads of their own: the analysis, imports. */
  thread: { max: 3, waitMs: 30_000, statementMs: 120_000, lockMs: 30_000 },
} as const satisfies Record<string, PoolSettings>;

/** A pool that outlives its connections. */
function poolOf(config: pg.PoolConfig, log: Logger): pg.Pool {
  const pool = new pg.Pool({ keepAlive: true, ...config });
  // Without a listener, a connection that drops would end the process: in the pool, or between a transaction's queries.
  const lost = (error: Error) => {
    log.warn({ error: error.message }, 'a database connection was lost');
  };
  pool.on('error', lost);
  pool.on('connect', (client) => void client.on('error', lost));
  return pool;
}

/** @param watch tells when the database does not answer: then nobody waits for it */
export function connect(url: string, log: Logger, settings: PoolSettings, watch?: Watch): Database {
  const types: pg.CustomTypesConfig = {
    getTypeParser: (oid: number, format?: 'text' | 'binary') =>
      oid === BIGINT
        ? Number
        : (pg.types.getTypeParser as (oid: number, format?: string) => (value: string) => unknown)(oid, format),
  };
  const { max, waitMs, statementMs, lockMs } = settings;
  const pool = poolOf(
    {
      connectionString: url,
      types,
      max,
      idleTimeoutMillis: IDLE_MS,
      connectionTimeoutMillis: waitMs,
      statement_timeout: statementMs,
      lock_timeout: lockMs,
      idle_in_transaction_session_timeout: IDLE_IN_TRANSACTION_MS,
      // JIT compilation of our queries takes longer than it saves.
      options: '-c jit=off',
    },
    log,
  );
  const guard = <T>(work: () => Promise<T>): Promise<T> => (watch ? watch.guard(work) : work());
  /** Queries with a deadline, in case the database does not answer. */
  const guarded = (on: Queryable): Queryable['query'] => {
    const query = on.query.bind(on) as (...args: unknown[]) => Promise<unknown>;
    return ((...args: unknown[]) => guard(() => query(...args))) as Queryable['query'];
  };
  // Do not wait for a silent database: nothing cached is used then.
  const caughtUp = async () => {
    if (watch) await guard(() => watch.caughtUp()).catch(() => undefined);
  };
  return {
    pool,
    query: guarded(pool),
    async transaction(work) {
      // One that comes after it was given up goes back at once.
      const connecting = pool.connect();
      const client = await guard(() => connecting).catch((error: unknown) => {
        connecting.then(
          (late) => {
            late.release();
          },
          () => undefined,
        );
        throw error;
      });
      const query = guarded(client);
      const act = acting.getStore();
      const isToBeRecorded = act?.isRecorded === false;
      try {
        await query('BEGIN');
        const result = await work({ query });
        if (act && !act.isRecorded) await act.record({ query });
        await query('COMMIT');
        client.release();
        // A writer reads its own writes.
        await caughtUp();
        return result;
      } catch (error) {
        if (act && isToBeRecorded) act.isRecorded = false;
        await query('ROLLBACK').then(
          () => {
            client.release();
          },
          (lost: unknown) => {
            client.release(lost instanceof Error ? lost : true);
          },
        );
        throw error;
      }
    },
    caughtUp,
    end: () => pool.end(),
  };
}

const AGAIN_MS = 500;

/**
 * A database for jobs. Their package does not wait for all that it asks, and what it does not wait for would end the
 * process if it failed: so what is asked while connections are lost is asked again until they are back.
 */
export function connectPatiently(url: string, max: number, log: Logger) {
  const pool = poolOf({ connectionString: url, max }, log);
  let isEnded = false;
  return {
    executeSql: async (text: string, values: unknown[]): Promise<{ rows: unknown[] }> => {
      for (;;) {
        try {
          return await pool.query<Record<string, unknown>>(text, values);
        } catch (error) {
          // A stopped listener receives nothing more.
          if (isEnded) return new Promise<never>(() => undefined);
          // Servers that start together create their queues together, and one yields.
          if (!isDatabaseAway(error) && !isDatabaseBusy(error)) throw error;
        }
        await setTimeout(AGAIN_MS);
      }
    },
    end: (): Promise<void> => {
      isEnded = true;
      return pool.end();
    },
  };
}

/** A pattern for ILIKE that finds words anywhere; null when there are none. */
export function partOf(search: string | undefined): string | null {
  const words = search?.trim() ?? '';
  return words === '' ? null : `%${words.replace(/[\\%_]/g, '\\$&')}%`;
}
