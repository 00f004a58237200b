import { exportRecord, listRecord, type RecordEntry } from '#core/contract/recordCalls.ts';
import { didWords, RECORD_WORDS } from '#core/contract/recordWords.ts';
import type { Services } from '../services/services.ts';
import type { Queryable } from '../db/database.ts';
import { readPage, type Page } from '../db/page.ts';
import { csvFile } from '../http/csvFile.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { attachment, reply, route } from '../http/route.ts';

interface Wanted {
  readonly search?: string | undefined;
  readonly who?: string | undefined;
  readonly after?: number | undefined;
}

/** The draft's earlier rules (`before`) are not searched. */
const FIND = `
  WITH found AS (
    SELECT id, at, who, staff_id AS "staffId", email, did, detail FROM audit
    WHERE ($2::text IS NULL OR who = $2 OR email = $2)
      AND ($3::text IS NULL OR did = ANY($4)
        OR strpos(lower(concat_ws(' ', who, email) || ' ' || did || ' ' || (detail - 'before')::text), lower($3)) > 0))
  SELECT *, (SELECT count(*) FROM found) AS total FROM found WHERE $1::bigint IS NULL OR id < $1
  ORDER BY id DESC LIMIT $5`;

type Row = Omit<RecordEntry, 'at'> & { at: Date };

function find(db: Queryable, { search, who, after }: Wanted, limit: number): Promise<Page<Row>> {
  const wanted = search?.toLowerCase();
  const calls = Object.keys(RECORD_WORDS).filter(
    (name) => wanted !== undefined && didWords(name).toLowerCase().includes(wanted),
  );
  return readPage<Row>(db, FIND, [after ?? null, who ?? null, search ?? null, calls], limit);
}

/** More are no file for a person. */
const MOST_EXPORTED = 100_000;
const CSV_COLUMNS = ['at', 'who', 'email', 'did', 'about'];

/** Calls that read the record. */
export function recordRoutes(endpoints: Endpoints, { db }: Pick<Services, 'db'>): void {
  route(endpoints, listRecord, async ({ query: { limit, ...wanted } }) => {
    const { rows: found, total, more } = await find(db, wanted, limit);
    const everyone = 'SELECT DISTINCT who, email FROM audit ORDER BY who, email LIMIT 500';
    const { rows: people } = await db.query<{ who: string; email: string | null }>(everyone);
    const entries = found.map(({ at, ...entry }) => ({ ...entry, at: at.toISOString() }));
    return reply(200, { entries, total, more, people });
  });

  route(endpoints, exportRecord, async ({ query }) => {
    const { rows } = await find(db, query, MOST_EXPORTED);
    const lines = rows.map(({ at, who, email, did, detail: { before: _before, ...about } }) => ({
      at: at.toISOString(),
      who,
      email,
      did: didWords(did),
      about: JSON.stringify(about),
    }));
    const csv = csvFile(lines, CSV_COLUMNS);
    return reply(200, csv, attachment('record.csv'));
  });
}
