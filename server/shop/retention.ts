import type { ShopDetails } from '#core/contract/shopDetails.ts';
import type { Database, Queryable } from '../db/database.ts';
import { anonymizePreorders, anonymizeQuotes } from '../people/personData.ts';
import { readDetails } from '../shopData/shopDetails.ts';

const DAY_MS = 86_400_000;
/** A quote that nobody can order by any more. */
const QUOTE_IS_OVER = `(state IN ('declined', 'turnedDown', 'lapsed')
  OR state = 'accepted' AND (order_number IS NOT NULL OR valid_until < $1))`;

/** Finished data older than the owner's retention ($1); rows that counts depend on stay, anonymised. */
const OVER: Readonly<Record<keyof ShopDetails['keep'], readonly string[]>> = {
  messages: ["DELETE FROM messages WHERE created_at < $1 AND state <> 'waiting'"],
  requests: [
    "DELETE FROM waitlist_entries WHERE changed_at < $1 AND state IN ('bought', 'lapsed', 'left', 'removed')",
    "DELETE FROM enquiries WHERE changed_at < $1 AND state = 'closed'",
    ...anonymizeQuotes(`changed_at < $1 AND ${QUOTE_IS_OVER}`),
    anonymizePreorders("changed_at < $1 AND state IN ('fulfilled', 'cancelled')"),
  ],
  record: ['DELETE FROM audit WHERE at < $1'],
  counts: [
    'SELECT forget_counts(($1::timestamptz AT TIME ZONE zone)::date) FROM shop',
    'DELETE FROM searched_words USING shop WHERE day < ($1::timestamptz AT TIME ZONE zone)::date',
  ],
};

async function forgetOlder(db: Queryable, keep: ShopDetails['keep'], now: number): Promise<void> {
  for (const [what, statements] of Object.entries(OVER)) {
    const days = keep[what as keyof typeof keep];
    if (days === null) continue;
    for (const sql of statements) await db.query(sql, [new Date(now - days * DAY_MS)]);
  }
}

/** Deletes what has ended and is older than the owner keeps it. @param now epoch ms */
export async function forgetOver(db: Database, now: number): Promise<void> {
  const { keep } = await readDetails(db);
  if (Object.values(keep).every((days) => days === null)) return;
  await db.transaction((client) => forgetOlder(client, keep, now));
}
