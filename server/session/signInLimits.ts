import { createHash } from 'node:crypto';
import type { Queryable } from '../db/database.ts';
import { ProblemError } from '../http/errors.ts';
import { countHit, forgetHits, takeBackHit } from '../limits/rateLimitStore.ts';

const WINDOW_MS = 15 * 60_000;
const SLOT_MS = 60_000;
/** Wrong tries before one has to wait. */
const FREE = { account: 8, network: 40 } as const;
/** Attempts a minute on an account that many networks try, over all networks. */
const A_MINUTE = 20;

export interface Try {
  /** Account of the attempt. */
  readonly account: string;
  /** @see networkOf */
  readonly network: string;
  /** A browser in which this account was signed in before: strangers' tries do not count against it. */
  readonly device: string | null;
}

const hashed = (text: string) => createHash('sha256').update(text).digest('base64url').slice(0, 32);
const keyOf = ({ account, device }: Try) => (device === null ? `account:${hashed(account)}` : `device:${device}`);

/** Wrong codes of a second factor, from anywhere, before an account has to wait. */
const WRONG_CODES = 8;

/**
 * Counts a try before it is checked, so that simultaneous ones count as well. After several wrong ones a network may try once a
 * minute, with any name: guessing gets nowhere, and nobody who forgot a password is locked out for longer. A known browser
 * does not wait for others on its network.
 * @throws {ProblemError} 429
 */
export async function countTry(db: Queryable, one: Try): Promise<void> {
  const key = keyOf(one);
  const ofAccount = await countHit(db, `sign-in:${key}`, WINDOW_MS);
  const ofNetwork = await countHit(db, `sign-in:network:${one.network}`, WINDOW_MS);
  if (one.device === null && ofNetwork.hits > FREE.network) await takeSlot(db, `network:${one.network}`);
  if (ofAccount.hits <= FREE.account) return;
  await takeSlot(db, `${key}:${one.network}`);
  const slots = await countHit(db, `sign-in:slots:${key}`, SLOT_MS);
  if (slots.hits > A_MINUTE) throw tooMany(slots.resetsAt);
}

/** Lets one try a minute through. @throws {ProblemError} 429 */
async function takeSlot(db: Queryable, key: string): Promise<void> {
  const slot = await countHit(db, `sign-in:slot:${key}`, SLOT_MS);
  if (slot.hits > 1) throw tooMany(slot.resetsAt);
}

/** Letters about a password that one address is sent in a quarter of an hour. */
const LETTERS = 2;

/** Counts a letter about a password. @returns whether it may be sent: nobody's mailbox is filled by strangers */
export async function countLetter(db: Queryable, email: string): Promise<boolean> {
  return (await countHit(db, `password-letter:${hashed(email)}`, WINDOW_MS)).hits <= LETTERS;
}

/** Counts a code before it is verified, so that knowing the password does not allow guessing codes. */
export async function countCode(db: Queryable, account: string): Promise<void> {
  const { hits, resetsAt } = await countHit(db, `sign-in:code:${hashed(account)}`, WINDOW_MS);
  if (hits > WRONG_CODES) throw tooMany(resetsAt);
}

/** A code was right: the wrong ones before it are forgotten. */
export const forgetCodes = (db: Queryable, account: string): Promise<void> =>
  forgetHits(db, `sign-in:code:${hashed(account)}`);

/** A try was right: the account's wrong ones are forgotten, and this one of its network, not those of other names. */
export async function forgetTries(db: Queryable, one: Try): Promise<void> {
  await forgetHits(db, `sign-in:${keyOf(one)}`);
  await forgetCodes(db, one.account);
  await takeBackHit(db, `sign-in:network:${one.network}`);
}

function tooMany(until: Date): ProblemError {
  const seconds = Math.max(1, Math.ceil((until.getTime() - Date.now()) / 1000));
  const detail = `There were too many wrong tries. Wait ${seconds} seconds and try again.`;
  return new ProblemError('too-many-tries', detail, {
    headers: { 'Retry-After': String(seconds) },
  });
}
