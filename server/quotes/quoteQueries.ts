import type { QuoteState } from '#core/contract/askingCalls.ts';
import type { LocalisedText } from '#core/model/localisedText.ts';
import { partOf, type Queryable } from '../db/database.ts';
import { readPage, type Page } from '../db/page.ts';
import { threadMessagesOf } from '../conversations/threadMessages.ts';
import type { Answer } from '../forms/formQueries.ts';

export interface QuoteLine {
  variant: string;
  title: LocalisedText;
  variantTitle: string | null;
  units: number;
  note: string | null;
  unitPrice: number | null;
  today: number;
  stock: number | null;
}

export interface QuoteRow {
  id: number;
  state: QuoteState;
  customer: string | null;
  name: string | null;
  email: string;
  locale: string | null;
  answers: Answer[];
  messages: { byOwner: boolean; words: string; at: string }[];
  lines: QuoteLine[];
  delivery: number | null;
  validUntil: Date | null;
  /** How often it was priced. */
  version: number;
  order: string | null;
  createdAt: Date;
  changedAt: Date;
}

const COLUMNS = `
  q.id, q.state, c.external_id AS customer, coalesce(q.name, c.name) AS name, q.email, q.locale, q.answers,
  ${threadMessagesOf('quote_id', 'q.id')} AS messages, q.delivery, q.valid_until AS "validUntil", q.version, q.order_number AS order,
  q.created_at AS "createdAt", q.changed_at AS "changedAt",
  (SELECT coalesce(json_agg(json_build_object('variant', v.external_id, 'title', p.title,
     'variantTitle', (SELECT string_agg(value, ', ') FROM jsonb_each_text(v.options)), 'units', l.units,
     'note', l.note, 'unitPrice', l.unit_price, 'today', v.price,
     'stock', CASE WHEN v.stock_tracked THEN v.stock_quantity END) ORDER BY l.id), '[]')
   FROM quote_lines l JOIN variants v ON v.id = l.variant_id JOIN products p ON p.id = v.product_id
   WHERE l.quote_id = q.id) AS lines`;
const FROM = 'quotes q LEFT JOIN customers c ON c.id = q.customer_id';
const FITTING = `($1::text IS NULL OR q.state = $1)
  AND ($2::text IS NULL OR q.id IN (
    SELECT id FROM quotes WHERE found_by ILIKE $2
    UNION SELECT r.id FROM quotes r JOIN customers k ON k.id = r.customer_id WHERE k.found_by ILIKE $2))
  AND ($3::text IS NULL OR q.id IN (
    SELECT l.quote_id FROM quote_lines l JOIN variants v ON v.id = l.variant_id JOIN products p ON p.id = v.product_id
    WHERE p.external_id = $3))`;
const PAGE = `
  SELECT ${COLUMNS}, (SELECT count(*) FROM ${FROM} WHERE ${FITTING}) AS total
  FROM ${FROM} WHERE ${FITTING} AND ($4::bigint IS NULL OR q.id < $4) ORDER BY q.id DESC LIMIT $5`;

export interface QuoteFilters {
  readonly state?: string | undefined;
  readonly search?: string | undefined;
  /** Only those that name this product. */
  readonly product?: string | undefined;
  readonly after?: number | undefined;
  readonly limit: number;
}

/** The newest first. */
export async function pageOfQuotes(
  db: Queryable,
  { state, search, product, after, limit }: QuoteFilters,
): Promise<Page<QuoteRow>> {
  return readPage(db, PAGE, [state ?? null, partOf(search), product ?? null, after ?? null], limit);
}

const COUNTS = `
  SELECT p.external_id AS product, p.title, count(DISTINCT l.quote_id)::int AS count
  FROM quote_lines l JOIN variants v ON v.id = l.variant_id JOIN products p ON p.id = v.product_id
  GROUP BY p.id ORDER BY count DESC, p.external_id LIMIT 40`;

/** How many quotes name each product, those that most do. */
export async function productsQuoted(
  db: Queryable,
): Promise<{ product: string; title: LocalisedText; count: number }[]> {
  return (await db.query<{ product: string; title: LocalisedText; count: number }>(COUNTS)).rows;
}

export async function quoteById(db: Queryable, id: number): Promise<QuoteRow | null> {
  const { rows } = await db.query<QuoteRow>(`SELECT ${COLUMNS} FROM ${FROM} WHERE q.id = $1`, [id]);
  return rows[0] ?? null;
}

export async function lockQuote(db: Queryable, id: number): Promise<void> {
  await db.query('SELECT FROM quotes WHERE id = $1 FOR UPDATE', [id]);
}

const INSERT = `
  INSERT INTO quotes (customer_id, email, name, locale, answers, created_at, changed_at)
  SELECT c.id, $2, $3, $4, $5, $6, $6
  FROM (SELECT 1) one LEFT JOIN customers c ON c.external_id = $1 AND c.archived_at IS NULL RETURNING id`;
const LINE = `
  INSERT INTO quote_lines (quote_id, variant_id, units, note, unit_price)
  SELECT $1, id, $3, $4, $5 FROM variants WHERE external_id = $2
  ON CONFLICT (quote_id, variant_id) DO UPDATE SET units = quote_lines.units + excluded.units`;

export async function insertQuote(
  db: Queryable,
  request: {
    customer: string | null;
    email: string;
    name: string | null;
    locale: string | null;
    answers: readonly Answer[];
    lines: readonly { variantId: string; quantity: number; note?: string | undefined }[];
    at: Date;
  },
): Promise<number> {
  const { customer, email, name, locale, answers, lines, at } = request;
  const { rows } = await db.query<{ id: number }>(INSERT, [customer, email, name, locale, JSON.stringify(answers), at]);
  const id = rows[0]!.id;
  for (const { variantId, quantity, note } of lines)
    await db.query(LINE, [id, variantId, quantity, note ?? null, null]);
  return id;
}

/** Replaces a quote's lines by priced ones; notes of those that stay are kept. */
export async function priceLines(
  db: Queryable,
  id: number,
  lines: readonly { variant: string; units: number; unitPrice: number }[],
): Promise<void> {
  const before = (await quoteById(db, id))?.lines ?? [];
  await db.query('DELETE FROM quote_lines WHERE quote_id = $1', [id]);
  for (const { variant, units, unitPrice } of lines) {
    const note = before.find((line) => line.variant === variant)?.note ?? null;
    await db.query(LINE, [id, variant, units, note, unitPrice]);
  }
}

/** @returns whether the quote was in one of the states that it may leave for this */
export async function moveQuote(
  db: Queryable,
  id: number,
  how: { to: QuoteState; from: readonly QuoteState[]; at: Date; delivery?: number | null; validUntil?: Date },
): Promise<boolean> {
  const { to, from, at, delivery, validUntil } = how;
  const move = `UPDATE quotes SET state = $2, changed_at = $4, delivery = CASE WHEN $5 THEN $6 ELSE delivery END,
    valid_until = coalesce($7, valid_until), version = version + CASE WHEN $2 = 'priced' THEN 1 ELSE 0 END
    WHERE id = $1 AND state = ANY($3)`;
  const values = [id, to, from, at, delivery !== undefined, delivery ?? null, validUntil ?? null];
  return (await db.query(move, values)).rowCount === 1;
}

/** Quotes whose time is over; locked, and left out where another copy has them. */
export async function quotesDue(db: Queryable, at: Date): Promise<number[]> {
  const due = `SELECT id FROM quotes WHERE state = 'priced' AND valid_until <= $1 ORDER BY id LIMIT 100
    FOR UPDATE SKIP LOCKED`;
  return (await db.query<{ id: number }>(due, [at])).rows.map(({ id }) => id);
}

const REQUESTED_PRODUCTS = `
  SELECT DISTINCT 'variant' AS to, v.external_id AS id FROM quotes q
    JOIN customers c ON c.id = q.customer_id AND c.external_id = $1
    JOIN quote_lines l ON l.quote_id = q.id JOIN variants v ON v.id = l.variant_id WHERE q.state = 'asked'
  UNION ALL
  SELECT DISTINCT 'product', p.external_id FROM enquiries e
    JOIN customers c ON c.id = e.customer_id AND c.external_id = $1
    JOIN products p ON p.id = e.product_id WHERE e.state = 'open'`;

/** Goods that a customer asked a price for, or about, and has not been answered. */
export async function requestedProducts(
  db: Queryable,
  customer: string,
): Promise<{ to: 'variant' | 'product'; id: string }[]> {
  const query = { name: 'asked-standings', text: REQUESTED_PRODUCTS, values: [customer] };
  return (await db.query<{ to: 'variant' | 'product'; id: string }>(query)).rows;
}
