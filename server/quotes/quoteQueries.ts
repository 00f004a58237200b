import { statesBefore } from '#core/requests/machine.ts';
import { quote, type QuoteCase, type QuoteState } from '#core/requests/quote.ts';
import type { LocalisedText } from '#core/model/localisedText.ts';
import type { QuotePartState } from '#core/requests/quoteParts.ts';
import type { Scope } from '../scope/scope.ts';
import { partOf, type Queryable } from '../db/database.ts';
import { readPage, type Page } from '../db/page.ts';
import { threadMessagesOf } from '../conversations/threadMessages.ts';
import type { Answer } from '../forms/formQueries.ts';

export interface QuoteLine {
  product: string;
  variant: string;
  title: LocalisedText;
  variantTitle: string | null;
  units: number;
  note: string | null;
  unitPrice: number | null;
  today: number;
  stock: number | null;
  /** The id of the seller who prices it; null for the shop. */
  seller: string | null;
}

/** Part of a quote that one seller or the shop prices. */
export interface QuotePart {
  id: number;
  seller: string | null;
  /** Name of the seller. */
  name: string | null;
  state: QuotePartState;
  delivery: number | null;
  validUntil: Date | null;
  /** Message to the customer, until it is sent. */
  words: string;
}

export interface QuoteRow {
  id: number;
  state: QuoteState;
  customer: string | null;
  name: string | null;
  email: string;
  locale: string | null;
  answers: Answer[];
  messages: { byOwner: boolean; seller: string | null; words: string; at: string }[];
  lines: QuoteLine[];
  /** The shop's part first, then sellers by name. */
  parts: QuotePart[];
  /** Whether several price it. */
  isShared: boolean;
  validUntil: Date | null;
  /** When the customer replied to what was sent, until somebody acts on it. */
  repliedAt: Date | null;
  order: string | null;
  createdAt: Date;
  changedAt: Date;
}

/** State of a quote for the shop, or for one seller, whose part may be priced before it is sent. */
const STATE = (seller: string) => `
  CASE WHEN ${seller}::text IS NULL THEN q.state ELSE (
    SELECT CASE WHEN k.state = 'turnedDown' OR q.state IN ('asked', 'priced') THEN k.state ELSE q.state END
    FROM quote_parts k WHERE k.quote_id = q.id AND k.seller_id = ${seller}) END`;
/** Whether a part, `k`, is within the scope of a seller. */
const PART = (seller: string) => `(${seller}::text IS NULL OR k.seller_id = ${seller})`;
/** When a customer replied, for those within the scope of a seller who can still act on it. */
const REPLIED = (seller: string) => `
  CASE WHEN EXISTS (SELECT FROM quote_parts k WHERE k.quote_id = q.id AND ${PART(seller)} AND k.state <> 'turnedDown')
    THEN q.replied_at END`;
const COLUMNS = (seller: string) => `
  q.id, ${STATE(seller)} AS state, c.external_id AS customer, coalesce(q.name, c.name) AS name, q.email, q.locale, q.answers,
  ${threadMessagesOf('quote_id', 'q.id', `(${seller}::text IS NULL OR NOT s.by_owner OR s.seller_id = ${seller})`)} AS messages,
  CASE WHEN q.state <> 'asked' THEN q.valid_until END AS "validUntil", q.order_number AS order, ${REPLIED(seller)} AS "repliedAt",
  q.created_at AS "createdAt", q.changed_at AS "changedAt",
  (SELECT coalesce(json_agg(json_build_object('product', p.external_id, 'variant', v.external_id, 'title', p.title,
     'variantTitle', (SELECT string_agg(value, ', ') FROM jsonb_each_text(v.options)), 'units', l.units,
     'note', l.note, 'unitPrice', l.unit_price, 'today', v.price, 'seller', k.seller_id,
     'stock', CASE WHEN v.stock_tracked THEN v.stock_quantity END) ORDER BY l.id), '[]')
   FROM quote_lines l JOIN quote_parts k ON k.id = l.part_id JOIN variants v ON v.id = l.variant_id
     JOIN products p ON p.id = v.product_id
   WHERE l.quote_id = q.id AND ${PART(seller)}) AS lines,
  (SELECT coalesce(json_agg(json_build_object('id', k.id, 'seller', k.seller_id, 'name', r.name, 'state', k.state,
     'delivery', k.delivery, 'validUntil', k.valid_until, 'words', k.words) ORDER BY lower(r.name) NULLS FIRST, k.id), '[]')
   FROM quote_parts k LEFT JOIN sellers r ON r.id = k.seller_id WHERE k.quote_id = q.id AND ${PART(seller)}) AS parts,
  (SELECT count(*) > 1 FROM quote_parts k WHERE k.quote_id = q.id) AS "isShared"`;
const FROM = 'quotes q LEFT JOIN customers c ON c.id = q.customer_id';
const FITTING = `($4::text IS NULL OR q.id IN (SELECT quote_id FROM quote_parts WHERE seller_id = $4))
  AND ($1::text IS NULL OR ${STATE('$4')} = $1 OR ($1 = 'asked' AND (${REPLIED('$4')} IS NOT NULL OR (q.state = 'priced'
    AND $4 IS NULL AND EXISTS (SELECT FROM quote_parts k WHERE k.quote_id = q.id AND k.state = 'asked')))))
  AND ($2::text IS NULL OR q.id IN (
    SELECT id FROM quotes WHERE found_by ILIKE $2
    UNION SELECT r.id FROM quotes r JOIN customers k ON k.id = r.customer_id WHERE k.found_by ILIKE $2))
  AND ($3::text IS NULL OR q.id IN (
    SELECT l.quote_id FROM quote_lines l JOIN quote_parts k ON k.id = l.part_id JOIN variants v ON v.id = l.variant_id
      JOIN products p ON p.id = v.product_id
    WHERE p.external_id = $3 AND ${PART('$4')}))`;
const PAGE = `
  SELECT ${COLUMNS('$4')}, (SELECT count(*) FROM ${FROM} WHERE ${FITTING}) AS total
  FROM ${FROM} WHERE ${FITTING} AND ($5::bigint IS NULL OR q.id < $5) ORDER BY q.id DESC LIMIT $6`;

export interface QuoteFilters {
  readonly state?: string | undefined;
  readonly search?: string | undefined;
  /** Only quotes with this product. */
  readonly product?: string | undefined;
  readonly after?: number | undefined;
  readonly limit: number;
}

/** The newest first, each reduced to the scope. */
export async function pageOfQuotes(
  db: Queryable,
  { state, search, product, after, limit }: QuoteFilters,
  { seller }: Scope,
): Promise<Page<QuoteRow>> {
  const values = [state ?? null, partOf(search), product ?? null, seller, after ?? null];
  const { rows, ...page } = await readPage<RawQuote>(db, PAGE, values, limit);
  return { rows: rows.map(toQuoteRow), ...page };
}

const COUNTS = `
  SELECT p.external_id AS product, p.title, count(DISTINCT l.quote_id)::int AS count
  FROM quote_lines l JOIN quote_parts k ON k.id = l.part_id JOIN variants v ON v.id = l.variant_id
    JOIN products p ON p.id = v.product_id
  WHERE ${PART('$1')} GROUP BY p.id ORDER BY count DESC, p.external_id LIMIT 40`;

/** Number of quotes for each product, the most requested first. */
export async function productsQuoted(
  db: Queryable,
  { seller }: Scope,
): Promise<{ product: string; title: LocalisedText; count: number }[]> {
  return (await db.query<{ product: string; title: LocalisedText; count: number }>(COUNTS, [seller])).rows;
}

/** JSON knows no dates. */
type RawQuote = Omit<QuoteRow, 'parts'> & {
  parts: (Omit<QuotePart, 'validUntil'> & { validUntil: string | null })[];
};
const toQuoteRow = ({ parts, ...row }: RawQuote): QuoteRow => ({
  ...row,
  parts: parts.map(({ validUntil, ...part }) => ({
    ...part,
    validUntil: validUntil === null ? null : new Date(validUntil),
  })),
});

const ONE = `
  SELECT ${COLUMNS('$2')} FROM ${FROM}
  WHERE q.id = $1 AND ($2::text IS NULL OR EXISTS (SELECT FROM quote_parts WHERE quote_id = q.id AND seller_id = $2))`;

/** A quote reduced to the scope; null if nothing of it remains. */
export async function quoteById(db: Queryable, id: number, { seller }: Scope): Promise<QuoteRow | null> {
  const [row] = (await db.query<RawQuote>(ONE, [id, seller])).rows;
  return row ? toQuoteRow(row) : null;
}

export async function lockQuote(db: Queryable, id: number): Promise<void> {
  await db.query('SELECT FROM quotes WHERE id = $1 FOR UPDATE', [id]);
}

const INSERT = `
  INSERT INTO quotes (customer_id, email, name, locale, answers, created_at, changed_at)
  SELECT c.id, $2, $3, $4, $5, $6, $6
  FROM (SELECT 1) one LEFT JOIN customers c ON c.external_id = $1 AND c.archived_at IS NULL RETURNING id`;
const PART_OF = 'INSERT INTO quote_parts (quote_id, seller_id) VALUES ($1, $2) RETURNING id';
const LINE = `
  INSERT INTO quote_lines (quote_id, part_id, variant_id, units, note, unit_price)
  SELECT $1, $2, id, $4, $5, $6 FROM variants WHERE external_id = $3
  ON CONFLICT (quote_id, variant_id) DO UPDATE SET units = quote_lines.units + excluded.units`;

export interface AskedLine {
  readonly variantId: string;
  readonly quantity: number;
  readonly note?: string | undefined;
  /** Seller of its part; null for the shop. */
  readonly seller: string | null;
}

export async function insertQuote(
  db: Queryable,
  request: {
    customer: string | null;
    email: string;
    name: string | null;
    locale: string | null;
    answers: readonly Answer[];
    lines: readonly AskedLine[];
    at: Date;
  },
): Promise<number> {
  const { customer, email, name, locale, answers, lines, at } = request;
  const { rows } = await db.query<{ id: number }>(INSERT, [customer, email, name, locale, JSON.stringify(answers), at]);
  const id = rows[0]!.id;
  const parts = new Map<string | null, number>();
  for (const { variantId, quantity, note, seller } of lines) {
    const part = parts.get(seller) ?? (await db.query<{ id: number }>(PART_OF, [id, seller])).rows[0]!.id;
    parts.set(seller, part);
    await db.query(LINE, [id, part, variantId, quantity, note ?? null, null]);
  }
  return id;
}

const PRICE = `
  UPDATE quote_parts SET delivery = $2, valid_until = $3, words = $4 WHERE id = $1`;

/** Prices a part and replaces its lines; lines that stay keep their notes. */
export async function pricePart(
  db: Queryable,
  whole: QuoteRow,
  part: QuotePart,
  priced: {
    lines: readonly { variant: string; units: number; unitPrice: number }[];
    delivery: number | null;
    validUntil: Date;
    words: string;
  },
): Promise<void> {
  const { lines, delivery, validUntil, words } = priced;
  await db.query(PRICE, [part.id, delivery, validUntil, words]);
  await db.query('DELETE FROM quote_lines WHERE part_id = $1', [part.id]);
  for (const { variant, units, unitPrice } of lines) {
    const note = whole.lines.find((line) => line.variant === variant)?.note ?? null;
    await db.query(LINE, [whole.id, part.id, variant, units, note, unitPrice]);
  }
}

/** Takes the prices of a part back, with a message to the customer. */
export async function unpricePart(db: Queryable, part: number, words: string): Promise<void> {
  await db.query('UPDATE quote_parts SET words = $2 WHERE id = $1', [part, words]);
  await db.query('UPDATE quote_lines SET unit_price = NULL WHERE part_id = $1', [part]);
}

/** Clears the messages of a quote once they are sent. */
export async function wordsSent(db: Queryable, id: number): Promise<void> {
  await db.query("UPDATE quote_parts SET words = '' WHERE quote_id = $1", [id]);
}

const WRITE_PARTS = `
  UPDATE quote_parts k SET state = given.state FROM unnest($1::bigint[], $2::text[]) AS given (id, state)
  WHERE k.id = given.id AND k.state <> given.state`;
const WRITE = `
  UPDATE quotes SET state = $2, changed_at = $3, valid_until = $4, replied_at = CASE WHEN $5 THEN replied_at END,
    answered_at = coalesce(answered_at, CASE WHEN $6 THEN $3::timestamptz END) WHERE id = $1`;

/**
 * Stores the states of a quote and its parts after a step. The caller holds its lock.
 * @param isReplyOpen whether a reply of the customer still waits for an answer
 */
export async function writeStep(
  db: Queryable,
  id: number,
  { state, validUntil, parts }: QuoteCase,
  { at, isReplyOpen }: { at: Date; isReplyOpen: boolean },
): Promise<void> {
  await db.query(WRITE_PARTS, [parts.map((part) => part.id), parts.map((part) => part.state)]);
  await db.query(WRITE, [id, state, at, validUntil, isReplyOpen, isAnswer(state)]);
}

/** Whether a quote in this state has had an answer of the shop. */
const isAnswer = (state: QuoteState) => state === 'priced' || state === 'turnedDown';

/** Notes that the customer waits for an answer to a reply, while the shop can still price the quote. */
export async function noteReply(db: Queryable, id: number, at: Date): Promise<void> {
  const sent = statesBefore(quote, 'price').filter((state) => state !== 'asked');
  await db.query('UPDATE quotes SET replied_at = $2 WHERE id = $1 AND state = ANY($3)', [id, at, sent]);
}

/** Quotes whose time is over; locked, and left out where another copy has them. */
export async function quotesDue(db: Queryable, at: Date): Promise<number[]> {
  const due = `SELECT id FROM quotes WHERE state = ANY($2) AND valid_until <= $1 ORDER BY id LIMIT 100
    FOR UPDATE SKIP LOCKED`;
  return (await db.query<{ id: number }>(due, [at, statesBefore(quote, 'lapse')])).rows.map(({ id }) => id);
}

const REQUESTED_PRODUCTS = `
  SELECT DISTINCT 'variant' AS to, v.external_id AS id FROM quotes q
    JOIN customers c ON c.id = q.customer_id AND c.external_id = $1
    JOIN quote_lines l ON l.quote_id = q.id JOIN quote_parts k ON k.id = l.part_id JOIN variants v ON v.id = l.variant_id
    WHERE q.state = 'asked' OR (q.state = 'priced' AND k.state = 'asked')
  UNION ALL
  SELECT DISTINCT 'product', p.external_id FROM enquiries e
    JOIN customers c ON c.id = e.customer_id AND c.external_id = $1
    JOIN products p ON p.id = e.product_id WHERE e.state = 'open'`;

/** Goods that a customer asked a price for, or about, and has not been answered. */
export async function requestedProducts(
  db: Queryable,
  customer: string,
): Promise<{ to: 'variant' | 'product'; id: string }[]> {
  const query = { name: 'asked-statuses', text: REQUESTED_PRODUCTS, values: [customer] };
  return (await db.query<{ to: 'variant' | 'product'; id: string }>(query)).rows;
}
