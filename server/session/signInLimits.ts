import { createHash } from 'node:crypto';
import type { Queryable } from '../db/database.ts';
import { ProblemError } from '../http/errors.ts';
import { countHit, forgetHits } from '../limits/rateLimitStore.ts';

const WINDOW_MS = 15 * 60_000;
const SLOT_MS = 60_000;
/** Wrong tries before one has to wait. */
const FREE = { account: 8, network: 40 } as const;
/** So many a minute, all networks together, while an account is tried by many. */
const A_MINUTE = 20;

export interface Try {
  /** What is tried to get into. */
  readonly account: string;
  /** @see networkOf */
  readonly network: string;
  /** A browser in which this account was signed in before: strangers' tries do not count against it. */
  readonly device: string | null;
}

const hashed = (text: string) => createHash('sha256').update(text).digest('base64url').slice(0, 32);
const keyOf = ({ account, device }: Try) => (device === null ? `account:${hashed(account)}` : `device:${device}`);

/**
 * Counts a try before it is looked at, so that many at once are counted as well. After some wrong ones each network may
 * try once a minute: who guesses gets nowhere, and who forgot is never locked out for longer than that.
 * @throws {ProblemError} 429
 */
export async function countTry(db: Queryable, one: Try): Promise<void> {
  const key = keyOf(one);
  const ofAccount = await countHit(db, `sign-in:${key}`, WINDOW_MS);
  const ofNetwork = await countHit(db, `sign-in:network:${one.network}`, WINDOW_MS);
  if (ofAccount.hits <= FREE.account && ofNetwork.hits <= FREE.network) return;
  const slot = await countHit(db, `sign-in:slot:${key}:${one.network}`, SLOT_MS);
  if (slot.hits > 1) throw tooMany(slot.resetsAt);
  const slots = await countHit(db, `sign-in:slots:${key}`, SLOT_MS);
  if (slots.hits > A_MINUTE) throw tooMany(slots.resetsAt);
}

/** A try was right: what came before it is forgotten. */
export async function forgetTries(db: Queryable, one: Try): Promise<void> {
  await forgetHits(db, `sign-in:${keyOf(one)}`);
  await forgetHits(db, `sign-in:network:${one.network}`);
}

function tooMany(until: Date): ProblemError {
  const seconds = Math.max(1, Math.ceil((until.getTime() - Date.now()) / 1000));
  const detail = `There were too many wrong tries. Wait ${seconds} seconds and try again.`;
  return new ProblemError(429, 'too-many-tries', 'Too many tries', detail, {
    headers: { 'Retry-After': String(seconds) },
  });
}
