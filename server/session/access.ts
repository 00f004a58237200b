import type { Request, RequestHandler } from 'express';
import { ALL_PERMISSIONS, ROLE_MAY, SCOPE_MAY, type Permission } from '#core/contract/permissions.ts';
import type { Services } from '../services/services.ts';
import { ProblemError } from '../http/errors.ts';
import { bearerOf, demand, remember, same, type Identity } from '../http/identity.ts';
import { isKeyMade, keyOf, markUsed } from './keyQueries.ts';
import { staffById } from './staffQueries.ts';

/** Calls that only read need no CSRF token. */
const READING = new Set(['GET', 'HEAD', 'OPTIONS']);
/** Longest life of a session, however active. */
const LONGEST_MS = 30 * 86_400_000;

/**
 * Makes a handler for each permission. It admits a colleague with a session and a current role that has the permission, with a
 * CSRF token for changes; or a program with a key of the shop's, or with the owner's key until there is one.
 */
export function staffOnly({ db, config, clock }: Pick<Services, 'db' | 'config' | 'clock'>) {
  const byKey = async (request: Request): Promise<Identity> => {
    const key = bearerOf(request);
    const known = key === null ? null : await keyOf(db, key);
    if (known) {
      await markUsed(db, known, new Date(clock()));
      const may = [...new Set(known.scopes.flatMap((scope) => SCOPE_MAY[scope]))];
      return { name: `the program “${known.name}”`, may, staffId: null, email: null, sellerId: null };
    }
    if (config.ownerKey === null || key === null || !same(key, config.ownerKey))
      throw notSignedIn('That key is not valid here.');
    if (await isKeyMade(db))
      throw notSignedIn(
        'UNDERSTUDY_OWNER_KEY ended when this shop’s first key was made. Send a key of the shop’s own.',
      );
    return { name: 'a program with the owner’s key', may: ROLE_MAY.owner, staffId: null, email: null, sellerId: null };
  };
  const bySession = async (request: Request): Promise<Identity> => {
    const { staffId, csrfToken, startedAt } = request.session;
    if (staffId === undefined || csrfToken === undefined) throw notSignedIn('Sign in, or send a key.');
    if (startedAt === undefined || clock() - startedAt > LONGEST_MS)
      throw notSignedIn('Your session has ended. Sign in again.');
    if (!READING.has(request.method) && !same(request.get('X-CSRF-Token') ?? '', csrfToken)) {
      const detail = 'The call lacks the session’s X-CSRF-Token. Reload the page and try again.';
      throw new ProblemError('csrf', detail);
    }
    const staff = await staffById(db, staffId);
    if (!staff) throw notSignedIn('You are not among this shop’s colleagues any more.');
    return { name: staff.name, may: ROLE_MAY[staff.role], staffId, email: staff.email, sellerId: staff.sellerId };
  };
  const rule =
    (permission: Permission): RequestHandler =>
    async (request, _response, next) => {
      const identity = request.get('Authorization') === undefined ? await bySession(request) : await byKey(request);
      demand(identity, permission);
      remember(request, identity);
      next();
    };
  return Object.fromEntries(ALL_PERMISSIONS.map((permission) => [permission, rule(permission)])) as Record<
    Permission,
    RequestHandler
  >;
}

const notSignedIn = (detail: string) =>
  new ProblemError('not-signed-in', detail, { headers: { 'WWW-Authenticate': 'Bearer' } });
