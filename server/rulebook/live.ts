import type pg from 'pg';
import type { Logger } from 'pino';
import { compile, type CompiledRulebook } from '#core/decide/compile.ts';
import type { PageMap } from '#core/contract/pageMap.ts';
import { EMPTY_RULEBOOK } from '#core/rulebook/rulebook.ts';
import type { Database, Queryable } from '../db/database.ts';
import { notSetUp, shopFacts } from '../shop/currentShop.ts';
import { readShop } from '../shop/shopQueries.ts';
import { newestEdition } from './rulebookQueries.ts';

const CHANNEL = 'live';
const RETRY_MS = 500;

/** What the shop runs on now: compiled once, held in memory, replaced when any copy of the server announces a change. */
export interface Live {
  /** @throws {ProblemError} 503 while there is no shop yet */
  current(): LiveState;
  /** Reads again what is live. */
  refresh(): Promise<void>;
  /** Tells every copy, when the transaction that `client` is in commits. */
  announce(client: Queryable): Promise<void>;
  /** Calls back whenever what is live was announced and read again. */
  onRead(listener: () => void): void;
  stop(): Promise<void>;
}

export interface LiveState {
  /** 0 before the first edition. */
  readonly edition: number;
  readonly rulebook: CompiledRulebook;
  readonly visitorSecrets: readonly string[];
  readonly pageMap: PageMap | null;
}

export async function startLive(db: Database, log: Logger): Promise<Live> {
  let state: LiveState | null = null;
  let reading = Promise.resolve();
  let listener: pg.PoolClient | null = null;
  let retry: NodeJS.Timeout | null = null;
  let stopped = false;
  const listeners: (() => void)[] = [];

  const read = async () => {
    const [shop, edition] = await Promise.all([readShop(db), newestEdition(db)]);
    state = shop && {
      edition: edition?.number ?? 0,
      rulebook: compile(edition?.document ?? EMPTY_RULEBOOK, shopFacts(shop)),
      visitorSecrets: shop.visitorSecrets,
      pageMap: shop.pageMap,
    };
  };
  /** One after the other, so that an older reading never overwrites a newer. */
  const refresh = () => (reading = reading.catch(() => undefined).then(read));

  const tell = () => {
    for (const listener of listeners) listener();
  };

  const listen = async () => {
    const client = await db.pool.connect();
    if (stopped) {
      client.release();
      return;
    }
    client.on('notification', () => {
      refresh().then(tell, (error: unknown) => {
        log.error({ err: error }, 'what is live could not be read');
      });
    });
    client.on('error', (error) => {
      log.warn({ error: error.message }, 'the connection that listens for editions was lost');
      client.release(true);
      listener = null;
      listenAgain();
    });
    listener = client;
    await client.query(`LISTEN ${CHANNEL}`);
    // Whatever was announced while nobody listened is read now.
    await refresh();
    tell();
  };
  const listenAgain = () => {
    if (stopped) return;
    retry = setTimeout(() => {
      listen().catch(listenAgain);
    }, RETRY_MS);
  };

  await listen();
  return {
    current() {
      if (!state) throw notSetUp();
      return state;
    },
    refresh,
    announce: async (client) => {
      await client.query(`NOTIFY ${CHANNEL}`);
    },
    onRead: (listener) => {
      listeners.push(listener);
    },
    stop: async () => {
      stopped = true;
      if (retry) clearTimeout(retry);
      listener?.release(true);
      await reading.catch(() => undefined);
    },
  };
}
