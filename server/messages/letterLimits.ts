import { createHash } from 'node:crypto';
import type { Queryable } from '../db/database.ts';
import { countHit } from '../limits/rateLimitStore.ts';

const HOUR_MS = 3_600_000;

/** Network or customer that caused an e-mail to an unconfirmed address. */
export interface Origin {
  /** @see networkOf */
  readonly network: string;
  /** The shop's id of the customer who is signed in; null for a guest. */
  readonly customer: string | null;
}

/** Why letters are held back, and how many may be written before they are. */
const LIMITS = {
  recipient: { most: 5, windowMs: 6 * HOUR_MS, why: 'too many letters to this address within hours' },
  sender: { most: 20, windowMs: HOUR_MS, why: 'too many letters asked for by this customer within an hour' },
  network: { most: 30, windowMs: HOUR_MS, why: 'too many letters asked for from one network within an hour' },
  shop: { most: 600, windowMs: HOUR_MS, why: 'too many letters asked for by strangers within an hour' },
} as const;

/**
 * Why a letter to an address that somebody typed is not sent at once; null when it may be. Each is counted, and what is
 * held back too.
 * @param to the e-mail address
 */
export async function holdReasonFor(db: Queryable, to: string, { network, customer }: Origin): Promise<string | null> {
  const keys = {
    recipient: createHash('sha256').update(to).digest('base64url'),
    ...(customer === null ? {} : { sender: customer }),
    network,
    shop: '',
  };
  let why: string | null = null;
  for (const [kind, key] of Object.entries(keys) as [keyof typeof LIMITS, string][]) {
    const limit = LIMITS[kind];
    const { hits } = await countHit(db, `letter:${kind}:${key}`, limit.windowMs);
    if (hits > limit.most) why ??= limit.why;
  }
  return why;
}
