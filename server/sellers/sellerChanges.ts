import { NEXT_REVISION } from '../rules/revisions.ts';
import type { SellerTerms } from '#core/contract/sellerCalls.ts';
import { sameName } from '#core/model/names.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import type { Queryable } from '../db/database.ts';
import { readPage, type Page } from '../db/page.ts';
import { giveQuoteParts } from '../quotes/quotePartQueries.ts';
import type { SellerRow } from '../rules/sellerQueries.ts';

const WRITE_TERMS = `
  INSERT INTO seller_defaults (allowed, publishing, copies, quotes) VALUES ($1, $2, $3, $4)
  ON CONFLICT (is_only) DO UPDATE SET allowed = $1, publishing = $2, copies = $3, quotes = $4`;
export async function writeSellerTerms(db: Queryable, terms: SellerTerms): Promise<void> {
  const { allowed, publishing, copies, quotes } = terms;
  await db.query(WRITE_TERMS, [JSON.stringify(allowed), publishing, copies, quotes]);
}

/** Counts products by seller name in the catalog. */
export async function productsByName(db: Queryable): Promise<{ name: string; products: number }[]> {
  const count = `
    SELECT seller AS name, count(*)::int AS products FROM products
    WHERE archived_at IS NULL AND seller IS NOT NULL GROUP BY seller`;
  return (await db.query<{ name: string; products: number }>(count)).rows;
}

export async function insertSeller(db: Queryable, id: string, name: string, at: Date): Promise<void> {
  await db.query('INSERT INTO sellers (id, name, saved_at) VALUES ($1, $2, $3)', [id, name, at]);
}

/**
 * Makes these names of the catalog a seller's, and no others.
 * @returns one that is another's, and then nothing was changed
 */
export async function takeNames(db: Queryable, id: string, names: readonly string[]): Promise<string | null> {
  const byKey = new Map(names.map((name) => [sameName(name), name.trim()]));
  const keys = [...byKey.keys()];
  const taken = 'SELECT name FROM seller_names WHERE key = ANY($1) AND seller_id <> $2 ORDER BY name LIMIT 1';
  const other = (await db.query<{ name: string }>(taken, [keys, id])).rows[0];
  if (other) return other.name;
  await db.query('DELETE FROM seller_names WHERE seller_id = $1', [id]);
  const give =
    'INSERT INTO seller_names (key, name, seller_id) SELECT key, name, $3 FROM unnest($1::text[], $2::text[]) AS n (key, name)';
  await db.query(give, [keys, [...byKey.values()], id]);
  return null;
}

type Settings = Pick<SellerRow, 'id' | 'name' | 'allowed' | 'publishing'>;
export async function writeSettings(db: Queryable, { id, name, allowed, publishing }: Settings): Promise<void> {
  const write = 'UPDATE sellers SET name = $2, allowed = $3, publishing = $4 WHERE id = $1';
  await db.query(write, [id, name, allowed && JSON.stringify(allowed), publishing]);
}

export async function deleteSeller(db: Queryable, id: string): Promise<void> {
  const end = `DELETE FROM sessions WHERE (sess->>'staffId')::bigint IN (SELECT id FROM staff WHERE seller_id = $1)`;
  await db.query(end, [id]);
  await giveQuoteParts(db, id, null);
  await db.query('DELETE FROM sellers WHERE id = $1', [id]);
}

/** Merges one seller into another, whose rules come first. */
export async function giveTo(db: Queryable, { id, live, draft }: SellerRow, into: SellerRow): Promise<void> {
  await db.query('UPDATE seller_names SET seller_id = $2 WHERE seller_id = $1', [id, into.id]);
  await db.query('UPDATE staff SET seller_id = $2 WHERE seller_id = $1', [id, into.id]);
  await giveQuoteParts(db, id, into.id);
  await db.query('UPDATE messages SET seller_id = $2 WHERE seller_id = $1', [id, into.id]);
  await db.query('UPDATE thread_messages SET seller_id = $2 WHERE seller_id = $1', [id, into.id]);
  const apart = (own: readonly Rule[], theirs: readonly Rule[]) => {
    const ids = new Set(own.map((rule) => rule.id));
    return [
      ...own,
      ...theirs.map((rule) => (ids.has(rule.id) ? { ...rule, id: `${rule.id}-${id}`.slice(0, 100) } : rule)),
    ];
  };
  const write = `UPDATE sellers SET live = $2, draft = $3, revision = ${NEXT_REVISION} WHERE id = $1`;
  await db.query(write, [into.id, JSON.stringify(apart(into.live, live)), JSON.stringify(apart(into.draft, draft))]);
}

const WRITE_DRAFT = `
  UPDATE sellers SET draft = $2, revision = ${NEXT_REVISION}, saved_at = $3, saved_by = $4
  WHERE id = $1 AND ($5::bigint IS NULL OR revision = $5) RETURNING revision`;

/** @param revision required of the draft; null accepts every one @returns the new revision, or null if it differs */
export async function writeSellerDraft(
  db: Queryable,
  id: string,
  { rules, at, by, revision }: { rules: readonly Rule[]; at: Date; by: string; revision: number | null },
): Promise<number | null> {
  const { rows } = await db.query<{ revision: number }>(WRITE_DRAFT, [id, JSON.stringify(rules), at, by, revision]);
  return rows[0]?.revision ?? null;
}

/** Submits rules to the owner, or withdraws them with null. @param refusal the owner's words of refusal, if any */
export async function writeAsked(
  db: Queryable,
  id: string,
  asked: { readonly rules: readonly Rule[]; readonly at: Date; readonly by: string } | null,
  refusal: string | null = null,
): Promise<void> {
  const write = 'UPDATE sellers SET asked = $2, asked_at = $3, asked_by = $4, refusal = $5 WHERE id = $1';
  await db.query(write, [id, asked && JSON.stringify(asked.rules), asked?.at ?? null, asked?.by ?? null, refusal]);
}

const PUBLISH = `
  INSERT INTO seller_editions (seller_id, number, rules, published_at, published_by, allowed_by)
  SELECT $1, coalesce(max(number), 0) + 1, $2, $3, $4, $5 FROM seller_editions WHERE seller_id = $1
  RETURNING number`;

/** Makes a seller's rules count. The seller must be locked. @returns the number of the edition */
export async function publishRules(
  db: Queryable,
  id: string,
  { rules, at, by, allowedBy }: { rules: readonly Rule[]; at: Date; by: string; allowedBy: string | null },
): Promise<number> {
  await db.query('UPDATE sellers SET live = $2 WHERE id = $1', [id, JSON.stringify(rules)]);
  await writeAsked(db, id, null);
  const { rows } = await db.query<{ number: number }>(PUBLISH, [id, JSON.stringify(rules), at, by, allowedBy]);
  return rows[0]?.number ?? 0;
}

export interface SellerEditionRow {
  readonly number: number;
  readonly rules: readonly Rule[];
  readonly publishedAt: Date;
  readonly publishedBy: string;
  readonly allowedBy: string | null;
}

const EDITIONS = `
  SELECT number, rules, published_at AS "publishedAt", published_by AS "publishedBy", allowed_by AS "allowedBy"
  FROM seller_editions WHERE seller_id = $1 AND ($2::bigint IS NULL OR number = $2) ORDER BY number DESC OFFSET $3 LIMIT $4`;

/** Editions of a seller, the newest first. */
export const sellerEditions = (
  db: Queryable,
  id: string,
  { after = 0, limit = 100 }: { after?: number; limit?: number } = {},
): Promise<Page<SellerEditionRow>> => readPage<SellerEditionRow>(db, EDITIONS, [id, null, after], limit);

/** @returns null where the seller has no such edition */
export const sellerEdition = async (db: Queryable, id: string, number: number): Promise<SellerEditionRow | null> =>
  (await db.query<SellerEditionRow>(EDITIONS, [id, number, 0, 1])).rows[0] ?? null;
