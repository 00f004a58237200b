import { type Channel, type Message, type Template } from '#core/texts/messages.ts';
import { audienceOf, type MessageEvent, type ToldEvent } from '#core/texts/messageEvents.ts';
import type { Hook } from './hookQueries.ts';
import type { Scope } from '../scope/scope.ts';
import { partOf, type Queryable } from '../db/database.ts';
import { readPage, type Page } from '../db/page.ts';

/** Something to be sent by one way to one recipient. */
export interface Outgoing {
  readonly event: ToldEvent;
  readonly channel: Channel | 'hook';
  /** An address, a number, or the host that takes it. */
  readonly recipient: string;
  readonly locale: string | null;
  /** The e-mail address of the person that it is about; null when it is about none. */
  readonly about: string | null;
  readonly message: Message;
  readonly hook?: number;
  /** The seller whose goods it is about, and who may read it. */
  readonly seller: string | null;
  /** Why it is held back. */
  readonly held?: string | null;
}

const INSERT = `
  INSERT INTO messages
    (event, audience, channel, recipient, locale, subject, text_body, html_body, created_at, web_hook_id, about, error,
     seller_id, state)
  SELECT event, audience, channel, recipient, locale, subject, text, html, $2, hook, about, held, seller,
    CASE WHEN held IS NULL THEN 'waiting' ELSE 'held' END
  FROM json_to_recordset($1) AS r (place integer, event text, audience text, channel text, recipient text, locale text,
    subject text, text text, html text, hook bigint, about text, held text, seller text)
  ORDER BY place RETURNING id, state`;

/** @returns the ids of messages to send */
export async function insertMessages(db: Queryable, all: readonly Outgoing[], at: Date): Promise<number[]> {
  if (all.length === 0) return [];
  const given = all.map(({ message, ...one }, place) => ({
    place,
    ...one,
    ...message,
    audience: audienceOf(one.event),
  }));
  const { rows } = await db.query<{ id: number; state: string }>(INSERT, [JSON.stringify(given), at]);
  return rows.filter(({ state }) => state === 'waiting').map(({ id }) => id);
}

const CONTEXT = `
  SELECT (SELECT settings FROM message_settings) AS settings,
    (SELECT coalesce(json_agg(json_build_object('event', event, 'locale', locale, 'subject', subject, 'body', body)), '[]')
     FROM templates WHERE event = ANY ($1)) AS templates,
    (SELECT coalesce(json_agg(json_build_object('id', id, 'url', url, 'events', events, 'secret', secret) ORDER BY id), '[]')
     FROM web_hooks WHERE is_on AND events && $1) AS hooks,
    (SELECT coalesce(json_agg(json_build_object('email', email, 'seller', seller_id) ORDER BY id), '[]') FROM staff
     WHERE password_hash IS NOT NULL AND role <> 'viewer' AND (seller_id IS NULL OR seller_id = ANY ($2))) AS staff,
    coalesce((SELECT copies FROM seller_defaults), true) AS copies`;

/** All that messages of these events, about the goods of these sellers, need to know. */
export async function outboxContext(
  db: Queryable,
  events: readonly MessageEvent[],
  sellers: readonly string[],
): Promise<{
  settings: unknown;
  templates: (Template & { event: MessageEvent; locale: string })[];
  hooks: Hook[];
  /** Recipients: of the shop, or of one seller. */
  staff: { email: string; seller: string | null }[];
  /** Whether the shop gets copies of sellers' notifications. */
  copies: boolean;
}> {
  const { rows } = await db.query<Awaited<ReturnType<typeof outboxContext>>>(CONTEXT, [events, sellers]);
  return rows[0]!;
}

const START = `
  UPDATE messages SET attempts = attempts + 1 WHERE id = $1 AND state = 'waiting'
  RETURNING id, channel, recipient, locale, subject, text_body AS text, html_body AS html, web_hook_id AS hook,
    CASE WHEN audience = 'owner' THEN about END AS "replyTo"`;

/** One that is being sent. */
export interface Letter extends Message {
  readonly id: number;
  readonly channel: Channel | 'hook';
  readonly recipient: string;
  readonly locale: string | null;
  readonly hook: number | null;
  /** Of the owner’s letters: the person that it is about, so that they are answered by a reply. */
  readonly replyTo: string | null;
}

/** Begins a try to send; null when the message does not wait any more. */
export async function startAttempt(db: Queryable, id: number): Promise<Letter | null> {
  const { rows } = await db.query<Letter>(START, [id]);
  return rows[0] ?? null;
}

export async function markSent(db: Queryable, id: number, at: Date): Promise<void> {
  await db.query("UPDATE messages SET state = 'sent', sent_at = $2, error = NULL WHERE id = $1", [id, at]);
}

export async function markFailed(
  db: Queryable,
  id: number,
  { error, isDead }: { error: string; isDead: boolean },
): Promise<void> {
  const failed = "UPDATE messages SET error = $2, state = CASE WHEN $3 THEN 'dead' ELSE state END WHERE id = $1";
  await db.query(failed, [id, error.slice(0, 500), isDead]);
}

const OF_SELLER = (seller: string) => `(${seller}::text IS NULL OR seller_id = ${seller})`;
const REVIVE = `
  UPDATE messages SET state = 'waiting', error = NULL
  WHERE id = $1 AND state IN ('dead', 'held') AND ${OF_SELLER('$2')}`;

/** @returns whether the message could be sent again */
export async function reviveMessage(db: Queryable, id: number, { seller }: Scope): Promise<boolean> {
  return (await db.query(REVIVE, [id, seller])).rowCount === 1;
}

/** All that the owner wrote. */
export async function allCustomTemplates(db: Queryable): Promise<(Template & { event: string; locale: string })[]> {
  const all = 'SELECT event, locale, subject, body FROM templates';
  return (await db.query<Template & { event: string; locale: string }>(all)).rows;
}

/** The owner's templates of an event, by locale. */
export async function customTemplatesOf(
  db: Queryable,
  event: MessageEvent,
): Promise<Readonly<Record<string, Template>>> {
  const { rows } = await db.query<Template & { locale: string }>(
    'SELECT locale, subject, body FROM templates WHERE event = $1',
    [event],
  );
  return Object.fromEntries(rows.map(({ locale, ...template }) => [locale, template]));
}

export async function writeTemplate(
  db: Queryable,
  key: { event: MessageEvent; locale: string },
  { subject, body, by, at }: Template & { by: string; at: Date },
): Promise<void> {
  await db.query(
    `INSERT INTO templates (event, locale, subject, body, saved_at, saved_by) VALUES ($1, $2, $3, $4, $5, $6)
     ON CONFLICT (event, locale) DO UPDATE SET subject = $3, body = $4, saved_at = $5, saved_by = $6`,
    [key.event, key.locale, subject, body, at, by],
  );
}

export async function deleteTemplate(db: Queryable, event: MessageEvent, locale: string): Promise<void> {
  await db.query('DELETE FROM templates WHERE event = $1 AND locale = $2', [event, locale]);
}

export interface MessageRow {
  id: number;
  event: ToldEvent;
  audience: 'customer' | 'owner';
  channel: Channel | 'hook';
  recipient: string;
  locale: string | null;
  subject: string;
  text: string;
  html: string;
  state: 'waiting' | 'sent' | 'dead' | 'held';
  attempts: number;
  error: string | null;
  createdAt: Date;
  sentAt: Date | null;
}

// Hourly counts would bury other messages: they are listed only if asked for or undelivered.
const FITTING = `${OF_SELLER('$5')} AND ($1::text IS NULL OR m.found_by ILIKE $1)
  AND ($2::text IS NULL OR m.state = $2)
  AND CASE WHEN $3::text IS NOT NULL THEN m.event = $3 ELSE m.event <> 'insights.hour' OR m.state <> 'sent' END`;
const PAGE = `
  SELECT m.id, m.event, m.audience, m.channel, m.recipient, m.locale, m.subject, m.text_body AS text, m.html_body AS html, m.state,
    m.attempts, m.error, m.created_at AS "createdAt", m.sent_at AS "sentAt"
  FROM messages m WHERE ${FITTING} AND ($4::bigint IS NULL OR m.id < $4) ORDER BY m.id DESC LIMIT $6`;

export interface MessageFilters {
  readonly search?: string | undefined;
  readonly state?: string | undefined;
  readonly event?: string | undefined;
  readonly after?: number | undefined;
  readonly limit: number;
}

/** The newest first. */
export async function pageOfMessages(
  db: Queryable,
  { search, state, event, after, limit }: MessageFilters,
  { seller }: Scope,
): Promise<Page<MessageRow>> {
  return readPage(db, PAGE, [partOf(search), state ?? null, event ?? null, after ?? null, seller], limit);
}

const UNSENT = `
  SELECT count(*) FILTER (WHERE state = 'dead') AS dead, count(*) FILTER (WHERE state = 'held') AS held
  FROM messages WHERE state <> 'sent' AND ${OF_SELLER('$1')}`;

/** Counts messages that failed, and those held back. */
export async function countUnsent(db: Queryable, { seller }: Scope): Promise<{ dead: number; held: number }> {
  return (await db.query<{ dead: number; held: number }>(UNSENT, [seller])).rows[0]!;
}

/** Telephone number of the person with an e-mail address; null if unknown. */
export async function phoneOf(db: Queryable, email: string): Promise<string | null> {
  const find =
    'SELECT phone FROM customers WHERE lower(email) = lower($1) AND phone IS NOT NULL AND archived_at IS NULL LIMIT 1';
  return (await db.query<{ phone: string }>(find, [email])).rows[0]?.phone ?? null;
}

/** The settings as they were saved; null until they are. */
export async function savedSettings(db: Queryable): Promise<unknown> {
  const { rows } = await db.query<{ settings: unknown }>('SELECT settings FROM message_settings');
  return rows[0]?.settings ?? null;
}

export async function saveSettings(
  db: Queryable,
  settings: unknown,
  { by, at }: { by: string; at: Date },
): Promise<void> {
  await db.query(
    `INSERT INTO message_settings (settings, saved_by, saved_at) VALUES ($1, $2, $3)
     ON CONFLICT (id) DO UPDATE SET settings = $1, saved_by = $2, saved_at = $3`,
    [JSON.stringify(settings), by, at],
  );
}
