import { setTimeout as delay } from 'node:timers/promises';
import pg from 'pg';
import type { Logger } from 'pino';
import { DatabaseSilentError, isDatabaseAway } from './databaseErrors.ts';

/** Interval of checks that the database answers, in ms. */
const EVERY_MS = 250;
/** Silent for longer than this, it is given up until it answers again. */
const PATIENCE_MS = 1200;
const RECONNECT_MS = 500;
const LOST_MS = 30_000;

/**
 * A connection of its own that hears what copies of the server announce to each other, and knows whether the database
 * answers: a server that is frozen, or a line that is dead, says nothing, and whoever waited for it would wait for ever.
 */
export interface Watch {
  /** @throws {DatabaseSilentError} at once while the database is silent, and as soon as it falls silent */
  guard<T>(work: () => Promise<T>): Promise<T>;
  /**
   * Calls `notified` whenever something is announced on a channel, and `connected` whenever it begins to listen, since
   * what was announced before was missed.
   */
  listen(channel: string, listener: Channel): Promise<void>;
  /** Until when (`performance.now()`) all that was announced has surely arrived; -Infinity while nothing does. */
  confirmedAt(): number;
  /** When the database last answered, epoch ms, while it is silent or cannot be reached; null while it answers. */
  outageSince(): number | null;
  /** Waits until all that was committed before it was called has arrived, if anything does. */
  caughtUp(): Promise<void>;
  stop(): Promise<void>;
}

interface Channel {
  readonly notified: (payload: string) => void;
  readonly connected: () => Promise<void>;
}

/** @throws {Error} when the database cannot be reached at first */
export async function watchDatabase(url: string, log: Logger, clock: () => number = Date.now): Promise<Watch> {
  const channels = new Map<string, Channel>();
  const waiting = new Set<(error: Error) => void>();
  const stopping = new AbortController();
  const isStopping = () => stopping.signal.aborted;
  /** Null while it is lost. */
  const line: { client: pg.Client | null } = { client: null };
  let confirmedAt = -Infinity;
  /** Whether listeners have caught up with announcements missed while disconnected. */
  let hasCaughtUp = true;
  let isSilent = false;
  let answeredAt = clock();

  const lose = () => {
    line.client = null;
    confirmedAt = -Infinity;
    hasCaughtUp = false;
  };

  /** Announcements made before a query arrive before its answer. */
  const ask = async (client: pg.Client): Promise<void> => {
    const askedAt = performance.now();
    await client.query('SELECT 1');
    answeredAt = clock();
    if (client === line.client && hasCaughtUp) confirmedAt = askedAt;
  };

  const connect = async (): Promise<pg.Client> => {
    const next = new pg.Client({ connectionString: url, keepAlive: true, connectionTimeoutMillis: 5000 });
    next.on('error', (error) => {
      log.warn({ error: error.message }, 'the connection that listens was lost');
      if (line.client === next) lose();
    });
    next.on('notification', ({ channel, payload = '' }) => {
      channels.get(channel)?.notified(payload);
    });
    await next.connect();
    for (const channel of channels.keys()) await next.query(`LISTEN ${channel}`);
    return next;
  };

  const answersInTime = async (answer: Promise<unknown>): Promise<boolean> => {
    const isThere = answer.then(
      () => true,
      () => true,
    );
    const over = new AbortController();
    // Two waits, so that an answer which came while this thread was busy is read before it counts as missing.
    const patience = delay(PATIENCE_MS - 100, undefined, { signal: over.signal })
      .then(() => delay(100, undefined, { signal: over.signal }))
      .then(
        () => false,
        () => true,
      );
    const inTime = await Promise.race([isThere, patience]);
    over.abort();
    return inTime;
  };

  const fallSilent = () => {
    if (!isSilent) log.error('the database does not answer');
    isSilent = true;
    for (const giveUp of waiting) giveUp(new DatabaseSilentError());
    waiting.clear();
  };

  /** Waits for a silent database; a connection that is silent for too long counts as dead. */
  const probe = async (silent: pg.Client, answer: Promise<unknown>) => {
    const over = new AbortController();
    const tooLong = delay(LOST_MS, 'dead', { signal: over.signal }).catch(() => 'over');
    const ended = await Promise.race([answer.then(() => 'answered'), tooLong]);
    over.abort();
    if (ended === 'answered') return;
    lose();
    silent.end().catch(() => undefined);
    throw new DatabaseSilentError();
  };

  const watching = async () => {
    while (!isStopping()) {
      try {
        if (!line.client) {
          await delay(RECONNECT_MS, undefined, { signal: stopping.signal });
          line.client = await connect();
          isSilent = false;
          answeredAt = clock();
        }
        const { client } = line;
        if (hasCaughtUp) {
          const answer = ask(client);
          if (!(await answersInTime(answer))) {
            fallSilent();
            await probe(client, answer);
            log.info('the database answers again');
          }
          isSilent = false;
        } else {
          for (const { connected } of channels.values()) await connected();
          hasCaughtUp = true;
        }
      } catch (error) {
        if (!isStopping()) log.warn({ err: error }, 'the database was asked whether it is there');
        // Fail fast: otherwise every query would wait for a connection that cannot be made.
        if (!line.client && isDatabaseAway(error)) fallSilent();
      }
      await delay(EVERY_MS, undefined, { signal: stopping.signal }).catch(() => undefined);
    }
  };

  line.client = await connect();
  const watched = watching();
  return {
    guard(work) {
      if (isSilent) return Promise.reject(new DatabaseSilentError());
      return new Promise((resolve, reject) => {
        waiting.add(reject);
        work()
          .then(resolve, reject)
          .finally(() => waiting.delete(reject));
      });
    },
    async listen(channel, listener) {
      channels.set(channel, listener);
      await line.client?.query(`LISTEN ${channel}`);
      await listener.connected();
    },
    confirmedAt: () => confirmedAt,
    outageSince: () => (isSilent ? answeredAt : null),
    async caughtUp() {
      if (line.client) await ask(line.client).catch(() => undefined);
    },
    async stop() {
      stopping.abort();
      const ending = line.client;
      lose();
      // A database that does not answer is not waited for.
      if (ending) await Promise.race([ending.end().catch(() => undefined), delay(1000)]);
      void watched;
    },
  };
}
