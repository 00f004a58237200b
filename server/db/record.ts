import { acting, type Actor } from './acting.ts';
import type { Queryable } from './database.ts';

const WRITE = 'INSERT INTO audit (at, who, did, detail, staff_id, email) VALUES ($1, $2, $3, $4, $5, $6)';
const columnsOf = (actor: Actor | null) => [actor?.id ?? null, actor?.email ?? null];

/**
 * Records who did what. Call it in the transaction that makes the change.
 * @param who a colleague, or the caller's name where the call itself identifies them
 */
export async function record(
  db: Queryable,
  at: Date,
  who: string | (Actor & { readonly name: string }),
  did: string,
  detail: object = {},
): Promise<void> {
  const [name, actor] = typeof who === 'string' ? [who, acting.getStore()?.actor ?? null] : [who.name, who];
  await db.query(WRITE, [at, name, did, JSON.stringify(detail), ...columnsOf(actor)]);
  unrecorded();
}

/** Has nothing (more) be written down of the call that is answered. */
export function unrecorded(): void {
  const act = acting.getStore();
  if (act) act.isRecorded = true;
}

const ADD = `
  UPDATE audit SET at = $1, detail = $4::jsonb, staff_id = $5
  WHERE id = (SELECT max(id) FROM audit) AND who = $2 AND email IS NOT DISTINCT FROM $6 AND did = $3 AND at > $1::timestamptz - interval '10 minutes'`;
const NEWEST = `
  SELECT detail FROM audit WHERE id = (SELECT max(id) FROM audit) AND who = $2 AND did = $3 AND email IS NOT DISTINCT FROM $4
    AND at > $1::timestamptz - interval '10 minutes'`;

/**
 * Writes down what somebody does bit by bit, as a draft is written: one entry as long as nothing else is done and no ten
 * minutes pass.
 * @param merge is given the entry's detail so far, and null first; it answers with null where that entry is of another thing
 */
export async function recordGradually<Detail extends object>(
  db: Queryable,
  { at, who, did }: { readonly at: Date; readonly who: string; readonly did: string },
  merge: (before: Detail | null) => Detail | null,
): Promise<void> {
  const actor = columnsOf(acting.getStore()?.actor ?? null);
  const newest = (await db.query<{ detail: Detail }>(NEWEST, [at, who, did, actor[1]])).rows[0];
  const merged = newest ? merge(newest.detail) : null;
  await db.query(merged ? ADD : WRITE, [at, who, did, JSON.stringify(merged ?? merge(null)), ...actor]);
  unrecorded();
}
