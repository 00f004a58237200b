import type { Quoted } from '#core/decide/guard.ts';
import type { Queryable } from '../db/database.ts';
import type { Services } from '../services.ts';

/** What the token of a quote's link is for. */
export const QUOTE = 'quote';

type Needs = Pick<Services, 'links' | 'clock'> & { readonly db: Queryable };

/** The quote that a token is for; null when it is none of ours. */
export async function quoteOf({ links }: Pick<Needs, 'links'>, token: unknown): Promise<number | null> {
  const says = await links.read(QUOTE, token);
  return typeof says?.quote === 'number' ? says.quote : null;
}

const LINES = `
  SELECT v.external_id AS variant, l.units, l.unit_price AS "unitPrice"
  FROM quotes q JOIN quote_lines l ON l.quote_id = q.id JOIN variants v ON v.id = l.variant_id
  WHERE q.id = $1 AND q.state = 'accepted' AND q.order_number IS NULL AND q.valid_until > $2
    AND l.unit_price IS NOT NULL ORDER BY l.id`;

/** What an accepted quote that is still good and was not used holds, by variant. */
export async function quotedLines(services: Needs, token: string | undefined): Promise<ReadonlyMap<string, Quoted>> {
  const id = token === undefined ? null : await quoteOf(services, token);
  if (id === null) return new Map();
  const values = [id, new Date(services.clock())];
  const { rows } = await services.db.query<Quoted & { variant: string }>(LINES, values);
  return new Map(rows.map(({ variant, units, unitPrice }) => [variant, { units, unitPrice }]));
}

/** Uses an accepted quote up: it makes one order. */
export async function useQuote(services: Needs, token: string | undefined, order: string): Promise<void> {
  const id = token === undefined ? null : await quoteOf(services, token);
  const use = "UPDATE quotes SET order_number = $2 WHERE id = $1 AND state = 'accepted' AND order_number IS NULL";
  if (id !== null) await services.db.query(use, [id, order]);
}
