import type { ClientRateLimitInfo, Options, Store } from 'express-rate-limit';
import type { Queryable } from '../db/database.ts';

const COUNT = `
  INSERT INTO rate_limits AS r (key, hits, resets_at)
  VALUES ($1, $3, now() + $2 * interval '1 millisecond')
  ON CONFLICT (key) DO UPDATE SET
    hits = CASE WHEN r.resets_at <= now() THEN excluded.hits ELSE r.hits + excluded.hits END,
    resets_at = CASE WHEN r.resets_at <= now() THEN excluded.resets_at ELSE r.resets_at END
  RETURNING hits, resets_at AS "resetsAt"`;
const UNCOUNT = 'UPDATE rate_limits SET hits = hits - 1 WHERE key = $1 AND hits > 0';
const FORGET = 'DELETE FROM rate_limits WHERE key = $1 OR resets_at <= now()';

export interface Hits {
  readonly hits: number;
  readonly resetsAt: Date;
}

/**
 * Counts something; every copy of the server counts together.
 * @param hits to add
 * @returns the hits so far in the window
 */
export async function countHit(db: Queryable, key: string, windowMs: number, hits = 1): Promise<Hits> {
  return (await db.query<Hits>(COUNT, [key, windowMs, hits])).rows[0]!;
}

/** Takes one hit back. */
export async function takeBackHit(db: Queryable, key: string): Promise<void> {
  await db.query(UNCOUNT, [key]);
}

export async function forgetHits(db: Queryable, key: string): Promise<void> {
  await db.query(FORGET, [key]);
}

/** Counts in PostgreSQL, so that every copy of the server counts together. */
export class RateLimitStore implements Store {
  private windowMs = 0;

  constructor(
    private readonly db: Queryable,
    readonly prefix: string,
  ) {}

  init(options: Options): void {
    this.windowMs = options.windowMs;
  }

  async increment(key: string): Promise<ClientRateLimitInfo> {
    const { hits, resetsAt } = await countHit(this.db, this.prefix + key, this.windowMs);
    return { totalHits: hits, resetTime: resetsAt };
  }

  async decrement(key: string): Promise<void> {
    await takeBackHit(this.db, this.prefix + key);
  }

  async resetKey(key: string): Promise<void> {
    await forgetHits(this.db, this.prefix + key);
  }
}
