import type { Queryable } from '../db/database.ts';

/** Messages about a quote or an enquiry, as JSON. @param more an SQL condition on the messages, `s` */
export const threadMessagesOf = (column: 'quote_id' | 'enquiry_id', id: string, more = 'true') => `
  (SELECT coalesce(json_agg(json_build_object('byOwner', s.by_owner, 'words', s.words,
     'seller', (SELECT k.name FROM sellers k WHERE k.id = s.seller_id),
     'at', to_char(s.at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"')) ORDER BY s.id), '[]')
   FROM thread_messages s WHERE s.${column} = ${id} AND ${more})`;

/** Adds a message to a quote's or an enquiry's thread. */
export async function appendMessage(
  db: Queryable,
  about: { quote?: number; enquiry?: number },
  { byOwner, seller = null, words, at }: { byOwner: boolean; seller?: string | null; words: string; at: Date },
): Promise<void> {
  const insert =
    'INSERT INTO thread_messages (quote_id, enquiry_id, by_owner, seller_id, words, at) VALUES ($1, $2, $3, $4, $5, $6)';
  await db.query(insert, [about.quote ?? null, about.enquiry ?? null, byOwner, seller, words, at]);
}
