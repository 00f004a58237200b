import PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import { connectPatiently, type Queryable } from './database.ts';

/** Starts the queue of jobs, which outlives losses of the database's connections; fails when it cannot be reached at first. */
export async function startJobs(
  url: string,
  log: Logger,
  connections = 3,
): Promise<{ jobs: PgBoss; stop: (endingMs: number) => Promise<void> }> {
  const db = connectPatiently(url, connections, log);
  const jobs = new PgBoss({ db, schema: 'jobs' });
  jobs.on('error', (error) => {
    log.error({ err: error }, 'the jobs met an error');
  });
  await jobs.start();
  return {
    jobs,
    stop: async (endingMs) => {
      await jobs.stop({ graceful: true, timeout: endingMs });
      await db.end();
    },
  };
}

/** As `queueJob`, for many at once. */
export async function queueJobs(client: Queryable, jobs: PgBoss, all: PgBoss.JobInsert[]): Promise<void> {
  if (all.length > 0) await jobs.insert(all, { db: asJobs(client) });
}

const asJobs = (client: Queryable) => ({
  executeSql: async (text: string, values: unknown[]) => {
    const { rows } = await client.query<Record<string, unknown>>(text, values);
    return { rows };
  },
});

/**
 * Has a job done once the transaction of `client` has committed, and never if it does not.
 * @throws whatever the database throws: unlike the queue's own questions, this one is not asked again
 */
export async function queueJob(
  client: Queryable,
  jobs: PgBoss,
  { queue, data = {}, ...how }: PgBoss.SendOptions & { readonly queue: string; readonly data?: object },
): Promise<void> {
  await jobs.send(queue, data, { ...how, db: asJobs(client) });
}
