import type { Feed } from '#core/contract/feedCalls.ts';
import type { TargetName } from '#core/imports/fileReading.ts';
import type { Queryable } from '../db/database.ts';

/** A feed, with everything needed to fetch it. */
export interface FeedRow {
  readonly id: number;
  readonly target: TargetName;
  readonly address: string;
  readonly secret: string | null;
  readonly everyMinutes: number;
  readonly mode: Feed['mode'];
  readonly madeBy: string;
  readonly nextAt: Date;
  readonly etag: string | null;
  readonly lastModified: string | null;
  readonly fetchedAt: Date | null;
  readonly importId: string | null;
  readonly error: string | null;
}

/** Reported until a fetch succeeds. */
const INTERRUPTED = 'The last fetch was interrupted because the server stopped. It is being tried again.';

const COLUMNS = `
  id, target, address, secret, every_minutes AS "everyMinutes", mode, made_by AS "madeBy", next_at AS "nextAt", etag,
  last_modified AS "lastModified", fetched_at AS "fetchedAt", import_id AS "importId", error`;

export const allFeeds = async (db: Queryable): Promise<FeedRow[]> =>
  (await db.query<FeedRow>(`SELECT ${COLUMNS} FROM feeds ORDER BY id`)).rows;

export const feedById = async (db: Queryable, id: number): Promise<FeedRow | null> =>
  (await db.query<FeedRow>(`SELECT ${COLUMNS} FROM feeds WHERE id = $1`, [id])).rows[0] ?? null;

const CREATE = `
  INSERT INTO feeds (target, address, secret, every_minutes, mode, made_by, next_at)
  VALUES ($1, $2, $3, $4, $5, $6, $7) RETURNING id`;

export async function createFeed(
  db: Queryable,
  feed: Pick<FeedRow, 'target' | 'address' | 'secret' | 'everyMinutes' | 'mode' | 'madeBy' | 'nextAt'>,
): Promise<number> {
  const { target, address, secret, everyMinutes, mode, madeBy, nextAt } = feed;
  const values = [target, address, secret, everyMinutes, mode, madeBy, nextAt];
  return (await db.query<{ id: number }>(CREATE, values)).rows[0]!.id;
}

export async function dropFeed(db: Queryable, id: number): Promise<void> {
  await db.query('DELETE FROM feeds WHERE id = $1', [id]);
}

/** Has a feed fetched at the next look, unless it is being fetched. */
export async function hurryFeed(db: Queryable, id: number, at: Date): Promise<void> {
  const hurry =
    'UPDATE feeds SET next_at = $2, etag = NULL, last_modified = NULL WHERE id = $1 AND fetching_since IS NULL';
  await db.query(hurry, [id, at]);
}

/** A file whose import failed is asked for again, though it is the same. */
const FAILED = `EXISTS (SELECT FROM imports i WHERE i.id = import_id AND i.state IN ('failed', 'interrupted'))`;

/** Targets of feeds that need attention. */
export const FAILING_FEEDS = `SELECT target FROM feeds WHERE error IS NOT NULL OR ${FAILED} ORDER BY feeds.id`;

/**
 * Takes one that is due, on one copy of the server alone. It is due again after the lease, in case this copy is killed; how
 * it ends sets the time of the next fetch.
 */
const TAKE = `
  UPDATE feeds SET etag = CASE WHEN NOT ${FAILED} THEN etag END,
    last_modified = CASE WHEN NOT ${FAILED} THEN last_modified END,
    error = CASE WHEN fetching_since IS NULL THEN error ELSE '${INTERRUPTED}' END,
    fetching_since = $1, next_at = $1::timestamptz + $2 * interval '1 millisecond'
  WHERE id = (SELECT id FROM feeds WHERE next_at <= $1 ORDER BY next_at LIMIT 1 FOR UPDATE SKIP LOCKED)
  RETURNING ${COLUMNS}`;

/** @param leaseMs longer than any fetch takes */
export const takeDueFeed = async (db: Queryable, at: Date, leaseMs: number): Promise<FeedRow | null> =>
  (await db.query<FeedRow>(TAKE, [at, leaseMs])).rows[0] ?? null;

export interface FeedNews {
  readonly at: Date;
  readonly etag: string | null;
  readonly lastModified: string | null;
  /** Null where the file is the one of last time. */
  readonly importId: string | null;
}

const IS_NEXT = 'next_at = fetching_since + make_interval(mins => every_minutes), fetching_since = NULL';
/** An import that waits to be confirmed is reported until somebody has looked at it. */
const WAITS =
  "EXISTS (SELECT FROM imports i WHERE i.id = coalesce($5, import_id) AND i.state IN ('previewing', 'previewed'))";

export async function noteFetched(db: Queryable, id: number, news: FeedNews): Promise<void> {
  const { at, etag, lastModified, importId } = news;
  await db.query(
    `UPDATE feeds SET fetched_at = $2, etag = $3, last_modified = $4, import_id = coalesce($5, import_id),
       error = CASE WHEN ${WAITS} THEN $6 END, ${IS_NEXT}
     WHERE id = $1`,
    [id, at, etag, lastModified, importId, WAITING],
  );
}
const WAITING =
  'Its newest file would archive more than a tenth of what there is. Look at it under Recent imports, and import or drop it.';

/** @param againMs how soon it is tried again, where that is before it would be due */
export async function noteFeedFailed(db: Queryable, id: number, error: string, againMs: number): Promise<void> {
  await db.query(
    `UPDATE feeds SET error = $2, etag = NULL, last_modified = NULL, fetching_since = NULL,
       next_at = fetching_since + least(make_interval(mins => every_minutes), $3::float * interval '1 millisecond')
     WHERE id = $1`,
    [id, error, Number.isFinite(againMs) ? againMs : null],
  );
}
