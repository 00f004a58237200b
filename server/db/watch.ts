import { setTimeout as delay } from 'node:timers/promises';
import pg from 'pg';
import type { Logger } from 'pino';
import { inTurn } from './inTurn.ts';
import { DatabaseSilentError, isDatabaseAway } from './databaseErrors.ts';

/** Interval of checks that the database answers, in ms. */
const EVERY_MS = 250;
/** Silent for longer than this, it is given up until it answers again. */
const PATIENCE_MS = 1200;
const RECONNECT_MS = 500;
const LOST_MS = 30_000;

/**
 * Watches the database on a connection of its own: receives the announcements of all copies of the server, and checks that
 * the database answers. A frozen server or a dead connection sends nothing, and callers would wait for ever.
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

/** The connection that listens. */
interface Line {
  readonly client: pg.Client;
  /** Its queries, one at a time. */
  readonly queries: Pick<pg.Client, 'query'>;
  /** The question under way or answered last, and the one to follow it. */
  last: Promise<void>;
  next: Promise<void> | null;
}

/** @throws {Error} when the database cannot be reached at first */
export async function watchDatabase(url: string, log: Logger, clock: () => number = Date.now): Promise<Watch> {
  const channels = new Map<string, Channel>();
  const waiting = new Set<(error: Error) => void>();
  const stopping = new AbortController();
  const isStopping = () => stopping.signal.aborted;
  /** Null while it is lost. */
  let line: Line | null = null;
  let confirmedAt = -Infinity;
  /** Whether listeners have caught up with announcements missed while disconnected. */
  let hasCaughtUp = true;
  let isSilent = false;
  let answeredAt = clock();

  const isConnected = () => line !== null;
  const lose = () => {
    line = null;
    confirmedAt = -Infinity;
    hasCaughtUp = false;
  };

  const question = async (asked: Line): Promise<void> => {
    asked.next = null;
    const askedAt = performance.now();
    await asked.queries.query('SELECT 1');
    answeredAt = clock();
    if (asked === line && hasCaughtUp) confirmedAt = askedAt;
  };
  /**
   * Announcements made before a query arrive before its answer. Callers who ask while a question is under way share the
   * next one, so that a busy server waits for two answers at most, not for as many as it has requests.
   */
  const ask = (asked: Line): Promise<void> =>
    (asked.next ??= asked.last
      .catch(() => undefined)
      .then(() => {
        asked.last = question(asked);
        return asked.last;
      }));

  const connect = async (): Promise<Line> => {
    const next = new pg.Client({ connectionString: url, keepAlive: true, connectionTimeoutMillis: 5000 });
    next.on('error', (error) => {
      log.warn({ error: error.message }, 'the connection that listens was lost');
      if (line?.client === next) lose();
    });
    next.on('notification', ({ channel, payload = '' }) => {
      channels.get(channel)?.notified(payload);
    });
    await next.connect();
    for (const channel of channels.keys()) await next.query(`LISTEN ${channel}`);
    return { client: next, queries: inTurn(next), last: Promise.resolve(), next: null };
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
  const probe = async (silent: Line, answer: Promise<unknown>) => {
    const over = new AbortController();
    const tooLong = delay(LOST_MS, 'dead', { signal: over.signal }).catch(() => 'over');
    const ended = await Promise.race([answer.then(() => 'answered'), tooLong]);
    over.abort();
    if (ended === 'answered') return;
    lose();
    silent.client.end().catch(() => undefined);
    throw new DatabaseSilentError();
  };

  const watching = async () => {
    while (!isStopping()) {
      try {
        if (!line) {
          await delay(RECONNECT_MS, undefined, { signal: stopping.signal });
          line = await connect();
          isSilent = false;
          answeredAt = clock();
        }
        const asked: Line = line;
        if (hasCaughtUp) {
          const answer = ask(asked);
          if (!(await answersInTime(answer))) {
            fallSilent();
            await probe(asked, answer);
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
        if (!isConnected() && isDatabaseAway(error)) fallSilent();
      }
      await delay(EVERY_MS, undefined, { signal: stopping.signal }).catch(() => undefined);
    }
  };

  line = await connect();
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
      await line?.queries.query(`LISTEN ${channel}`);
      await listener.connected();
    },
    confirmedAt: () => confirmedAt,
    outageSince: () => (isSilent ? answeredAt : null),
    async caughtUp() {
      if (line) await ask(line).catch(() => undefined);
    },
    async stop() {
      stopping.abort();
      const ending = line?.client;
      lose();
      // A database that does not answer is not waited for.
      if (ending) await Promise.race([ending.end().catch(() => undefined), delay(1000)]);
      void watched;
    },
  };
}
