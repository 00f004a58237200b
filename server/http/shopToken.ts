import type { RequestHandler } from 'express';
import { jwtVerify, type JWTPayload } from 'jose';
import { LRUCache } from 'lru-cache';
import { ProblemError } from './errors.ts';
import { bearerOf } from './identity.ts';

/** For the shop's own server. */
const SHOP = 'understudy-shop';
/** The visitor it is for; a token may name none. */
const VISITOR = 'understudy-visitor';

/**
 * Reads the claims of a token signed with one of the shop's secrets (JWT, HS256, RFC 7519, with an `exp`), for this
 * audience; null if it is not valid now.
 * @param now epoch ms
 */
async function claimsOf(
  token: string,
  secrets: readonly string[],
  { now, isFor }: { now: number; isFor: (audience: readonly string[]) => boolean },
): Promise<JWTPayload | null> {
  const claims = knownBy(secrets).get(token) ?? (await verified(token, secrets, now));
  // One that was verified before may have ended since.
  if (!claims || !isInForce(claims, now)) return null;
  return isFor([claims.aud ?? []].flat()) ? claims : null;
}

const MOST = 10_000;
/** Claims of verified tokens, by the secrets they were verified with, which are a new object after a change. */
const known = new WeakMap<readonly string[], LRUCache<string, JWTPayload>>();

function knownBy(secrets: readonly string[]): LRUCache<string, JWTPayload> {
  const found = known.get(secrets) ?? new LRUCache<string, JWTPayload>({ max: MOST });
  known.set(secrets, found);
  return found;
}

async function verified(token: string, secrets: readonly string[], now: number): Promise<JWTPayload | null> {
  for (const secret of secrets) {
    try {
      const { payload } = await jwtVerify(token, new TextEncoder().encode(secret), {
        algorithms: ['HS256'],
        requiredClaims: ['exp'],
        currentDate: new Date(now),
      });
      knownBy(secrets).set(token, payload);
      return payload;
    } catch {
      // Signed with another secret, or not at all: the next one.
    }
  }
  return null;
}

/** Whether its time has come, and is not over (RFC 7519, seconds). */
const isInForce = ({ exp = 0, nbf = 0 }: JWTPayload, now: number): boolean => {
  const seconds = Math.floor(now / 1000);
  return nbf <= seconds && seconds < exp;
};

/** Reads the claims of a visitor's token; null if it is invalid or for another audience. */
export const visitorClaims = (token: string, secrets: readonly string[], now: number): Promise<JWTPayload | null> =>
  claimsOf(token, secrets, { now, isFor: (audience) => audience.length === 0 || audience.includes(VISITOR) });

/** Lets only the shop's own server go on: by a token with `aud` `understudy-shop`, signed with the visitors' secret. */
export function shopOnly(secrets: () => readonly string[], clock: () => number): RequestHandler {
  return async (request, _response, next) => {
    const token = bearerOf(request);
    const isFor = (audience: readonly string[]) => audience.includes(SHOP);
    if (token !== null && (await claimsOf(token, secrets(), { now: clock(), isFor }))) {
      next();
      return;
    }
    const detail = 'This call is for the shop’s server: sign a token with the visitors’ secret, for understudy-shop.';
    throw new ProblemError('not-the-shop', detail, { headers: { 'WWW-Authenticate': 'Bearer' } });
  };
}
