import { randomBytes } from 'node:crypto';
import { promisify } from 'node:util';
import Bowser from 'bowser';
import type { Request, Response } from 'express';
import { ROLE_MAY } from '#core/contract/permissions.ts';
import { postSession, type Session } from '#core/contract/sessionCalls.ts';
import type { Services } from '../services/services.ts';
import { readShop } from '../shopData/shopQueries.ts';
import { markSeen, staffById, type StaffRow } from './staffQueries.ts';

const DEVICE = 'device';
const DEVICE_COOKIE = 'understudy.device';
const DEVICE_MS = 180 * 86_400_000;

/** Begins a session, and has the browser known again. */
export type SignIn = (request: Request, response: Response, staff: StaffRow) => Promise<void>;

export function signInWith({ db, links, clock }: Pick<Services, 'db' | 'links' | 'clock'>): SignIn {
  return async (request, response, staff) => {
    // A new session, so that no one who knew the old id comes in with it.
    await promisify(request.session.regenerate.bind(request.session))();
    request.session.staffId = staff.id;
    request.session.csrfToken = randomBytes(24).toString('base64url');
    request.session.startedAt = clock();
    request.session.browser = browserWords(request.get('User-Agent') ?? '');
    await markSeen(db, staff.id, new Date(clock()));
    // Known again by this when somebody else guesses at the account.
    const device = await links.sign(DEVICE, clock() + DEVICE_MS, { account: staff.email });
    const cookie = { httpOnly: true, sameSite: 'lax', path: postSession.path, maxAge: DEVICE_MS } as const;
    response.cookie(DEVICE_COOKIE, device, { ...cookie, secure: response.req.secure });
  };
}

/** Describes a browser in words such as `Firefox on Linux`. */
function browserWords(agent: string): string {
  if (agent === '') return 'a browser that does not say which';
  const { browser, os } = Bowser.parse(agent);
  return [browser.name || 'a browser', os.name].filter(Boolean).join(' on ').slice(0, 100);
}

/** Identifies this browser if the account was signed in from it before; else null. */
export async function deviceOf(
  { db, links }: Pick<Services, 'db' | 'links'>,
  request: Request,
  account: string,
): Promise<string | null> {
  const [, token] = new RegExp(`(?:^|; )${DEVICE_COOKIE}=([^;]+)`).exec(request.get('Cookie') ?? '') ?? [];
  if (token === undefined || !(await readShop(db))) return null;
  const claims = await links.read(DEVICE, token);
  return claims?.account === account ? (claims.jti ?? null) : null;
}

/** Describes the session: who is signed in, with their current permissions. */
export async function sessionOf({ db, config }: Pick<Services, 'db' | 'config'>, request: Request): Promise<Session> {
  const { staffId, csrfToken } = request.session;
  const [shop, staff] = await Promise.all([readShop(db), staffId === undefined ? null : staffById(db, staffId)]);
  const user = staff && {
    id: staff.id,
    name: staff.name,
    email: staff.email,
    role: staff.role,
    may: [...ROLE_MAY[staff.role]],
  };
  return {
    user,
    csrfToken: (user && csrfToken) ?? null,
    setUp: shop !== null,
    sendsLetters: config.smtpUrl !== null,
  };
}
