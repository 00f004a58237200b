import { createHash, randomBytes } from 'node:crypto';
import { promisify } from 'node:util';
import type { Request } from 'express';
import {
  deleteOneSession,
  deleteOtherSessions,
  deleteSession,
  getSession,
  listSessions,
  postSession,
  postSetup,
} from '#core/contract/sessionCalls.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { record, recordGradually } from '../db/record.ts';
import type { Services } from '../services/services.ts';
import { invalid, notFound, ProblemError } from '../http/errors.ts';
import { same, staffIdOf } from '../http/identity.ts';
import { networkOf } from '../http/network.ts';
import { reply, route } from '../http/route.ts';
import { decimalsOf, settingsFaults } from '../shop/shopSettings.ts';
import { createShop, readShop } from '../shopData/shopQueries.ts';
import { replaceAudiences } from '../visitors/audiences.ts';
import { countCode, countTry, forgetTries } from './signInLimits.ts';
import { passwordRoutes } from './passwordRoutes.ts';
import { hashOf, isPassword, passwordFaults } from './passwords.ts';
import { takeCode } from './secondFactor.ts';
import { secondFactorRoutes } from './secondFactorRoutes.ts';
import { deviceOf, sessionOf, signInWith } from './signIn.ts';
import { createStaff, endSession, endSessions, sessionsOf, staffByEmail, staffById } from './staffQueries.ts';

/** Audiences of a new shop. */
const FIRST_AUDIENCES = [
  { name: 'Guest', signedIn: false, roles: [] },
  { name: 'Signed in', signedIn: true, roles: [] },
];

/** Identifies a session without revealing its secret. */
const nameOf = (sid: string): string => createHash('sha256').update(sid).digest('base64url').slice(0, 16);

export function sessionRoutes(endpoints: Endpoints, services: Services): void {
  const { db, live, setupToken } = services;

  const mine = async (request: Request) => {
    const staffId = staffIdOf(request);
    return staffId === null ? [] : sessionsOf(db, staffId);
  };

  const signIn = signInWith(services);
  passwordRoutes(endpoints, services, signIn);
  secondFactorRoutes(endpoints, services);

  route(endpoints, getSession, async ({}, { request }) => reply(200, await sessionOf(services, request)));

  route(endpoints, postSession, async ({ body }, { request, response }) => {
    const account = body.email.trim().toLowerCase();
    const device = await deviceOf(services, request, account);
    const one = { account, network: networkOf(request), device };
    await countTry(db, one);
    const staff = await staffByEmail(db, body.email);
    const isRight = await isPassword(staff, body.password);
    const at = new Date(services.clock());
    if (!staff || !isRight) {
      await recordGradually<{ tries: number }>(
        db,
        { at, who: account.slice(0, 200), did: 'failed to sign in' },
        (before) => ({
          tries: (before?.tries ?? 0) + 1,
        }),
      );
      const detail = 'No one here has that e-mail address and password together. Check both.';
      throw new ProblemError('wrong-sign-in', detail);
    }
    if (body.code !== undefined) await countCode(db, account);
    await takeCode(db, staff, body.code, services.clock());
    await forgetTries(db, one);
    await signIn(request, response, staff);
    await record(db, at, staff, 'signed in', { browser: request.session.browser });
    return reply(200, await sessionOf(services, request));
  });

  route(endpoints, deleteSession, async ({}, { request, response }) => {
    const staffId = staffIdOf(request);
    const staff = staffId === null ? null : await staffById(db, staffId);
    if (staff) await record(db, new Date(services.clock()), staff, 'signed out');
    await promisify(request.session.destroy.bind(request.session))();
    response.clearCookie('understudy.sid');
    return reply(204, undefined);
  });

  route(endpoints, listSessions, async ({}, { request }) => {
    const sessions = await mine(request);
    const open = sessions.map(({ sid, browser, startedAt }) => ({
      id: nameOf(sid),
      browser: browser ?? 'a browser that does not say which',
      startedAt: startedAt === null ? null : new Date(startedAt).toISOString(),
      isThis: sid === request.sessionID,
    }));
    return reply(
      200,
      open.sort((a, b) => Number(b.isThis) - Number(a.isThis)),
      { 'Cache-Control': 'no-store' },
    );
  });

  route(endpoints, deleteOneSession, async ({ params: { id } }, { request }) => {
    const found = (await mine(request)).find(({ sid }) => nameOf(sid) === id);
    if (!found) throw notFound(`session ${id}`);
    await endSession(db, found.sid);
    return reply(204, undefined);
  });

  route(endpoints, deleteOtherSessions, async ({}, { request }) => {
    const staffId = staffIdOf(request);
    const ended = staffId === null ? 0 : await endSessions(db, staffId, request.sessionID);
    return reply(200, { ended });
  });

  route(endpoints, postSetup, async ({ body }, { request, response }) => {
    if (await readShop(db)) {
      throw new ProblemError('set-up-already', 'This shop has an owner already. Sign in instead.');
    }
    await countTry(db, { account: 'setup', network: networkOf(request), device: null });
    if (!same(body.token, setupToken)) {
      const detail = 'This one-time link is not valid. Use the one that the server printed when it last started.';
      throw new ProblemError('wrong-link', detail);
    }
    const { name, email, password } = body.owner;
    const faults = [
      ...settingsFaults(body.shop, '/shop'),
      ...passwordFaults(password, [name, email], '/owner/password'),
    ];
    if (faults.length > 0) throw invalid('What was sent', faults);
    const passwordHash = await hashOf(password, [name, email], '/owner/password');
    const staff = await db.transaction(async (client) => {
      const shop = {
        ...body.shop,
        exponent: decimalsOf(body.shop.currency),
        visitorSecret: randomBytes(32).toString('base64url'),
      };
      if (!(await createShop(client, shop))) {
        throw new ProblemError('set-up-already', 'Somebody else was quicker. Sign in instead.');
      }
      await replaceAudiences(client, FIRST_AUDIENCES);
      await live.announce(client);
      const made = await createStaff(client, {
        name,
        email,
        role: 'owner',
        passwordHash,
        invitedBy: null,
        sellerId: null,
      });
      if (!made) throw new Error('the new owner did not come back');
      return made;
    });
    await live.refresh();
    await signIn(request, response, staff);
    return reply(201, await sessionOf(services, request));
  });
}
