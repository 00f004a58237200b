import PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import { connectPatiently, type Queryable } from './database.ts';
import type { Watch } from './watch.ts';

/** Announces to every copy of the server which queue has new jobs. */
const CHANNEL = 'jobs';
/** Jobs whose time has come, and those announced while the connection was lost, are found within this time. */
const POLLING_S = 5;

/** A job as its worker sees it. */
export type Job<Data> = PgBoss.JobWithMetadata<Data>;

interface Working {
  /** Adds a job on a schedule (cron), with its number of retries. */
  readonly schedule?: { readonly cron: string; readonly retryLimit?: number };
  /** Number of jobs done at the same time. */
  readonly workers?: number;
}

/** The queue of jobs, which outlives losses of the database's connections. */
export class Jobs {
  private readonly workers = new Map<string, string[]>();

  private constructor(
    private readonly boss: PgBoss,
    private readonly db: ReturnType<typeof connectPatiently>,
  ) {}

  /** @throws {Error} when the database cannot be reached at first */
  static async start(url: string, log: Logger, watch: Watch, connections = 3): Promise<Jobs> {
    const db = connectPatiently(url, connections, log);
    const boss = new PgBoss({ db, schema: 'jobs' });
    boss.on('error', (error) => {
      log.error({ err: error }, 'the jobs met an error');
    });
    const jobs = new Jobs(boss, db);
    await boss.start();
    await watch.listen(CHANNEL, {
      notified: (queue) => {
        jobs.wake(queue);
      },
      connected: () => {
        for (const queue of jobs.workers.keys()) jobs.wake(queue);
        return Promise.resolve();
      },
    });
    return jobs;
  }

  /** Ends once the jobs under way are done, or `endingMs` have passed. */
  async stop(endingMs: number): Promise<void> {
    await this.boss.stop({ graceful: true, timeout: endingMs });
    await this.db.end();
  }

  /**
   * Has a job done once the transaction of `client` has committed, and never if it does not.
   * @throws any error of the database: unlike the queue's own queries, this one is not retried
   */
  async add(
    client: Queryable,
    queue: string,
    { data = {}, ...how }: PgBoss.SendOptions & { readonly data?: object },
  ): Promise<void> {
    await this.boss.send(queue, data, { ...how, db: asJobs(client) });
    await announce(client, queue);
  }

  /** Adds many jobs at once. @see add */
  async addAll(client: Queryable, queue: string, all: readonly Omit<PgBoss.JobInsert, 'name'>[]): Promise<void> {
    if (all.length === 0) return;
    const named = all.map((job) => ({ name: queue, ...job }));
    await this.boss.insert(named, { db: asJobs(client) });
    await announce(client, queue);
  }

  /** Does the jobs of a queue, on whichever copy of the server is free. */
  async work<Data extends object>(
    queue: string,
    { schedule, workers = 1 }: Working,
    perform: (job: Job<Data>) => Promise<void>,
  ): Promise<void> {
    await this.boss.createQueue(queue);
    if (schedule) {
      const { cron, ...retries } = schedule;
      await this.boss.schedule(queue, cron, {}, retries);
    }
    const how = { includeMetadata: true, pollingIntervalSeconds: POLLING_S } as const;
    const ids: string[] = [];
    this.workers.set(queue, ids);
    for (let worker = 0; worker < workers; worker += 1) {
      const id = await this.boss.work<Data>(queue, how, async ([job]) => {
        // Look again at once: without this the worker sleeps after every job.
        this.boss.notifyWorker(id);
        if (job) await perform(job);
      });
      ids.push(id);
    }
  }

  private wake(queue: string): void {
    for (const id of this.workers.get(queue) ?? []) this.boss.notifyWorker(id);
  }
}

const announce = (client: Queryable, queue: string) => client.query(`SELECT pg_notify('${CHANNEL}', $1)`, [queue]);

const asJobs = (client: Queryable) => ({
  executeSql: async (text: string, values: unknown[]) => {
    const { rows } = await client.query<Record<string, unknown>>(text, values);
    return { rows };
  },
});
