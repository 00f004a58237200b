import type { QuotedLine } from '#core/engine/guard.ts';
import type { Queryable } from '../db/database.ts';
import type { Services } from '../services/services.ts';

/** Purpose of a quote link's token. */
export const QUOTE = 'quote';

type Needs = Pick<Services, 'links' | 'clock'> & { readonly db: Queryable };

/** The quote that a token is for; null when it is none of ours. */
export async function quoteOf({ links }: Pick<Needs, 'links'>, token: unknown): Promise<number | null> {
  const claims = await links.read(QUOTE, token);
  return typeof claims?.quote === 'number' ? claims.quote : null;
}

/** An accepted quote: what of each variant at which price, and its delivery in minor units, null where none was named. */
export interface AcceptedQuote {
  readonly lines: ReadonlyMap<string, QuotedLine>;
  readonly delivery: number | null;
}

const LINES = `
  SELECT v.external_id AS variant, l.units, l.unit_price AS "unitPrice",
    (SELECT sum(o.delivery)::bigint FROM quote_parts o WHERE o.quote_id = q.id AND o.state = 'priced') AS delivery
  FROM quotes q JOIN quote_lines l ON l.quote_id = q.id JOIN quote_parts k ON k.id = l.part_id JOIN variants v ON v.id = l.variant_id
  WHERE q.id = $1 AND q.state = 'accepted' AND q.order_number IS NULL AND q.valid_until > $2
    AND k.state = 'priced' AND l.unit_price IS NOT NULL ORDER BY l.id`;

/** An accepted quote that is still good and was not used; null when there is none. */
export async function acceptedQuote(services: Needs, token: string | undefined): Promise<AcceptedQuote | null> {
  const id = token === undefined ? null : await quoteOf(services, token);
  if (id === null) return null;
  const values = [id, new Date(services.clock())];
  const { rows } = await services.db.query<QuotedLine & { variant: string; delivery: number | null }>(LINES, values);
  const [first] = rows;
  if (!first) return null;
  const lines = new Map(rows.map(({ variant, units, unitPrice }) => [variant, { units, unitPrice }]));
  return { lines, delivery: first.delivery };
}

/** Uses an accepted quote up: it makes one order. */
export async function useQuote(services: Needs, token: string | undefined, order: string): Promise<void> {
  const id = token === undefined ? null : await quoteOf(services, token);
  const use = "UPDATE quotes SET order_number = $2 WHERE id = $1 AND state = 'accepted' AND order_number IS NULL";
  if (id !== null) await services.db.query(use, [id, order]);
}
