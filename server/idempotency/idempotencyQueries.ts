import { createHash } from 'node:crypto';
import type { Queryable } from '../db/database.ts';
import { ProblemError } from '../http/errors.ts';

/** Does the work for a key once, however often it is sent at the same time. */
export async function lockKey(db: Queryable, key: string): Promise<void> {
  await db.query("SELECT pg_advisory_xact_lock(hashtextextended('key ' || $1, 0))", [key]);
}

/** Content by which requests with the same key are compared. */
export const contentOf = (sent: object): string =>
  createHash('sha256').update(JSON.stringify(sent)).digest('base64url');

/**
 * Reads the answer given to a key; undefined if it is new.
 * @throws {ProblemError} 409 if the key was used with other content
 */
export async function answerTo(db: Queryable, key: string, content: string): Promise<unknown> {
  const known = 'SELECT answer, content FROM idempotency_keys WHERE key = $1';
  const { rows } = await db.query<{ answer: unknown; content: string | null }>(known, [key]);
  const [before] = rows;
  // Records from before content was stored count as equal.
  if (before && before.content !== null && before.content !== content) throw otherContent(key);
  return before?.answer;
}

export async function keepAnswer(
  db: Queryable,
  { key, content, answer, at }: { key: string; content: string; answer: unknown; at: Date },
): Promise<void> {
  const keep = `INSERT INTO idempotency_keys (key, content, answer, created_at) VALUES ($1, $2, $3, $4)
    ON CONFLICT DO NOTHING`;
  await db.query(keep, [key, content, JSON.stringify(answer), at]);
}

const otherContent = (key: string) =>
  new ProblemError(
    'key-in-use',
    `The ${key} was taken before with other lines or for somebody else, so nothing was changed. Send it with a number of its own.`,
  );
