import type { Request } from 'express';
import { rateLimit, type RateLimitRequestHandler } from 'express-rate-limit';
import type { Queryable } from '../db/database.ts';
import { ProblemError } from '../http/errors.ts';
import { networkOf } from '../http/network.ts';
import { countHit, RateLimitStore } from './rateLimitStore.ts';

const MINUTE_MS = 60_000;

/** Limits calls per minute from one network, over all copies of the server; further calls are refused with a problem. */
export function limitTo(aMinute: number, db: Queryable, prefix: string): RateLimitRequestHandler {
  return rateLimit({
    windowMs: MINUTE_MS,
    limit: aMinute,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    keyGenerator: networkOf,
    store: new RateLimitStore(db, prefix),
    handler: () => {
      const detail = 'So many calls were not expected from one address. Wait a minute and try again.';
      throw new ProblemError('too-many', detail, { headers: { 'Retry-After': '60' } });
    },
  });
}

/** Charges further hits for a call that was let through. */
export async function countMore(db: Queryable, prefix: string, request: Request, hits: number): Promise<void> {
  if (hits > 0) await countHit(db, prefix + networkOf(request), MINUTE_MS, hits);
}
