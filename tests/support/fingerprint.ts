import type { Queryable } from '../../server/db/database.ts';

/** Columns that change by themselves: rate limits, and session expiry. */
const RESTLESS = ['rate_limits', 'sessions', 'used_links'];

/** Of all that a database keeps, table by table, so that a test can tell that nothing was changed. */
export async function fingerprint(db: Queryable): Promise<Record<string, string>> {
  const tables = await db.query<{ name: string }>(
    "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = 'public' AND table_name <> ALL ($1)",
    [RESTLESS],
  );
  const marks: Record<string, string> = {};
  for (const { name } of tables.rows) {
    const { rows } = await db.query<{ mark: string | null }>(
      `SELECT md5(string_agg(t::text, '\n' ORDER BY t::text)) AS mark FROM ${name} t`,
    );
    marks[name] = rows[0]?.mark ?? '';
  }
  return marks;
}
