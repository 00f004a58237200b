import type { Message, MessageEvent, Template } from '#core/texts/messages.ts';
import { partOf, type Queryable } from '../db/database.ts';

const INSERT = `
  INSERT INTO messages (event, audience, channel, recipient, subject, text_body, html_body, created_at)
  VALUES ($1, $2, 'email', $3, $4, $5, $6, $7) RETURNING id`;

export async function insertMessage(
  db: Queryable,
  said: { event: MessageEvent; audience: string; recipient: string; message: Message; at: Date },
): Promise<number> {
  const { event, audience, recipient, message, at } = said;
  const values = [event, audience, recipient, message.subject, message.text, message.html, at];
  const { rows } = await db.query<{ id: number }>(INSERT, values);
  return rows[0]!.id;
}

const START = `
  UPDATE messages SET attempts = attempts + 1 WHERE id = $1 AND state = 'waiting'
  RETURNING recipient, subject, text_body AS "textBody", html_body AS "htmlBody"`;

export interface Letter {
  recipient: string;
  subject: string;
  textBody: string;
  htmlBody: string;
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

/** @returns whether the message was one that could be sent again */
export async function reviveMessage(db: Queryable, id: number): Promise<boolean> {
  const revive = "UPDATE messages SET state = 'waiting', error = NULL WHERE id = $1 AND state = 'dead'";
  return (await db.query(revive, [id])).rowCount === 1;
}

/** All that the owner wrote. */
export async function allOwnTemplates(db: Queryable): Promise<(Template & { event: string; locale: string })[]> {
  const all = 'SELECT event, locale, subject, body FROM templates';
  return (await db.query<Template & { event: string; locale: string }>(all)).rows;
}

/** The owner's templates of an event, by locale. */
export async function ownTemplatesOf(db: Queryable, event: MessageEvent): Promise<Readonly<Record<string, Template>>> {
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
  event: MessageEvent;
  audience: 'customer' | 'owner';
  recipient: string;
  subject: string;
  text: string;
  html: string;
  state: 'waiting' | 'sent' | 'dead';
  attempts: number;
  error: string | null;
  createdAt: Date;
  sentAt: Date | null;
}

const FITTING = `($1::text IS NULL OR m.recipient ILIKE $1 OR m.subject ILIKE $1)
  AND ($2::text IS NULL OR m.state = $2) AND ($3::text IS NULL OR m.event = $3)`;
const PAGE = `
  SELECT m.id, m.event, m.audience, m.recipient, m.subject, m.text_body AS text, m.html_body AS html, m.state,
    m.attempts, m.error, m.created_at AS "createdAt", m.sent_at AS "sentAt"
  FROM messages m WHERE ${FITTING} AND ($4::bigint IS NULL OR m.id < $4) ORDER BY m.id DESC LIMIT $5`;

export interface MessagesAsked {
  readonly search?: string | undefined;
  readonly state?: string | undefined;
  readonly event?: string | undefined;
  readonly after?: number | undefined;
  readonly limit: number;
}

/** The newest first. */
export async function pageOfMessages(
  db: Queryable,
  { search, state, event, after, limit }: MessagesAsked,
): Promise<MessageRow[]> {
  const values = [partOf(search), state ?? null, event ?? null, after ?? null, limit];
  return (await db.query<MessageRow>(PAGE, values)).rows;
}

export async function countDead(db: Queryable): Promise<number> {
  const { rows } = await db.query<{ count: number }>("SELECT count(*) FROM messages WHERE state = 'dead'");
  return rows[0]?.count ?? 0;
}
