import type { Queryable } from './database.ts';

/** A part of a list, in its order. */
export interface Page<Row> {
  readonly rows: Row[];
  /** Total matches; 0 if the query does not count them. */
  readonly total: number;
  readonly more: boolean;
}

/**
 * Reads a page of a list.
 * @param text a query whose last value is how many rows are read, and whose rows may have a `total`
 * @param limit how many rows the page has; one more is read, to know whether there are more
 */
export async function readPage<Row extends object>(
  db: Queryable,
  text: string,
  values: readonly unknown[],
  limit: number,
): Promise<Page<Row>> {
  const { rows } = await db.query<Row & { total?: number }>(text, [...values, limit + 1]);
  const page = rows.slice(0, limit).map(({ total: _total, ...row }) => row as unknown as Row);
  return { rows: page, total: rows[0]?.total ?? 0, more: rows.length > limit };
}
