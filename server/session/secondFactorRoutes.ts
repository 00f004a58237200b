import type { Request } from 'express';
import {
  deleteColleaguesFactor,
  endSecondFactor,
  getSecondFactor,
  postRecoveryCodes,
  postSecondFactor,
  putSecondFactor,
} from '#core/contract/secondFactorCalls.ts';
import { record } from '../db/record.ts';
import type { Services } from '../services/services.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { notFound, ProblemError } from '../http/errors.ts';
import { whoIs } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';
import { confirmPassword, personOf } from './passwordRoutes.ts';
import { newRecoveryCodes, newSecret, stepOf, takeCode, wrongCode } from './secondFactor.ts';
import { countCode, countTry, forgetCodes } from './signInLimits.ts';
import { beginTotp, endSessions, endTotp, recoveryCodesLeft, staffById, startTotp } from './staffQueries.ts';
import { networkOf } from '../http/network.ts';

const SECRET = { 'Cache-Control': 'no-store' };

/** A second factor beside the password, of each colleague's own. */
export function secondFactorRoutes(endpoints: Endpoints, services: Services): void {
  const { db, clock } = services;
  const now = () => new Date(clock());
  const confirmed = async (request: Request, password: string) => {
    const staff = await personOf(db, request);
    await confirmPassword(db, request, staff, password);
    return staff;
  };

  route(endpoints, getSecondFactor, async ({}, { request }) => {
    const { id, totpSecret } = await personOf(db, request);
    return reply(200, { isOn: totpSecret !== null, recoveryCodesLeft: await recoveryCodesLeft(db, id) }, SECRET);
  });

  route(endpoints, postSecondFactor, async ({ body: { password } }, { request }) => {
    const staff = await confirmed(request, password);
    if (staff.totpSecret !== null) throw isOn();
    const begun = newSecret(staff.email);
    await beginTotp(db, staff.id, begun.secret);
    return reply(200, begun, SECRET);
  });

  route(endpoints, putSecondFactor, async ({ body: { code } }, { request }) => {
    const staff = await personOf(db, request);
    if (staff.totpPending === null) throw notBegun();
    await countTry(db, { account: `factor:${staff.id}`, network: networkOf(request), device: null });
    const step = stepOf(staff.totpPending, code, clock());
    if (step === null) throw wrongCode(403);
    const recoveryCodes = await db.transaction(async (client) => {
      await startTotp(client, staff.id, step);
      await endSessions(client, staff.id, request.sessionID);
      await record(client, now(), staff, 'turned on the second factor');
      return newRecoveryCodes(client, staff.id);
    });
    return reply(200, { recoveryCodes }, SECRET);
  });

  route(endpoints, postRecoveryCodes, async ({ body: { password } }, { request }) => {
    const staff = await confirmed(request, password);
    if (staff.totpSecret === null) throw notBegun();
    const recoveryCodes = await db.transaction(async (client) => {
      await record(client, now(), staff, 'replaced their recovery codes');
      return newRecoveryCodes(client, staff.id);
    });
    return reply(200, { recoveryCodes }, SECRET);
  });

  route(endpoints, endSecondFactor, async ({ body: { password, code } }, { request }) => {
    const staff = await confirmed(request, password);
    // Ask for both: a stranger at a browser that was left open knows neither.
    if (code !== undefined) await countCode(db, staff.email);
    await takeCode(db, staff, code, clock(), 403);
    await forgetCodes(db, staff.email);
    await db.transaction(async (client) => {
      await endTotp(client, staff.id);
      await record(client, now(), staff, 'turned off the second factor');
    });
    return reply(204, undefined);
  });

  route(endpoints, deleteColleaguesFactor, async ({ params: { id } }, { request }) => {
    await db.transaction(async (client) => {
      const staff = await staffById(client, id);
      if (!staff) throw notFound(`colleague ${id}`);
      await endTotp(client, id);
      await record(client, now(), whoIs(request), 'removed a colleague’s second factor', { name: staff.name });
    });
    return reply(204, undefined);
  });
}

const isOn = () => new ProblemError('factor-on', 'Your second factor is on. Turn it off first to begin another.');

const notBegun = () =>
  new ProblemError('factor-off', 'Your second factor is not begun. Begin it with your password first.');
