import type { Logger } from 'pino';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { upgraded } from '#core/rulebook/upgrades.ts';
import type { Database, Queryable } from '../db/database.ts';
import type { Live } from './live.ts';
import { insertEdition, lockDraft, record } from './rulebookQueries.ts';

export interface OpeningRow {
  id: number;
  document: Rulebook;
  note: string | null;
  opensAt: Date;
  over: number;
  setAt: Date;
  setBy: string;
}

const COLUMNS = `id, document, note, opens_at AS "opensAt", over, set_at AS "setAt", set_by AS "setBy"`;
const DUE = `DELETE FROM openings WHERE opens_at <= $1 RETURNING ${COLUMNS}`;
const INSERT = `
  INSERT INTO openings (document, note, opens_at, over, set_at, set_by) VALUES ($1, $2, $3, $4, $5, $6) RETURNING ${COLUMNS}`;
const UPDATE = `
  UPDATE openings SET document = $2, note = $3, opens_at = $4, over = $5, set_at = $6, set_by = $7
  WHERE id = $1 RETURNING ${COLUMNS}`;

const current = (row: OpeningRow): OpeningRow => ({ ...row, document: upgraded(row.document) });

/** All that are still to come, the next first. */
export async function openingsToCome(db: Queryable): Promise<OpeningRow[]> {
  return (await db.query<OpeningRow>(`SELECT ${COLUMNS} FROM openings ORDER BY opens_at, id`)).rows.map(current);
}

export async function openingById(db: Queryable, id: number): Promise<OpeningRow | null> {
  const { rows } = await db.query<OpeningRow>(`SELECT ${COLUMNS} FROM openings WHERE id = $1`, [id]);
  return rows[0] ? current(rows[0]) : null;
}

const values = ({ document, note, opensAt, over, setAt, setBy }: Omit<OpeningRow, 'id'>) => [
  JSON.stringify(document),
  note,
  opensAt,
  over,
  setAt,
  setBy,
];

export async function insertOpening(db: Queryable, opening: Omit<OpeningRow, 'id'>): Promise<OpeningRow> {
  const { rows } = await db.query<OpeningRow>(INSERT, values(opening));
  if (!rows[0]) throw new Error('an opening was not kept');
  return rows[0];
}

/** @returns null when it has opened, or was called off, meanwhile */
export async function updateOpening(db: Queryable, { id, ...opening }: OpeningRow): Promise<OpeningRow | null> {
  return (await db.query<OpeningRow>(UPDATE, [id, ...values(opening)])).rows[0] ?? null;
}

/** @returns whether there was such an opening */
export async function deleteOpening(db: Queryable, id: number): Promise<boolean> {
  return ((await db.query('DELETE FROM openings WHERE id = $1', [id])).rowCount ?? 0) > 0;
}

/** Openings come to pass by themselves. */
export interface Openings {
  /** Looks when the next one is, and makes live whatever is due. */
  arm(): Promise<void>;
  stop(): Promise<void>;
}

/** It looks at least so often: clocks jump, and timers do not. */
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

  const openDue = async () => {
    const at = new Date(clock());
    const opened = await db.transaction(async (client) => {
      await lockDraft(client);
      const { rows } = await client.query<OpeningRow>(DUE, [at]);
      const due = rows.map(current).sort((a, b) => a.opensAt.getTime() - b.opensAt.getTime() || a.id - b.id);
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
    const { rows } = await db.query<{ next: Date | null }>('SELECT min(opens_at) AS next FROM openings');
    const next = rows[0]?.next;
    const left = next ? next.getTime() - clock() : Infinity;
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
    stop: async () => {
      isStopped = true;
      if (timer) clearTimeout(timer);
      await working.catch(() => undefined);
    },
  };
}
