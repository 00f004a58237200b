import type { PageMap } from '#core/contract/pageMap.ts';
import type { MapCheck, MapPart } from '#core/contract/pageMapCalls.ts';
import { sameAddress } from '#core/model/names.ts';
import type { Queryable } from '../db/database.ts';

export interface PageMapRow {
  id: number;
  map: PageMap;
  savedAt: Date;
  savedBy: string;
  publishedAt: Date | null;
  baseline: MapCheck | null;
  newestCheck: MapCheck | null;
  notifiedAt: Date | null;
}

const COLUMNS = `
  id, map, saved_at AS "savedAt", saved_by AS "savedBy", published_at AS "publishedAt", baseline,
  newest_check AS "newestCheck", notified_at AS "notifiedAt"`;
const DRAFT = `SELECT ${COLUMNS} FROM page_maps WHERE published_at IS NULL`;
const LIVE = `SELECT ${COLUMNS} FROM page_maps WHERE published_at IS NOT NULL ORDER BY published_at DESC, id DESC LIMIT $1`;
const BY_ID = `SELECT ${COLUMNS} FROM page_maps WHERE id = $1 AND published_at IS NOT NULL`;

export async function draftMap(db: Queryable): Promise<PageMapRow | null> {
  return (await db.query<PageMapRow>(DRAFT)).rows[0] ?? null;
}

/** Published maps, the newest first: the first is live. */
export async function publishedMaps(db: Queryable, limit: number): Promise<PageMapRow[]> {
  return (await db.query<PageMapRow>(LIVE, [limit])).rows;
}

export async function liveMap(db: Queryable): Promise<PageMapRow | null> {
  return (await publishedMaps(db, 1))[0] ?? null;
}

export async function publishedMap(db: Queryable, id: number): Promise<PageMapRow | null> {
  return (await db.query<PageMapRow>(BY_ID, [id])).rows[0] ?? null;
}

const WRITE_DRAFT = `
  INSERT INTO page_maps (map, saved_at, saved_by) VALUES ($1, $2, $3)
  ON CONFLICT ((published_at IS NULL)) WHERE published_at IS NULL
  DO UPDATE SET map = excluded.map, saved_at = excluded.saved_at, saved_by = excluded.saved_by, newest_check = NULL`;

export async function writeDraftMap(db: Queryable, map: PageMap, { at, by }: { at: Date; by: string }): Promise<void> {
  await db.query(WRITE_DRAFT, [JSON.stringify(map), at, by]);
}

export async function deleteDraftMap(db: Queryable): Promise<void> {
  await db.query('DELETE FROM page_maps WHERE published_at IS NULL');
}

const PUBLISH = `
  UPDATE page_maps SET published_at = $2, baseline = $3, newest_check = $3 WHERE id = $1 AND published_at IS NULL`;

/** @returns false if the draft is gone */
export async function publishDraftMap(
  db: Queryable,
  id: number,
  { at, check }: { at: Date; check: MapCheck | null },
): Promise<boolean> {
  const { rowCount } = await db.query(PUBLISH, [id, at, check && JSON.stringify(check)]);
  // Reports of missing parts were about the previous map.
  await db.query('DELETE FROM page_map_misses');
  return rowCount === 1;
}

const INSERT_PUBLISHED = 'INSERT INTO page_maps (map, saved_at, saved_by, published_at) VALUES ($1, $2, $3, $2)';

export async function insertPublishedMap(
  db: Queryable,
  map: PageMap,
  { at, by }: { at: Date; by: string },
): Promise<void> {
  await db.query(INSERT_PUBLISHED, [JSON.stringify(map), at, by]);
  await db.query('DELETE FROM page_map_misses');
}

const KEEP_CHECK = `
  UPDATE page_maps SET newest_check = $2, baseline = coalesce(baseline, $3), notified_at = $4 WHERE id = $1`;

export async function keepCheck(
  db: Queryable,
  id: number,
  { check, baseline, notifiedAt }: { check: MapCheck; baseline: MapCheck | null; notifiedAt: Date | null },
): Promise<void> {
  await db.query(KEEP_CHECK, [id, JSON.stringify(check), baseline && JSON.stringify(baseline), notifiedAt]);
}

/** Browsers kept for each missing part; more add nothing. */
const MOST_BROWSERS = 20;
const MISS = `
  INSERT INTO page_map_misses (path, part, browser, last_at)
  SELECT p.path_key, part, $3, $4 FROM products p, unnest($2::text[]) AS part
  WHERE p.path_key = $1 AND p.archived_at IS NULL
    AND (SELECT count(*) FROM page_map_misses m WHERE m.path = $1 AND m.part = part) < ${MOST_BROWSERS}
  ON CONFLICT (path, part, browser) DO UPDATE SET last_at = excluded.last_at`;

/** Notes that a browser missed parts of a product's page; once, however often it says so. */
export async function countMisses(
  db: Queryable,
  { path, missing, browser, at }: { path: string; missing: readonly MapPart[]; browser: string; at: Date },
): Promise<void> {
  await db.query(MISS, [sameAddress(path), missing, browser, at]);
}

export interface MissRow {
  path: string;
  part: MapPart;
}

const MISSES = `
  SELECT path, part FROM page_map_misses WHERE last_at > $2::timestamptz - interval '1 day'
  GROUP BY path, part HAVING count(*) >= $1 ORDER BY count(*) DESC, path, part LIMIT 20`;

/** Parts that at least this many browsers missed recently. */
export async function missesSeen(db: Queryable, { browsers, at }: { browsers: number; at: Date }): Promise<MissRow[]> {
  return (await db.query<MissRow>(MISSES, [browsers, at])).rows;
}

const SOME_PRODUCTS = `
  SELECT external_id AS id FROM products WHERE archived_at IS NULL AND path IS NOT NULL ORDER BY id LIMIT $1`;

/** The ids of some products that have a page. */
export async function someProducts(db: Queryable, limit: number): Promise<string[]> {
  return (await db.query<{ id: string }>(SOME_PRODUCTS, [limit])).rows.map(({ id }) => id);
}
