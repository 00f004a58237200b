import { setTimeout } from 'node:timers/promises';
import pg from 'pg';
import type { Logger } from 'pino';

/** bigint columns are counts and keys of ours, far below 2^53. */
const BIGINT = 20;

export type Queryable = Pick<pg.Pool, 'query'>;

/** The connection pool, and the one way to a transaction. */
export interface Database extends Queryable {
  readonly pool: pg.Pool;
  /** Commits what `work` did, or rolls all of it back when it throws. */
  transaction<T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T>;
  end(): Promise<void>;
}

/** A pool that outlives its connections. */
function poolOf(config: pg.PoolConfig, log: Logger): pg.Pool {
  const pool = new pg.Pool(config);
  // Without a listener, a connection that drops would end the process: in the pool, or between a transaction's queries.
  const lost = (error: Error) => {
    log.warn({ error: error.message }, 'a database connection was lost');
  };
  pool.on('error', lost);
  pool.on('connect', (client) => void client.on('error', lost));
  return pool;
}

export function connect(url: string, log: Logger): Database {
  const types: pg.CustomTypesConfig = {
    getTypeParser: (oid: number, format?: 'text' | 'binary') =>
      oid === BIGINT
        ? Number
        : (pg.types.getTypeParser as (oid: number, format?: string) => (value: string) => unknown)(oid, format),
  };
  const pool = poolOf({ connectionString: url, types, max: 12 }, log);
  return {
    pool,
    query: pool.query.bind(pool),
    async transaction(work) {
      const client = await pool.connect();
      try {
        await client.query('BEGIN');
        const result = await work(client);
        await client.query('COMMIT');
        client.release();
        return result;
      } catch (error) {
        await client.query('ROLLBACK').then(
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
          // Whoever is stopped hears no more.
          if (isEnded) return new Promise<never>(() => undefined);
          if (!isDatabaseAway(error)) throw error;
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

/** Connections refused or lost, and a server that is stopping or starting (PostgreSQL's error classes 08 and 57). */
export function isDatabaseAway(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  const code = 'code' in error && typeof error.code === 'string' ? error.code : '';
  return (
    /^(ECONNREFUSED|ECONNRESET|EPIPE|08...|57P..)$/.test(code) || error.message.startsWith('Connection terminated')
  );
}

/** A transaction's connection for work that asks several things at once: it answers one after the other. */
export function inTurn(client: Queryable): Queryable {
  const ask = client.query.bind(client) as (...asked: unknown[]) => Promise<unknown>;
  let last: Promise<unknown> = Promise.resolve();
  const query = (...asked: Parameters<Queryable['query']>): unknown => {
    const before = last.catch(() => undefined);
    const answer = before.then(() => ask(...asked));
    last = answer;
    return answer;
  };
  return { query: query as Queryable['query'] };
}

/** A pattern for ILIKE that finds words anywhere; null when there are none. */
export function partOf(search: string | undefined): string | null {
  const words = search?.trim() ?? '';
  return words === '' ? null : `%${words.replace(/[\\%_]/g, '\\$&')}%`;
}
