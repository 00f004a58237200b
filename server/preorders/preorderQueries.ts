import { waitlist } from '#core/requests/waitlist.ts';
import type { z } from 'zod';
import type { PreorderState } from '#core/requests/preorder.ts';
import type { listPreorderGoods } from '#core/contract/preorderCalls.ts';
import type { ShipDates } from '#core/fulfilment/shipping.ts';
import type { LocalisedText } from '#core/model/localisedText.ts';
import { inScope, type Scope } from '../scope/scope.ts';
import { isTitled, VARIANT_TITLE } from '../catalog/titles.ts';
import { partOf, type Queryable } from '../db/database.ts';
import { readPage, type Page } from '../db/page.ts';

const RESERVE = `
  INSERT INTO preorders (variant_id, customer_id, email, name, locale, units, unit_price, order_number, rule_id,
    ships_from, ships_until, created_at, changed_at)
  SELECT v.id, c.id, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $12
  FROM variants v LEFT JOIN customers c ON c.external_id = $2 AND c.archived_at IS NULL WHERE v.external_id = $1`;

export interface Reserving {
  readonly variant: string;
  readonly customer: string | null;
  readonly email: string | null;
  readonly name: string | null;
  readonly locale: string | null;
  readonly units: number;
  readonly unitPrice: number | null;
  readonly order: string;
  readonly rule: string | null;
  readonly ships: ShipDates;
  readonly at: Date;
}

export async function insertPreorder(db: Queryable, one: Reserving): Promise<void> {
  const { variant, customer, email, name, locale, units, unitPrice, order, rule, ships, at } = one;
  const who = [variant, customer, email, name, locale];
  await db.query(RESERVE, [...who, units, unitPrice, order, rule, ships.from, ships.until, at]);
}

const USE = `
  WITH bought AS (
    SELECT v.id, v.product_id, o.units FROM unnest($1::text[], $2::bigint[]) AS o (id, units)
      JOIN variants v ON v.external_id = o.id),
  turn AS (
    SELECT w.id AS entry, i.id AS invitation, i.units, sum(b.units) AS bought
    FROM waitlist_entries w
      JOIN bought b ON b.product_id = w.product_id AND (w.variant_id IS NULL OR w.variant_id = b.id)
      JOIN LATERAL (SELECT id, units FROM invitations WHERE entry_id = w.id ORDER BY id DESC LIMIT 1) i ON true
    WHERE w.state = ANY($6) AND (w.customer_id IN (SELECT id FROM customers WHERE external_id = $4)
      OR (w.id = ANY($3) AND NOT w.account_only))
    GROUP BY w.id, i.id, i.units),
  used AS (
    UPDATE invitations i SET units = turn.units - turn.bought FROM turn
    WHERE i.id = turn.invitation AND turn.units > turn.bought)
  UPDATE waitlist_entries w SET state = $7, changed_at = $5 FROM turn
  WHERE w.id = turn.entry AND (turn.units IS NULL OR turn.units <= turn.bought)`;

/**
 * Uses up the turns that somebody had to buy these variants. A turn with units left goes on.
 * @param entries whose links the order came with
 */
export async function useInvitations(
  db: Queryable,
  {
    lines,
    entries,
    customer,
    at,
  }: {
    lines: readonly { readonly variantId: string; readonly quantity: number }[];
    entries: readonly number[];
    customer: string | null;
    at: Date;
  },
): Promise<void> {
  const variants = lines.map(({ variantId }) => variantId);
  const units = lines.map(({ quantity }) => quantity);
  const { from, to } = waitlist.transitions.buy;
  await db.query(USE, [variants, units, entries, customer, at, from, to[0]]);
}

const DAY = (column: string) => `to_char(${column}, 'YYYY-MM-DD')`;
const GOODS = `
  SELECT count(*) OVER () AS total, (sum(o.reserved) OVER ())::bigint AS "allReserved", p.external_id AS product,
    v.external_id AS variant, p.title,
    ${VARIANT_TITLE} AS "variantTitle",
    o.reserved, o.allocated, o.people, CASE WHEN v.stock_tracked THEN v.stock_quantity END AS stock,
    ${DAY('o.ships_from')} AS "from", ${DAY('o.ships_until')} AS "until"
  FROM (SELECT variant_id, coalesce(sum(units) FILTER (WHERE state = 'reserved'), 0) AS reserved,
          coalesce(sum(units) FILTER (WHERE state = 'allocated'), 0) AS allocated,
          count(*) FILTER (WHERE state = 'reserved') AS people,
          min(ships_from) FILTER (WHERE state = 'reserved') AS ships_from,
          max(ships_until) FILTER (WHERE state = 'reserved') AS ships_until
        FROM preorders GROUP BY variant_id) o
    JOIN variants v ON v.id = o.variant_id JOIN products p ON p.id = v.product_id
  WHERE ${inScope('$1', 'p.id')} AND ($2::text IS NULL OR ${isTitled('$2')}) AND ($3::text IS NULL OR p.external_id = $3)
    AND ($4::text IS NULL OR v.external_id = $4)
  ORDER BY coalesce(o.ships_from, o.ships_until) NULLS LAST, p.external_id, v.id OFFSET $5 LIMIT $6`;

export interface GoodsRow {
  product: string;
  variant: string;
  title: LocalisedText;
  variantTitle: string | null;
  reserved: number;
  allocated: number;
  people: number;
  /** Units reserved of all variants found. */
  allReserved: number;
  stock: number | null;
  from: string | null;
  until: string | null;
}

type GoodsFilters = z.infer<(typeof listPreorderGoods)['query']>;

/** The variants that were ever pre-ordered, the soonest to ship first. */
export function pageOfGoods(
  db: Queryable,
  { search, product, variant, after, limit }: GoodsFilters,
  { names }: Scope,
): Promise<Page<GoodsRow>> {
  return readPage(db, GOODS, [names, partOf(search), product ?? null, variant ?? null, after], limit);
}

export interface PreorderRow {
  id: number;
  order: string | null;
  customer: string | null;
  name: string | null;
  email: string | null;
  locale: string | null;
  units: number;
  unitPrice: number | null;
  state: PreorderState;
  from: string | null;
  until: string | null;
  createdAt: Date;
  changedAt: Date;
}

const COLUMNS = `o.id, o.order_number AS order, c.external_id AS customer, coalesce(o.name, c.name) AS name,
  coalesce(o.email, c.email) AS email, o.locale, o.units, o.unit_price AS "unitPrice", o.state,
  ${DAY('o.ships_from')} AS "from", ${DAY('o.ships_until')} AS "until",
  o.created_at AS "createdAt", o.changed_at AS "changedAt"`;
const FROM = 'preorders o JOIN variants v ON v.id = o.variant_id LEFT JOIN customers c ON c.id = o.customer_id';
const FITTING = `v.external_id = $1 AND ($2::text IS NULL OR o.state = $2)
  AND ($3::text IS NULL OR o.name ILIKE $3 OR c.name ILIKE $3 OR o.email ILIKE $3 OR c.email ILIKE $3
    OR o.order_number ILIKE $3)`;
const PAGE = `
  SELECT ${COLUMNS}, (SELECT count(*) FROM ${FROM} WHERE ${FITTING}) AS total
  FROM ${FROM} WHERE ${FITTING} AND ($4::bigint IS NULL OR o.id > $4) ORDER BY o.id LIMIT $5`;

export interface PreorderFilters {
  readonly variant: string;
  readonly state?: string | undefined;
  readonly search?: string | undefined;
  readonly after?: number | undefined;
  readonly limit: number;
}

/** The reservations of a variant in the order in which they were made. */
export async function pageOfPreorders(
  db: Queryable,
  { variant, state, search, after, limit }: PreorderFilters,
): Promise<Page<PreorderRow>> {
  return readPage(db, PAGE, [variant, state ?? null, partOf(search), after ?? null], limit);
}

const KNOWN = `
  SELECT FROM variants v WHERE v.external_id = $1 AND ${inScope('$2', 'v.product_id')}`;

/** Whether the variant exists within the scope. */
export const isVariant = async (db: Queryable, variant: string, { names }: Scope): Promise<boolean> =>
  (await db.query(KNOWN, [variant, names])).rowCount === 1;

/** @returns a variant's reservations in turn; the lock of its product protects them */
export async function waitingUnits(db: Queryable, variant: string): Promise<{ id: string; units: number }[]> {
  const { rows } = await db.query<{ id: string; units: number }>(
    `SELECT o.id::text, o.units FROM ${FROM} WHERE v.external_id = $1 AND o.state = 'reserved' ORDER BY o.id`,
    [variant],
  );
  return rows;
}

const BY_IDS = `SELECT ${COLUMNS}, v.external_id AS variant FROM ${FROM} WHERE o.id = ANY($1) ORDER BY o.id`;

export type PreorderOfVariant = PreorderRow & { readonly variant: string };

export async function preordersByIds(db: Queryable, ids: readonly number[]): Promise<PreorderOfVariant[]> {
  return (await db.query<PreorderOfVariant>(BY_IDS, [ids])).rows;
}

const REDATE = `
  UPDATE preorders SET ships_from = $2, ships_until = $3
  WHERE state = ANY($4) AND variant_id = (SELECT id FROM variants WHERE external_id = $1) RETURNING id`;

/** Gives reservations of a variant in these states another ship date. @returns their ids */
export async function redate(
  db: Queryable,
  variant: string,
  { from, until, states }: ShipDates & { states: readonly PreorderState[] },
): Promise<number[]> {
  return (await db.query<{ id: number }>(REDATE, [variant, from, until, states])).rows.map(({ id }) => id);
}

const STATUSES = `
  SELECT v.external_id AS variant, sum(o.units) AS units FROM ${FROM}
  WHERE c.external_id = $1 AND c.archived_at IS NULL AND o.state IN ('reserved', 'allocated') GROUP BY v.external_id`;

/** Reservations of a customer that were not sent. */
export async function reservedBy(db: Queryable, customer: string): Promise<{ variant: string; units: number }[]> {
  const query = { name: 'preorder-statuses', text: STATUSES, values: [customer] };
  return (await db.query<{ variant: string; units: number }>(query)).rows;
}
