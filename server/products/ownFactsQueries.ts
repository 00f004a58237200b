import { changedOwn, type OwnChanges, type OwnFacts } from '#core/model/ownFacts.ts';
import type { z } from 'zod';
import type { FactChange, OwnFacts as SaidFacts } from '#core/contract/ownFactsCalls.ts';
import type { Queryable } from '../db/database.ts';

const INSERT = `
  WITH change AS (
    INSERT INTO fact_changes (made_at, made_by, changes) VALUES ($1, $2, $3) RETURNING id),
  placed AS (
    INSERT INTO fact_change_products (change_id, product_id)
    SELECT change.id, p.id FROM change, products p WHERE p.external_id = ANY($4) AND p.archived_at IS NULL)
  SELECT id FROM change`;

/** Stores a change of many products. @returns its id */
export async function insertFactChange(
  db: Queryable,
  {
    at,
    by,
    changes,
    ids,
  }: { readonly at: Date; readonly by: string; readonly changes: OwnChanges; readonly ids: readonly string[] },
): Promise<number> {
  const { rows } = await db.query<{ id: number }>(INSERT, [at, by, JSON.stringify(changes), ids]);
  return rows[0]!.id;
}

const LIST = `
  SELECT c.id, c.made_at AS "madeAt", c.made_by AS "madeBy", c.changes, c.is_undoing AS "isUndoing",
    count(p.product_id)::int AS products, count(p.product_id) FILTER (WHERE p.is_done)::int AS done
  FROM fact_changes c LEFT JOIN fact_change_products p ON p.change_id = c.id
  WHERE $1::bigint IS NULL OR c.id = $1
  GROUP BY c.id ORDER BY c.id DESC LIMIT 50`;

/** The newest first, or only the given one. */
export async function factChanges(db: Queryable, id: number | null): Promise<FactChange[]> {
  const { rows } = await db.query<Omit<FactChange, 'madeAt'> & { madeAt: Date }>(LIST, [id]);
  return rows.map(({ madeAt, ...row }) => ({ ...row, madeAt: madeAt.toISOString() }));
}

/** @returns whether the change exists */
export async function beginUndoing(db: Queryable, id: number): Promise<boolean> {
  const { rowCount } = await db.query('UPDATE fact_changes SET is_undoing = true WHERE id = $1', [id]);
  return rowCount === 1;
}

interface Pending {
  readonly product: string;
  readonly own: OwnFacts | null;
  readonly fileTags: readonly string[];
  readonly before: OwnFacts | null;
  readonly isAsLeft: boolean;
}

const NEXT = `
  SELECT p.id::text AS product, p.own, p.file_tags AS "fileTags", c.own_before AS before,
    p.own IS NOT DISTINCT FROM c.own_after AS "isAsLeft"
  FROM fact_change_products c JOIN products p ON p.id = c.product_id
  WHERE c.change_id = $1 AND c.is_done = $2 ORDER BY c.product_id LIMIT $3 FOR NO KEY UPDATE OF p, c`;

const WRITE = `
  WITH given AS (SELECT * FROM jsonb_to_recordset($2) AS g (product bigint, own jsonb, before jsonb)),
  written AS (
    UPDATE products p SET own = nullif(g.own, 'null'), revision = revision + 1 FROM given g
    WHERE p.id = g.product AND p.own IS DISTINCT FROM nullif(g.own, 'null'))
  UPDATE fact_change_products c SET is_done = $3, own_before = nullif(g.before, 'null'), own_after = nullif(g.own, 'null')
  FROM given g WHERE c.change_id = $1 AND c.product_id = g.product`;

const CHANGE = `SELECT changes, is_undoing AS "isUndoing" FROM fact_changes WHERE id = $1`;

/**
 * Does, or takes back, some of a change, in a transaction of the caller's. What was changed anew since is not taken back.
 * @returns how many products it was done for; none when all is done
 */
export async function doSome(client: Queryable, id: number, most: number): Promise<number> {
  const { rows: found } = await client.query<{ changes: OwnChanges; isUndoing: boolean }>(CHANGE, [id]);
  const [change] = found;
  if (!change) return 0;
  const { changes, isUndoing } = change;
  const { rows } = await client.query<Pending>(NEXT, [id, isUndoing, most]);
  const written = rows.map(({ product, own, fileTags, before, isAsLeft }) =>
    isUndoing
      ? { product, own: isAsLeft ? before : own, before }
      : { product, own: changedOwn(own, fileTags, changes), before: own },
  );
  if (written.length > 0) await client.query(WRITE, [id, JSON.stringify(written), !isUndoing]);
  return written.length;
}

const FACTS = `
  SELECT file_tags AS tags, file_attributes AS attributes, file_dates AS dates, own
  FROM products WHERE external_id = $1 AND archived_at IS NULL`;

interface FactsRow {
  readonly tags: string[];
  readonly attributes: Record<string, string>;
  readonly dates: Record<string, string>;
  readonly own: z.infer<typeof SaidFacts> | null;
}

/** A product's facts from the file, and those edited in Understudy. */
export async function factsOf(db: Queryable, id: string): Promise<FactsRow | undefined> {
  return (await db.query<FactsRow>(FACTS, [id])).rows[0];
}

/** Deletes what is needed to undo changes made before an instant. */
export async function forgetFactChanges(db: Queryable, before: Date): Promise<void> {
  await db.query('DELETE FROM fact_changes WHERE made_at < $1', [before]);
}
