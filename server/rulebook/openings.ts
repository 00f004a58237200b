import type { Logger } from 'pino';
import type { Database } from '../db/database.ts';
import type { Live } from '../services/live.ts';
import { nextOpening, takeDueOpenings } from '../rules/openingQueries.ts';
import { record } from '../db/record.ts';
import { insertEdition, lockDraft } from '../rules/rulebookQueries.ts';

/** Openings come to pass by themselves. */
export interface Openings {
  /** Publishes due openings and schedules the next. */
  arm(): Promise<void>;
  /** Whether an opening that is known of should have come to pass. */
  isDue(): boolean;
  stop(): Promise<void>;
}

/** Maximum interval between checks: clocks jump, timers do not. */
const EVERY_MS = 30_000;
const RETRY_MS = 5000;

/**
 * Waits for the next opening, on every copy of the server: whichever comes first makes it live, in one transaction, and
 * the others find nothing left to do.
 */
export function startOpenings({
  db,
  live,
  clock,
  log,
  everyMs = EVERY_MS,
}: {
  db: Database;
  live: Live;
  clock: () => number;
  log: Logger;
  everyMs?: number | undefined;
}): Openings {
  let timer: NodeJS.Timeout | null = null;
  let working: Promise<void> = Promise.resolve();
  let isStopped = false;
  /** Epoch ms. */
  let nextAt = Infinity;

  const openDue = async () => {
    const at = new Date(clock());
    const opened = await db.transaction(async (client) => {
      await lockDraft(client);
      const due = await takeDueOpenings(client, at);
      for (const { document, note, setBy, opensAt } of due) {
        const edition = { document, note, publishedAt: at, publishedBy: setBy, restoredFrom: null };
        const { number } = await insertEdition(client, edition);
        await record(client, at, setBy, 'opened', { edition: number, set: opensAt.toISOString() });
      }
      if (due.length > 0) await live.announce(client);
      return due.length;
    });
    if (opened > 0) await live.refresh();
  };

  const look = async () => {
    if (timer) clearTimeout(timer);
    const next = await nextOpening(db);
    nextAt = next?.getTime() ?? Infinity;
    const left = nextAt - clock();
    if (left <= 0) {
      await openDue();
      await look();
    } else if (!isStopped) wake(Math.min(left, everyMs));
  };

  const wake = (delay: number) => {
    if (timer) clearTimeout(timer);
    timer = setTimeout(() => {
      arm().catch((error: unknown) => {
        log.error({ err: error }, 'an opening could not be made live');
        if (!isStopped) wake(RETRY_MS);
      });
    }, delay);
  };

  /** One after the other. */
  const arm = () => (working = working.catch(() => undefined).then(() => (isStopped ? undefined : look())));
  live.onRead(() => {
    arm().catch((error: unknown) => {
      log.error({ err: error }, 'the next opening could not be read');
    });
  });

  return {
    arm,
    isDue: () => nextAt <= clock(),
    stop: async () => {
      isStopped = true;
      if (timer) clearTimeout(timer);
      await working.catch(() => undefined);
    },
  };
}
