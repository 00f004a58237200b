import type { Enquiry } from '#core/contract/askingCalls.ts';
import type { LocalisedText } from '#core/model/localisedText.ts';
import { inScope, type Scope } from '../scope/scope.ts';
import { partOf, type Queryable } from '../db/database.ts';
import { readPage, type Page } from '../db/page.ts';
import { threadMessagesOf } from '../conversations/threadMessages.ts';
import type { Answer } from '../forms/formQueries.ts';

const INSERT = `
  INSERT INTO enquiries (form, product_id, variant_id, customer_id, email, name, locale, answers, created_at, changed_at)
  SELECT $1, p.id, v.id, c.id, $5, $6, $7, $8, $9, $9 FROM products p
    LEFT JOIN variants v ON v.product_id = p.id AND v.external_id = $3
    LEFT JOIN customers c ON c.external_id = $4 AND c.archived_at IS NULL
  WHERE p.external_id = $2 RETURNING id`;

export interface Asking {
  readonly form: string;
  readonly product: string;
  readonly variant: string | null;
  readonly customer: string | null;
  readonly email: string;
  readonly name: string | null;
  readonly locale: string | null;
  readonly answers: readonly Answer[];
  readonly at: Date;
}

/** @returns its id */
export async function insertEnquiry(db: Queryable, enquiry: Asking): Promise<number> {
  const { form, product, variant, customer, email, name, locale, answers, at } = enquiry;
  const values = [form, product, variant, customer, email, name, locale, JSON.stringify(answers), at];
  return (await db.query<{ id: number }>(INSERT, values)).rows[0]!.id;
}

export type EnquiryRow = Omit<Enquiry, 'id' | 'title' | 'createdAt' | 'changedAt'> & {
  id: number;
  title: LocalisedText | null;
  variantTitle: string | null;
  /** Seller's name in the catalog. */
  soldBy: string | null;
  createdAt: Date;
  changedAt: Date;
};

const COLUMNS = `
  e.id, e.state, p.external_id AS product, p.title, p.path, p.seller AS "soldBy",
  (SELECT string_agg(value, ', ') FROM jsonb_each_text(v.options)) AS "variantTitle",
  c.external_id AS customer, coalesce(e.name, c.name) AS name, e.email, e.locale, e.answers,
  ${threadMessagesOf('enquiry_id', 'e.id')} AS messages, e.created_at AS "createdAt", e.changed_at AS "changedAt"`;
const FROM = `enquiries e LEFT JOIN products p ON p.id = e.product_id LEFT JOIN variants v ON v.id = e.variant_id
  LEFT JOIN customers c ON c.id = e.customer_id`;
const FITTING = `${inScope('$5', 'e.product_id')} AND ($1::text IS NULL OR e.state = $1) AND ($2::text IS NULL OR p.external_id = $2)
  AND ($3::text IS NULL OR e.id IN (
    SELECT id FROM enquiries WHERE found_by ILIKE $3
    UNION SELECT i.id FROM enquiries i JOIN products g ON g.id = i.product_id WHERE g.title::text ILIKE $3))`;
const PAGE = `
  SELECT ${COLUMNS}, (SELECT count(*) FROM ${FROM} WHERE ${FITTING}) AS total
  FROM ${FROM} WHERE ${FITTING} AND ($4::bigint IS NULL OR e.id < $4) ORDER BY e.id DESC LIMIT $6`;

export interface EnquiryFilters {
  readonly state?: string | undefined;
  readonly product?: string | undefined;
  readonly search?: string | undefined;
  readonly after?: number | undefined;
  readonly limit: number;
}

/** The newest first. */
export async function pageOfEnquiries(
  db: Queryable,
  { state, product, search, after, limit }: EnquiryFilters,
  { names }: Scope,
): Promise<Page<EnquiryRow>> {
  return readPage(db, PAGE, [state ?? null, product ?? null, partOf(search), after ?? null, names], limit);
}

const ONE = `SELECT ${COLUMNS} FROM ${FROM} WHERE e.id = $1 AND ${inScope('$2', 'e.product_id')}`;

/** An enquiry within the scope; null if there is none. */
export async function enquiryById(db: Queryable, id: number, { names }: Scope): Promise<EnquiryRow | null> {
  const { rows } = await db.query<EnquiryRow>(ONE, [id, names]);
  return rows[0] ?? null;
}

const COUNTS = `
  SELECT p.external_id AS product, p.title, count(*) AS count FROM enquiries e JOIN products p ON p.id = e.product_id
  WHERE ${inScope('$1', 'p.id')} GROUP BY p.id ORDER BY count(*) DESC, p.external_id LIMIT 40`;

export async function countedProducts(
  db: Queryable,
  { names }: Scope,
): Promise<{ product: string; title: LocalisedText; count: number }[]> {
  return (await db.query<{ product: string; title: LocalisedText; count: number }>(COUNTS, [names])).rows;
}
