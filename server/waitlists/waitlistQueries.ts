import type { z } from 'zod';
import type { listWaitlists, Waitlist } from '#core/contract/waitlistCalls.ts';
import type { WaitlistState } from '#core/requests/waitlist.ts';
import type { LocalisedText } from '#core/model/localisedText.ts';
import { inScope, type Scope } from '../scope/scope.ts';
import { isTitled, VARIANT_TITLE } from '../catalog/titles.ts';
import { promisedUnits } from '../requests/promisedUnits.ts';
import { partOf, type Queryable } from '../db/database.ts';
import { readPage, type Page } from '../db/page.ts';

/** A list, by our keys; without a variant it is the product's. */
export interface ListKey {
  readonly productKey: number;
  readonly variantKey: number | null;
}

export interface ListRow extends ListKey {
  product: string;
  variant: string | null;
  /** Seller's name in the catalog. */
  soldBy: string | null;
  title: LocalisedText;
  path: string | null;
  variantTitle: string | null;
}

const LIST_COLUMNS = `
  p.id AS "productKey", v.id AS "variantKey", p.external_id AS product, v.external_id AS variant, p.seller AS "soldBy", p.title, p.path,
  ${VARIANT_TITLE} AS "variantTitle"`;
const FIND = `
  SELECT ${LIST_COLUMNS} FROM products p LEFT JOIN variants v ON v.product_id = p.id AND v.external_id = $2
  WHERE p.external_id = $1 AND ($2::text IS NULL OR v.id IS NOT NULL) AND ${inScope('$3', 'p.id')}`;

/** A list by the shop's ids, whether or not anybody is on it; null when there are no such goods within the scope. */
export async function findList(
  db: Queryable,
  { product, variant }: Pick<ListRow, 'product' | 'variant'>,
  { names }: Scope,
): Promise<ListRow | null> {
  const { rows } = await db.query<ListRow>(FIND, [product, variant, names]);
  return rows[0] ?? null;
}

const LISTS = `
  SELECT count(*) OVER () AS total, (sum(w.waiting) OVER ())::bigint AS "allWaiting", ${LIST_COLUMNS}, w.waiting, w.invited, w.bought, w.lapsed, w.oldest, s.invite_for_hours AS "inviteForHours",
    ${promisedUnits('p.id', 'v.id')} AS promised,
    CASE WHEN v.id IS NOT NULL THEN CASE WHEN v.stock_tracked THEN v.stock_quantity END
      ELSE (SELECT sum(stock_quantity) FROM variants o
            WHERE o.product_id = p.id AND o.archived_at IS NULL AND o.stock_tracked) END AS stock
  FROM (SELECT product_id, variant_id, count(*) FILTER (WHERE state = 'waiting') AS waiting,
          count(*) FILTER (WHERE state = 'invited') AS invited, count(*) FILTER (WHERE state = 'bought') AS bought,
          count(*) FILTER (WHERE state = 'lapsed') AS lapsed,
          min(joined_at) FILTER (WHERE state = 'waiting') AS oldest
        FROM waitlist_entries GROUP BY product_id, variant_id) w
    JOIN products p ON p.id = w.product_id LEFT JOIN variants v ON v.id = w.variant_id
    LEFT JOIN waitlist_settings s ON s.product_id = p.id AND s.variant_id IS NOT DISTINCT FROM v.id
  WHERE ${inScope('$1', 'p.id')} AND ($2::text IS NULL OR ${isTitled('$2')}) AND ($3::text IS NULL OR p.external_id = $3)
    AND CASE $4::text WHEN 'invited' THEN w.invited WHEN 'bought' THEN w.bought WHEN 'lapsed' THEN w.lapsed ELSE 1 END > 0
  ORDER BY w.waiting DESC, w.oldest NULLS LAST, p.external_id, v.external_id OFFSET $5 LIMIT $6`;

interface Listed
  extends
    ListRow,
    Pick<Waitlist, 'waiting' | 'invited' | 'promised' | 'bought' | 'lapsed' | 'stock' | 'inviteForHours'> {
  oldest: Date | null;
  /** People waiting on all lists found. */
  allWaiting: number;
}

type ListFilters = z.infer<(typeof listWaitlists)['query']>;

/** The lists in which anybody ever was, the longest first. */
export function pageOfLists(
  db: Queryable,
  { search, product, with: having, after, limit }: ListFilters,
  { names }: Scope,
): Promise<Page<Listed>> {
  return readPage(db, LISTS, [names, partOf(search), product ?? null, having ?? null, after], limit);
}

export interface EntryRow {
  id: number;
  state: WaitlistState;
  position: number | null;
  customer: string | null;
  name: string | null;
  email: string | null;
  locale: string | null;
  note: string | null;
  joinedAt: Date;
  changedAt: Date;
  until: Date | null;
}

/** A customer is called and written to as the shop knows them now. */
const PERSON = `c.external_id AS customer, coalesce(c.name, w.name) AS name, coalesce(c.email, w.email) AS email, w.locale`;
const UNTIL = `(SELECT i.expires_at FROM invitations i WHERE i.entry_id = w.id ORDER BY i.id DESC LIMIT 1)`;
const IN_LIST = 'w.product_id = $1 AND w.variant_id IS NOT DISTINCT FROM $2::bigint';

const ENTRIES = `
  WITH fitting AS (
    SELECT w.id, w.state, ${PERSON}, w.note, w.joined_at AS "joinedAt", w.changed_at AS "changedAt",
      CASE WHEN w.state = 'waiting' THEN row_number() OVER (PARTITION BY w.state = 'waiting' ORDER BY w.id) END AS position
    FROM waitlist_entries w LEFT JOIN customers c ON c.id = w.customer_id WHERE ${IN_LIST}),
  found AS (
    SELECT * FROM fitting WHERE ($3::text IS NULL OR state = $3)
      AND ($4::text IS NULL OR name ILIKE $4 OR email ILIKE $4 OR customer ILIKE $4 OR note ILIKE $4))
  SELECT w.*, CASE WHEN w.state = 'invited' THEN ${UNTIL} END AS until, (SELECT count(*) FROM found) AS total
  FROM found w WHERE $5::bigint IS NULL OR w.id > $5 ORDER BY w.id LIMIT $6`;

export interface EntryFilters {
  readonly state?: string | undefined;
  readonly search?: string | undefined;
  readonly after?: number | undefined;
  readonly limit: number;
}

/** The people of a list in the order in which they joined. */
export async function pageOfEntries(
  db: Queryable,
  { productKey, variantKey }: ListKey,
  { state, search, after, limit }: EntryFilters,
): Promise<Page<EntryRow>> {
  const values = [productKey, variantKey, state ?? null, partOf(search), after ?? null];
  return readPage(db, ENTRIES, values, limit);
}

const JOIN = `
  INSERT INTO waitlist_entries (product_id, variant_id, customer_id, email, name, locale, joined_at, changed_at, account_only)
  SELECT $1, $2, c.id, CASE WHEN c.id IS NULL THEN $4 END, $5, $6, $7, $7, $8
  FROM (SELECT 1) one LEFT JOIN customers c ON c.external_id = $3 AND c.archived_at IS NULL
  WHERE c.id IS NOT NULL OR $4::text IS NOT NULL
  ON CONFLICT DO NOTHING RETURNING id`;

export interface Joining {
  readonly customer: string | null;
  readonly email: string | null;
  readonly name: string | null;
  readonly locale: string | null;
  readonly at: Date;
  /** Whether the list asks for an account, so that an invitation is that account's alone. */
  readonly accountOnly: boolean;
}

/** @returns the entry's id; null if the person is on the list already or cannot be reached */
export async function insertEntry(db: Queryable, list: ListKey, who: Joining): Promise<number | null> {
  const { customer, email, name, locale, at, accountOnly } = who;
  const values = [list.productKey, list.variantKey, customer, email, name, locale, at, accountOnly];
  const { rows } = await db.query<{ id: number }>(JOIN, values);
  return rows[0]?.id ?? null;
}

const OPEN = `
  SELECT w.id FROM waitlist_entries w LEFT JOIN customers c ON c.id = w.customer_id
  WHERE ${IN_LIST} AND w.state IN ('waiting', 'invited')
    AND (c.external_id = $3 OR (w.customer_id IS NULL AND lower(w.email) = lower($4)))`;

export async function openEntryOf(
  db: Queryable,
  { productKey, variantKey }: ListKey,
  { customer, email }: Pick<Joining, 'customer' | 'email'>,
): Promise<number | null> {
  const { rows } = await db.query<{ id: number }>(OPEN, [productKey, variantKey, customer, email]);
  return rows[0]?.id ?? null;
}

const PLACE = `
  SELECT count(*) FILTER (WHERE w.id <= $3) AS position, count(*) AS length
  FROM waitlist_entries w WHERE ${IN_LIST} AND w.state = 'waiting'`;

/** Position of an entry among the people waiting. */
export async function placeOf(
  db: Queryable,
  { productKey, variantKey }: ListKey,
  id: number,
): Promise<{ position: number; length: number }> {
  const { rows } = await db.query<{ position: number; length: number }>(PLACE, [productKey, variantKey, id]);
  return rows[0] ?? { position: 0, length: 0 };
}

const NEXT = `
  SELECT w.id FROM waitlist_entries w
  WHERE ${IN_LIST} AND w.state = 'waiting' AND ($3::bigint[] IS NULL OR w.id = ANY($3))
  ORDER BY w.id LIMIT $4 FOR UPDATE`;
const INVITE = `
  INSERT INTO invitations (entry_id, invited_at, expires_at, hours, units) SELECT id, $2, $3, $4, $5
  FROM unnest($1::bigint[]) AS turned (id)`;

/** Has one transaction at a time change who is next on a list. */
export async function lockList(db: Queryable, { productKey, variantKey }: ListKey): Promise<void> {
  await db.query("SELECT pg_advisory_xact_lock(hashtextextended('waitlist ' || $1 || ' ' || $2, 0))", [
    productKey,
    variantKey ?? 0,
  ]);
}

/** An invitation's validity and units of one variant; null without an end. */
export interface Turn {
  readonly hours: number | null;
  readonly units: number | null;
}

/** The next people waiting, or those in `only`. The caller locks the list. */
export async function nextInLine(
  db: Queryable,
  { productKey, variantKey }: ListKey,
  { most, only }: { most: number; only: readonly number[] | null },
): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(NEXT, [productKey, variantKey, only, most]);
  return rows.map(({ id }) => id);
}

/** Gives turns to people. */
export async function insertInvitations(
  db: Queryable,
  ids: readonly number[],
  { at, hours, units }: { at: Date } & Turn,
): Promise<void> {
  const until = hours === null ? null : new Date(at.getTime() + hours * 3_600_000);
  await db.query(INVITE, [ids, at, until, hours, units]);
}

const WITH_LIST = `
  SELECT w.id, w.state, ${PERSON}, ${LIST_COLUMNS}, ${UNTIL} AS until
  FROM waitlist_entries w JOIN products p ON p.id = w.product_id LEFT JOIN variants v ON v.id = w.variant_id
    LEFT JOIN customers c ON c.id = w.customer_id
  WHERE w.id = ANY($1) AND ${inScope('$2', 'p.id')} ORDER BY w.id`;

export type EntryInList = ListRow & Pick<EntryRow, 'id' | 'state' | 'customer' | 'name' | 'email' | 'locale' | 'until'>;

/** Entries with the lists that they are on. */
export async function entriesByIds(db: Queryable, ids: readonly number[], { names }: Scope): Promise<EntryInList[]> {
  return (await db.query<EntryInList>(WITH_LIST, [ids, names])).rows;
}

export async function noteEntry(db: Queryable, id: number, note: string | null): Promise<void> {
  await db.query('UPDATE waitlist_entries SET note = $2 WHERE id = $1', [id, note]);
}

const IS_DUE = `w.state = 'invited' AND i.expires_at <= $1
  AND i.id = (SELECT max(id) FROM invitations o WHERE o.entry_id = w.id)`;
const LISTS_DUE = `
  SELECT DISTINCT ${LIST_COLUMNS}
  FROM waitlist_entries w JOIN invitations i ON i.entry_id = w.id
    JOIN products p ON p.id = w.product_id LEFT JOIN variants v ON v.id = w.variant_id
  WHERE ${IS_DUE} LIMIT 100`;
const DUE = `
  SELECT w.id FROM waitlist_entries w JOIN invitations i ON i.entry_id = w.id
  WHERE ${IS_DUE} AND w.product_id = $2 AND w.variant_id IS NOT DISTINCT FROM $3::bigint
  ORDER BY i.expires_at LIMIT 100`;

/** Lists on which somebody's turn is over. */
export async function listsDue(db: Queryable, at: Date): Promise<ListRow[]> {
  return (await db.query<ListRow>(LISTS_DUE, [at])).rows;
}

/** Entries of a list whose invitation has expired. The caller locks the list. */
export async function entriesDue(db: Queryable, { productKey, variantKey }: ListKey, at: Date): Promise<number[]> {
  return (await db.query<{ id: number }>(DUE, [at, productKey, variantKey])).rows.map(({ id }) => id);
}

const LAST_TURN = 'SELECT hours, units FROM invitations WHERE entry_id = $1 ORDER BY id DESC LIMIT 1';

/** The turn that somebody has or had last; null if they only waited. */
export async function lastTurnOf(db: Queryable, id: number): Promise<Turn | null> {
  return (await db.query<Turn>(LAST_TURN, [id])).rows[0] ?? null;
}

export async function writeSettings(
  db: Queryable,
  { productKey, variantKey }: ListKey,
  hours: number | null,
): Promise<void> {
  const list = 'product_id = $1 AND variant_id IS NOT DISTINCT FROM $2::bigint';
  await db.query(`DELETE FROM waitlist_settings WHERE ${list}`, [productKey, variantKey]);
  if (hours === null) return;
  const insert = 'INSERT INTO waitlist_settings (product_id, variant_id, invite_for_hours) VALUES ($1, $2, $3)';
  await db.query(insert, [productKey, variantKey, hours]);
}

const STOCKED = `
  SELECT ${LIST_COLUMNS}, s.invite_for_hours AS hours,
    coalesce((SELECT sum(greatest(o.stock_quantity, 0)) FROM variants o WHERE o.product_id = p.id
      AND o.archived_at IS NULL AND o.stock_tracked AND (v.id IS NULL OR o.id = v.id)), 0) AS stock,
    ${promisedUnits('p.id', 'v.id')} AS promised
  FROM waitlist_settings s JOIN products p ON p.id = s.product_id LEFT JOIN variants v ON v.id = s.variant_id
  WHERE EXISTS (SELECT FROM variants g WHERE g.product_id = p.id AND g.external_id = ANY($1))`;

/** The lists that invite by themselves and have something to do with these variants. */
export async function listsThatInvite(
  db: Queryable,
  variants: readonly string[],
): Promise<(ListRow & { hours: number; stock: number; promised: number })[]> {
  return (await db.query<ListRow & { hours: number; stock: number; promised: number }>(STOCKED, [variants])).rows;
}

const STATUSES = `
  SELECT w.id, CASE WHEN v.id IS NULL THEN 'product' ELSE 'variant' END AS "to",
    coalesce(v.external_id, p.external_id) AS "goods", w.state, ${UNTIL} AS until,
    (SELECT count(*) FROM waitlist_entries o WHERE o.product_id = w.product_id
      AND o.variant_id IS NOT DISTINCT FROM w.variant_id AND o.state = 'waiting' AND o.id <= w.id) AS position
  FROM waitlist_entries w JOIN products p ON p.id = w.product_id LEFT JOIN variants v ON v.id = w.variant_id
    JOIN customers c ON c.id = w.customer_id
  WHERE c.external_id = $1 AND c.archived_at IS NULL AND w.state IN ('waiting', 'invited')`;

export interface VisitorStatusRow {
  id: number;
  to: 'variant' | 'product';
  goods: string;
  state: 'waiting' | 'invited';
  until: Date | null;
  position: number;
}

/** Waitlist entries of a customer. */
export async function waitingBy(db: Queryable, customer: string): Promise<VisitorStatusRow[]> {
  return (await db.query<VisitorStatusRow>({ name: 'waitlist-statuses', text: STATUSES, values: [customer] })).rows;
}
