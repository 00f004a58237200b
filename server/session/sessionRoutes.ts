import { randomBytes } from 'node:crypto';
import { promisify } from 'node:util';
import { hash, verify } from '@node-rs/argon2';
import type { Request, Response } from 'express';
import { IANAZone } from 'luxon';
import type { Session } from '#core/contract/sessionCalls.ts';
import { deleteOtherSessions, deleteSession, getSession, postSession, postSetup } from '#core/contract/sessionCalls.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { Services } from '../base/services.ts';
import { invalid, ProblemError } from '../http/errors.ts';
import { same } from '../http/identity.ts';
import { networkOf } from '../http/network.ts';
import { reply, route } from '../http/route.ts';
import { createShop, readShop, replaceAudiences } from '../base/shopQueries.ts';
import { countTry, forgetTries } from './signInLimits.ts';
import { createStaff, endOtherSessions, staffByEmail, type StaffRow } from './staffQueries.ts';

const DEVICE = 'device';
const DEVICE_COOKIE = 'understudy.device';
const DEVICE_MS = 180 * 86_400_000;

/** Verified when there is no such person, so that an answer takes as long either way. */
const NOBODYS_HASH = hash('nobody has this password');

/** Whom anybody can look through before audiences are made. */
const FIRST_AUDIENCES = [
  { name: 'Guest', signedIn: false, roles: [] },
  { name: 'Signed in', signedIn: true, roles: [] },
];

export function sessionRoutes(endpoints: Endpoints, services: Services): void {
  const { db, live, setupToken, links, clock } = services;

  /** A new session, so that no one who knew the old id comes in with it. */
  const signIn = async (request: Request, staff: StaffRow) => {
    await promisify(request.session.regenerate.bind(request.session))();
    request.session.staffId = staff.id;
    request.session.staffName = staff.name;
    request.session.staffEmail = staff.email;
    request.session.csrfToken = randomBytes(24).toString('base64url');
    request.session.startedAt = clock();
  };

  /** Known again by this when somebody else guesses at the account. */
  const rememberDevice = async (response: Response, account: string) => {
    const device = await links.sign(DEVICE, clock() + DEVICE_MS, { account });
    const cookie = { httpOnly: true, sameSite: 'lax', path: postSession.path, maxAge: DEVICE_MS } as const;
    response.cookie(DEVICE_COOKIE, device, { ...cookie, secure: response.req.secure });
  };
  const deviceOf = async (request: Request, account: string): Promise<string | null> => {
    const [, token] = new RegExp(`(?:^|; )${DEVICE_COOKIE}=([^;]+)`).exec(request.get('Cookie') ?? '') ?? [];
    if (token === undefined || !(await readShop(db))) return null;
    const claims = await links.read(DEVICE, token);
    return claims?.account === account ? (claims.jti ?? null) : null;
  };

  route(endpoints, getSession, async ({}, { request }) =>
    reply(200, sessionOf(request, (await readShop(db)) !== null)),
  );

  route(endpoints, postSession, async ({ body }, { request, response }) => {
    const account = body.email.trim().toLowerCase();
    const device = await deviceOf(request, account);
    const one = { account, network: networkOf(request), device };
    await countTry(db, one);
    const staff = await staffByEmail(db, body.email);
    const right = await verify(staff?.passwordHash ?? (await NOBODYS_HASH), body.password);
    if (!staff || !right) {
      const detail = 'No one here has that e-mail address and password together. Check both.';
      throw new ProblemError(401, 'wrong-sign-in', 'Not signed in', detail);
    }
    await forgetTries(db, one);
    await signIn(request, staff);
    await rememberDevice(response, account);
    return reply(200, sessionOf(request, true));
  });

  route(endpoints, deleteSession, async ({}, { request, response }) => {
    await promisify(request.session.destroy.bind(request.session))();
    response.clearCookie('understudy.sid');
    return reply(204, undefined);
  });

  route(endpoints, deleteOtherSessions, async ({}, { request }) => {
    const { staffId } = request.session;
    const ended = staffId === undefined ? 0 : await endOtherSessions(db, staffId, request.sessionID);
    return reply(200, { ended });
  });

  route(endpoints, postSetup, async ({ body }, { request }) => {
    if (await readShop(db)) {
      throw new ProblemError(
        409,
        'set-up-already',
        'Set up already',
        'This shop has an owner already. Sign in instead.',
      );
    }
    await countTry(db, { account: 'setup', network: networkOf(request), device: null });
    if (!same(body.token, setupToken)) {
      const detail = 'This one-time link is not valid. Use the one that the server printed when it last started.';
      throw new ProblemError(403, 'wrong-link', 'Not the right link', detail);
    }
    const { zone, currency } = body.shop;
    if (!IANAZone.isValidZone(zone)) {
      const allowed = 'an IANA time zone such as Europe/Lisbon';
      throw invalid('What was sent', [{ pointer: '/shop/zone', found: JSON.stringify(zone), allowed }]);
    }
    const passwordHash = await hash(body.owner.password);
    const staff = await db.transaction(async (client) => {
      const shop = {
        ...body.shop,
        exponent: decimalsOf(currency),
        visitorSecret: randomBytes(32).toString('base64url'),
      };
      if (!(await createShop(client, shop))) {
        throw new ProblemError(409, 'set-up-already', 'Set up already', 'Somebody else was quicker. Sign in instead.');
      }
      await replaceAudiences(client, FIRST_AUDIENCES);
      await live.announce(client);
      return createStaff(client, { name: body.owner.name, email: body.owner.email, passwordHash });
    });
    await live.refresh();
    await signIn(request, staff);
    return reply(201, sessionOf(request, true));
  });
}

function sessionOf(request: Request, setUp: boolean): Session {
  const { staffName, staffEmail, csrfToken } = request.session;
  const user = staffName !== undefined && staffEmail !== undefined ? { name: staffName, email: staffEmail } : null;
  return { user, csrfToken: csrfToken ?? null, setUp };
}

/** Decimal places of a currency's minor unit (ISO 4217, as ICU knows it). */
function decimalsOf(currency: string): number {
  return new Intl.NumberFormat('en', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2;
}
