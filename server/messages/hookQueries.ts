import type { WebHook } from '#core/contract/channelCalls.ts';
import type { HookEvent } from '#core/texts/messageEvents.ts';
import type { Queryable } from '../db/database.ts';

export interface HookRow extends Omit<WebHook, 'id' | 'createdAt'> {
  id: number;
  createdAt: Date;
}

const ALL = `
  SELECT h.id, h.url, h.events, h.is_on AS "isOn", h.created_at AS "createdAt",
    count(m.id) FILTER (WHERE m.state = 'sent') AS sent, count(m.id) FILTER (WHERE m.state = 'dead') AS failed,
    (SELECT n.error FROM messages n WHERE n.web_hook_id = h.id ORDER BY n.id DESC LIMIT 1) AS "lastError"
  FROM web_hooks h LEFT JOIN messages m ON m.web_hook_id = h.id GROUP BY h.id ORDER BY h.id`;

export async function allHooks(db: Queryable): Promise<HookRow[]> {
  return (await db.query<HookRow>(ALL)).rows;
}

export interface HookIs {
  readonly url: string;
  readonly events: readonly HookEvent[];
}

export async function insertHook(
  db: Queryable,
  { url, events, secret, by, at }: HookIs & { secret: string; by: string; at: Date },
): Promise<number> {
  const insert = `INSERT INTO web_hooks (url, events, secret, created_by, created_at) VALUES ($1, $2, $3, $4, $5)
    RETURNING id`;
  return (await db.query<{ id: number }>(insert, [url, events, secret, by, at])).rows[0]!.id;
}

/** @returns whether the hook exists */
export async function changeHook(
  db: Queryable,
  id: number,
  { url, events, isOn }: HookIs & { isOn: boolean },
): Promise<boolean> {
  const change = 'UPDATE web_hooks SET url = $2, events = $3, is_on = $4 WHERE id = $1';
  return (await db.query(change, [id, url, events, isOn])).rowCount === 1;
}

export async function stopHook(db: Queryable, id: number): Promise<void> {
  await db.query('UPDATE web_hooks SET is_on = false WHERE id = $1', [id]);
}

/** @returns whether there was such a hook */
export async function deleteHook(db: Queryable, id: number): Promise<boolean> {
  return (await db.query('DELETE FROM web_hooks WHERE id = $1', [id])).rowCount === 1;
}

export interface Hook extends HookIs {
  readonly id: number;
  readonly secret: string;
}

/** One hook, whether it is on or not. */
export async function hookById(db: Queryable, id: number): Promise<Hook | null> {
  const found = 'SELECT id, url, events, secret FROM web_hooks WHERE id = $1';
  return (await db.query<Hook>(found, [id])).rows[0] ?? null;
}

/** Active hooks for an event: all, or one that is locked here, skipped if another copy has it. */
export async function hooksFor(
  db: Queryable,
  event: HookEvent,
  locked?: number,
): Promise<(Hook & { countsToldAt: Date | null })[]> {
  const found = `SELECT id, url, events, secret, counts_told_at AS "countsToldAt" FROM web_hooks
    WHERE is_on AND $1 = ANY (events) AND ($2::bigint IS NULL OR id = $2) ORDER BY id`;
  const sql = locked === undefined ? found : `${found} FOR UPDATE SKIP LOCKED`;
  return (await db.query<Hook & { countsToldAt: Date | null }>(sql, [event, locked ?? null])).rows;
}

/** Notes until when a program has received counts. */
export async function toldUntil(db: Queryable, id: number, at: Date): Promise<void> {
  await db.query('UPDATE web_hooks SET counts_told_at = $2 WHERE id = $1', [id, at]);
}
