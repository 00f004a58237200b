import { createHash, timingSafeEqual } from 'node:crypto';
import type { Request, RequestHandler } from 'express';
import { ProblemError } from './errors.ts';

declare module 'express-session' {
  interface SessionData {
    staffId: number;
    staffName: string;
    staffEmail: string;
    csrfToken: string;
    /** Epoch ms. */
    startedAt: number;
  }
}

/** Calls that only read need no CSRF token. */
const READING = new Set(['GET', 'HEAD', 'OPTIONS']);
/** A session ends after so long, however much it is used. */
const LONGEST_MS = 30 * 86_400_000;

/** Lets only the owner in: by session, with a CSRF token for what changes something, or by the owner's key. */
export function ownerOnly(ownerKey: string | null, clock: () => number): RequestHandler {
  return (request, _response, next) => {
    const authorization = request.get('Authorization');
    if (authorization !== undefined) {
      const key = bearerOf(request);
      if (ownerKey === null || key === null || !same(key, ownerKey)) throw notSignedIn('That key is not valid here.');
      next();
      return;
    }
    const { staffId, csrfToken, startedAt } = request.session;
    if (staffId === undefined || csrfToken === undefined) throw notSignedIn('Sign in, or send a key.');
    if (startedAt === undefined || clock() - startedAt > LONGEST_MS) {
      throw notSignedIn('Your session has ended. Sign in again.');
    }
    if (!READING.has(request.method) && !same(request.get('X-CSRF-Token') ?? '', csrfToken)) {
      const detail = 'The call lacks the session’s X-CSRF-Token. Reload the page and try again.';
      throw new ProblemError(403, 'csrf', 'Not from this application', detail);
    }
    next();
  };
}

const notSignedIn = (detail: string) =>
  new ProblemError(401, 'not-signed-in', 'Not signed in', detail, { headers: { 'WWW-Authenticate': 'Bearer' } });

/** The token or key that a request carries (RFC 6750); null without one. */
export const bearerOf = (request: Request): string | null =>
  /^Bearer +(\S+)$/i.exec(request.get('Authorization') ?? '')?.[1] ?? null;

/** Who is acting, for the record. */
export function whoIs(request: Request): string {
  return request.get('Authorization') !== undefined
    ? 'a program with the owner’s key'
    : (request.session.staffName ?? 'nobody');
}

/** Compares in a time that tells nothing. */
export function same(a: string, b: string): boolean {
  const digest = (text: string) => createHash('sha256').update(text).digest();
  return timingSafeEqual(digest(a), digest(b));
}
