import { randomBytes } from 'node:crypto';
import { promisify } from 'node:util';
import { hash, verify } from '@node-rs/argon2';
import type { IRouter, Request } from 'express';
import { rateLimit, type RateLimitRequestHandler } from 'express-rate-limit';
import { IANAZone } from 'luxon';
import type { Session } from '#core/contract/sessionCalls.ts';
import { deleteSession, getSession, postSession, postSetup } from '#core/contract/sessionCalls.ts';
import { CHOOSE_LABEL } from '#core/texts/ownWords.ts';
import type { Services } from '../services.ts';
import { invalid, ProblemError } from '../errors.ts';
import { same } from '../http/identity.ts';
import { RateLimitStore } from '../http/rateLimitStore.ts';
import { reply, route } from '../http/route.ts';
import { createShop, readShop, replaceAudiences } from '../shop/shopQueries.ts';
import { createStaff, staffByEmail, type StaffRow } from './staffQueries.ts';

const WINDOW = 5 * 60_000;
const WRONG_TRIES = 8;

/** Verified when there is no such person, so that an answer takes as long either way. */
const NOBODYS_HASH = hash('nobody has this password');

/** Whom anybody can look through before audiences are made. */
const FIRST_AUDIENCES = [
  { name: 'Guest', signedIn: false, roles: [] },
  { name: 'Signed in', signedIn: true, roles: [] },
];

export function sessionRoutes(publicCalls: IRouter, ownerCalls: IRouter, services: Services): void {
  const { db, live, setupToken } = services;

  route(publicCalls, getSession, async ({}, { request }) =>
    reply(200, sessionOf(request, (await readShop(db)) !== null)),
  );

  publicCalls.post(postSession.path, wrongTries(services, 'sign-in:', addressAndEmail));
  route(publicCalls, postSession, async ({ body }, { request }) => {
    const staff = await staffByEmail(db, body.email);
    const right = await verify(staff?.passwordHash ?? (await NOBODYS_HASH), body.password);
    if (!staff || !right) {
      const detail = 'No one here has that e-mail address and password together. Check both.';
      throw new ProblemError(401, 'wrong-sign-in', 'Not signed in', detail);
    }
    await signIn(request, staff);
    return reply(200, sessionOf(request, true));
  });

  route(ownerCalls, deleteSession, async ({}, { request, response }) => {
    await promisify(request.session.destroy.bind(request.session))();
    response.clearCookie('understudy.sid');
    return reply(204, undefined);
  });

  publicCalls.post(
    postSetup.path,
    wrongTries(services, 'setup:', (request) => request.ip ?? ''),
  );
  route(publicCalls, postSetup, async ({ body }, { request }) => {
    if (await readShop(db)) {
      throw new ProblemError(
        409,
        'set-up-already',
        'Set up already',
        'This shop has an owner already. Sign in instead.',
      );
    }
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
        chooseLabel: CHOOSE_LABEL,
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

/** A new session, so that no one who knew the old id comes in with it. */
async function signIn(request: Request, staff: StaffRow): Promise<void> {
  await promisify(request.session.regenerate.bind(request.session))();
  request.session.staffId = staff.id;
  request.session.staffName = staff.name;
  request.session.staffEmail = staff.email;
  request.session.csrfToken = randomBytes(24).toString('base64url');
}

function sessionOf(request: Request, setUp: boolean): Session {
  const { staffName, staffEmail, csrfToken } = request.session;
  const user = staffName !== undefined && staffEmail !== undefined ? { name: staffName, email: staffEmail } : null;
  return { user, csrfToken: csrfToken ?? null, setUp };
}

function wrongTries({ db }: Services, prefix: string, key: (request: Request) => string): RateLimitRequestHandler {
  return rateLimit({
    windowMs: WINDOW,
    limit: WRONG_TRIES,
    skipSuccessfulRequests: true,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    validate: { keyGeneratorIpFallback: false },
    store: new RateLimitStore(db, prefix),
    keyGenerator: key,
    handler: (request) => {
      const seconds = Math.ceil(WINDOW / 1000);
      const detail = `There were ${WRONG_TRIES} wrong tries. Wait ${seconds / 60} minutes and try again.`;
      request.log.warn('too many wrong tries');
      throw new ProblemError(429, 'too-many-tries', 'Too many tries', detail, {
        headers: { 'Retry-After': String(seconds) },
      });
    },
  });
}

function addressAndEmail(request: Request): string {
  const body: unknown = request.body;
  const email = typeof body === 'object' && body !== null && 'email' in body ? body.email : '';
  return `${request.ip ?? ''} ${typeof email === 'string' ? email.trim().toLowerCase().slice(0, 200) : ''}`;
}

/** Decimal places of a currency's minor unit (ISO 4217, as ICU knows it). */
function decimalsOf(currency: string): number {
  return new Intl.NumberFormat('en', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2;
}
