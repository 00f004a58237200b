import { randomBytes } from 'node:crypto';
import type { JWTPayload } from 'jose';
import type { Queryable } from '../db/database.ts';
import type { LinkKey } from '../http/links.ts';

/** Number of valid keys: the signing one and its predecessor. */
const VALID = 2;

/** The keys that are valid now, the newest first. */
export async function linkKeys(db: Queryable): Promise<LinkKey[]> {
  const valid = 'SELECT id, secret FROM link_keys ORDER BY number DESC LIMIT $1';
  return (await db.query<LinkKey>(valid, [VALID])).rows;
}

/** Makes a key that signs from now on; links signed by the last but one end. */
export async function addLinkKey(db: Queryable, at: Date): Promise<void> {
  const id = randomBytes(6).toString('base64url');
  const insert = 'INSERT INTO link_keys (id, secret, made_at) VALUES ($1, $2, $3)';
  await db.query(insert, [id, randomBytes(32).toString('base64url'), at]);
  const forget = `DELETE FROM link_keys WHERE id NOT IN (SELECT id FROM link_keys ORDER BY number DESC LIMIT $1)`;
  await db.query(forget, [VALID]);
}

const USE = `
  INSERT INTO used_links (id, expires_at) VALUES ($1, to_timestamp($2)) ON CONFLICT DO NOTHING`;

/** Whether a link was used, by its id. */
export async function isLinkUsed(db: Queryable, id: string): Promise<boolean> {
  return (await db.query('SELECT 1 FROM used_links WHERE id = $1', [id])).rowCount === 1;
}

/** Uses up a link that is good once. @returns whether it was not used before */
export async function useLink(db: Queryable, { jti, exp }: JWTPayload): Promise<boolean> {
  // Links created before they had an id cannot be distinguished.
  if (jti === undefined) return true;
  return (await db.query(USE, [jti, exp ?? 0])).rowCount === 1;
}
