import { quote } from '#core/requests/quote.ts';
import { QUOTE_PART_STATES } from '#core/requests/quoteParts.ts';
import type { Queryable } from '../db/database.ts';

const BOTH = `
  quote_parts gone JOIN quote_parts stays ON stays.quote_id = gone.quote_id AND stays.seller_id IS NOT DISTINCT FROM $2
  WHERE gone.seller_id = $1`;
const MERGE_LINES = `
  UPDATE quote_lines l SET part_id = b.stays FROM (SELECT gone.id AS gone, stays.id AS stays FROM ${BOTH}) b
  WHERE l.part_id = b.gone`;
// The part that is further from an answer decides, in the order of the states.
const MERGE_PARTS = `
  UPDATE quote_parts k SET state = b.state, delivery = b.delivery, valid_until = b.until, words = b.words
  FROM (SELECT stays.id,
          (SELECT s FROM unnest($3::text[]) WITH ORDINALITY AS o (s, n) WHERE s IN (gone.state, stays.state)
           ORDER BY n LIMIT 1) AS state,
          CASE WHEN num_nonnulls(gone.delivery, stays.delivery) > 0
            THEN coalesce(gone.delivery, 0) + coalesce(stays.delivery, 0) END AS delivery,
          least(gone.valid_until, stays.valid_until) AS until,
          concat_ws(E'\\n\\n', nullif(stays.words, ''), nullif(gone.words, '')) AS words
        FROM ${BOTH}) b WHERE k.id = b.id`;
// A quote without a priced part is open again.
const UNPRICED = `
  UPDATE quotes q SET state = $3 WHERE q.state = ANY($2)
    AND q.id IN (SELECT quote_id FROM quote_parts WHERE seller_id IS NOT DISTINCT FROM $1)
    AND NOT EXISTS (SELECT FROM quote_parts k WHERE k.quote_id = q.id AND k.state = 'priced')`;
const DELETE_MERGED = `DELETE FROM quote_parts k USING (SELECT gone.id FROM ${BOTH}) b WHERE k.id = b.id`;

/** Makes a seller's parts of quotes another's, or with null the shop's own: two parts of one quote become one. */
export async function giveQuoteParts(db: Queryable, from: string, to: string | null): Promise<void> {
  await db.query(MERGE_LINES, [from, to]);
  await db.query(MERGE_PARTS, [from, to, QUOTE_PART_STATES]);
  await db.query(DELETE_MERGED, [from, to]);
  await db.query('UPDATE quote_parts SET seller_id = $2 WHERE seller_id = $1', [from, to]);
  const { from: before, to: after } = quote.transitions.joinParts;
  await db.query(UNPRICED, [to, before, after[0]]);
}
