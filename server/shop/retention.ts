import type { ShopDetails } from '#core/contract/shopDetails.ts';
import type { Database, Queryable } from '../db/database.ts';
import { readDetails } from '../base/shopDetails.ts';

const DAY_MS = 86_400_000;
/** Stands where an address was. `.invalid` reaches nobody (RFC 2606). */
const NOBODY = "'erased@nobody.invalid'";

/** What is over and older than the owner keeps it, by $1; rows that others count stay, without who it was. */
const OVER: Readonly<Record<keyof ShopDetails['keep'], readonly string[]>> = {
  messages: ["DELETE FROM messages WHERE created_at < $1 AND state <> 'waiting'"],
  requests: [
    "DELETE FROM waitlist_entries WHERE changed_at < $1 AND state IN ('bought', 'lapsed', 'left', 'removed')",
    "DELETE FROM enquiries WHERE changed_at < $1 AND state = 'closed'",
    `DELETE FROM thread_messages WHERE quote_id IN (
       SELECT id FROM quotes WHERE changed_at < $1 AND state IN ('accepted', 'declined', 'turnedDown', 'lapsed'))`,
    `UPDATE quotes SET customer_id = NULL, email = ${NOBODY}, name = NULL, answers = '[]'
     WHERE changed_at < $1 AND state IN ('accepted', 'declined', 'turnedDown', 'lapsed') AND email <> ${NOBODY}`,
    `UPDATE preorders SET customer_id = NULL, email = ${NOBODY}, name = NULL
     WHERE changed_at < $1 AND state IN ('fulfilled', 'cancelled') AND email IS DISTINCT FROM ${NOBODY}`,
  ],
  record: ['DELETE FROM audit WHERE at < $1'],
};

async function forgetOlder(db: Queryable, keep: ShopDetails['keep'], now: number): Promise<void> {
  for (const [what, statements] of Object.entries(OVER)) {
    const days = keep[what as keyof typeof keep];
    if (days === null) continue;
    for (const sql of statements) await db.query(sql, [new Date(now - days * DAY_MS)]);
  }
}

/** Forgets what is over and older than the owner keeps it. @param now epoch ms */
export async function forgetOver(db: Database, now: number): Promise<void> {
  const { keep } = await readDetails(db);
  if (Object.values(keep).every((days) => days === null)) return;
  await db.transaction((client) => forgetOlder(client, keep, now));
}
