import type { CatalogView } from '#core/contract/findCalls.ts';
import type { Database, Queryable } from '../db/database.ts';

const ALL = `SELECT name, query FROM catalog_views ORDER BY lower(name), name`;

export async function readViews(db: Queryable): Promise<CatalogView[]> {
  return (await db.query<CatalogView>(ALL)).rows;
}

const INSERT = `
  INSERT INTO catalog_views (name, query)
  SELECT v.name, v.query FROM jsonb_to_recordset($1::jsonb) AS v(name text, query text)`;

/** Keeps these views of the catalog, and no others. */
export async function writeViews(db: Database, views: readonly CatalogView[]): Promise<void> {
  await db.transaction(async (client) => {
    await client.query('DELETE FROM catalog_views');
    await client.query(INSERT, [JSON.stringify(views)]);
  });
}
