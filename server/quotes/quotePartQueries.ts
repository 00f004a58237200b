import type { Queryable } from '../db/database.ts';

const BOTH = `
  quote_parts gone JOIN quote_parts stays ON stays.quote_id = gone.quote_id AND stays.seller_id IS NOT DISTINCT FROM $2
  WHERE gone.seller_id = $1`;
const MERGE_LINES = `
  UPDATE quote_lines l SET part_id = b.stays FROM (SELECT gone.id AS gone, stays.id AS stays FROM ${BOTH}) b
  WHERE l.part_id = b.gone`;
// A priced part waits for the other.
const MERGE_PARTS = `
  UPDATE quote_parts k SET state = b.state, delivery = b.delivery, valid_until = b.until, words = b.words
  FROM (SELECT stays.id, CASE WHEN 'asked' IN (gone.state, stays.state) THEN 'asked'
          WHEN 'priced' IN (gone.state, stays.state) THEN 'priced' ELSE 'turnedDown' END AS state,
          CASE WHEN num_nonnulls(gone.delivery, stays.delivery) > 0
            THEN coalesce(gone.delivery, 0) + coalesce(stays.delivery, 0) END AS delivery,
          least(gone.valid_until, stays.valid_until) AS until,
          concat_ws(E'\\n\\n', nullif(stays.words, ''), nullif(gone.words, '')) AS words
        FROM ${BOTH}) b WHERE k.id = b.id`;
// A quote without a priced part is open again.
const UNPRICED = `
  UPDATE quotes q SET state = 'asked' WHERE q.state = 'priced'
    AND q.id IN (SELECT quote_id FROM quote_parts WHERE seller_id IS NOT DISTINCT FROM $1)
    AND NOT EXISTS (SELECT FROM quote_parts k WHERE k.quote_id = q.id AND k.state = 'priced')`;
const DELETE_MERGED = `DELETE FROM quote_parts k USING (SELECT gone.id FROM ${BOTH}) b WHERE k.id = b.id`;

/** Makes a seller's parts of quotes another's, or with null the shop's own: two parts of one quote become one. */
export async function giveQuoteParts(db: Queryable, from: string, to: string | null): Promise<void> {
  await db.query(MERGE_LINES, [from, to]);
  await db.query(MERGE_PARTS, [from, to]);
  await db.query(DELETE_MERGED, [from, to]);
  await db.query('UPDATE quote_parts SET seller_id = $2 WHERE seller_id = $1', [from, to]);
  await db.query(UNPRICED, [to]);
}
