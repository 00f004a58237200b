import type { Queryable } from '../db/database.ts';

/** What was written about a quote or an enquiry, as JSON. */
export const threadMessagesOf = (column: 'quote_id' | 'enquiry_id', id: string) => `
  (SELECT coalesce(json_agg(json_build_object('byOwner', s.by_owner, 'words', s.words,
     'at', to_char(s.at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"')) ORDER BY s.id), '[]')
   FROM thread_messages s WHERE s.${column} = ${id})`;

/** Adds what was written about a quote or an enquiry. */
export async function appendMessage(
  db: Queryable,
  about: { quote?: number; enquiry?: number },
  { byOwner, words, at }: { byOwner: boolean; words: string; at: Date },
): Promise<void> {
  const insert = 'INSERT INTO thread_messages (quote_id, enquiry_id, by_owner, words, at) VALUES ($1, $2, $3, $4, $5)';
  await db.query(insert, [about.quote ?? null, about.enquiry ?? null, byOwner, words, at]);
}
