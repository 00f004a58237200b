import type { Queryable } from '../db/database.ts';

const SPELLINGS = `
  WITH given AS (
    INSERT INTO tags (key, name) SELECT * FROM unnest($1::text[], $2::text[]) ON CONFLICT DO NOTHING
    RETURNING key, name)
  SELECT key, name FROM given UNION SELECT key, name FROM tags WHERE key = ANY($1)`;

/** Finds the first spelling of each tag, by its comparison key, and records new ones. */
export async function firstSpellings(db: Queryable, tags: ReadonlyMap<string, string>): Promise<Map<string, string>> {
  const { rows } = await db.query<{ key: string; name: string }>(SPELLINGS, [[...tags.keys()], [...tags.values()]]);
  return new Map(rows.map(({ key, name }) => [key, name]));
}
