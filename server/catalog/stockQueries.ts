import type { Queryable } from '../db/database.ts';

export interface StockChange {
  readonly variantId: string;
  readonly quantity?: number | undefined;
  readonly tracked?: boolean | undefined;
  readonly sellPastZero?: boolean | undefined;
}

const WRITE_STOCK = `
  WITH given AS (
    SELECT * FROM jsonb_to_recordset($1)
      AS g ("variantId" text, quantity integer, tracked boolean, "sellPastZero" boolean)),
  written AS (
    UPDATE variants v SET stock_written = nextval('write_order'),
      stock_quantity = coalesce(g.quantity, v.stock_quantity),
      stock_tracked = coalesce(g.tracked, v.stock_tracked),
      sell_past_zero = coalesce(g."sellPastZero", v.sell_past_zero)
    FROM given g WHERE v.external_id = g."variantId" AND v.archived_at IS NULL
      AND (EXISTS (SELECT FROM imports WHERE state IN ('reading', 'waiting', 'running'))
        OR (v.stock_quantity, v.stock_tracked, v.sell_past_zero) IS DISTINCT FROM
        (coalesce(g.quantity, v.stock_quantity), coalesce(g.tracked, v.stock_tracked),
         coalesce(g."sellPastZero", v.sell_past_zero)))
    RETURNING v.id, v.product_id),
  revised AS (
    UPDATE products SET revision = revision + 1 WHERE id IN (SELECT product_id FROM written))
  SELECT (SELECT count(*) FROM written) AS changed, ARRAY(
    SELECT "variantId" FROM given WHERE NOT EXISTS (
      SELECT FROM variants v WHERE v.external_id = "variantId" AND v.archived_at IS NULL)) AS unknown`;

/** @returns the number of changed variants, and the ids of unknown ones */
export async function writeStock(
  db: Queryable,
  changes: readonly StockChange[],
): Promise<{ changed: number; unknown: string[] }> {
  const last = new Map(changes.map((change) => [change.variantId, change]));
  const { rows } = await db.query<{ changed: number; unknown: string[] }>(WRITE_STOCK, [
    JSON.stringify([...last.values()]),
  ]);
  return rows[0] ?? { changed: 0, unknown: [] };
}
