import type { Request } from 'express';
import { postPassword, postPasswordLetter, putPassword } from '#core/contract/colleagueCalls.ts';
import { record } from '../db/record.ts';
import type { Services } from '../services/services.ts';
import { readShop } from '../shopData/shopQueries.ts';
import type { Queryable } from '../db/database.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { ProblemError } from '../http/errors.ts';
import { staffIdOf } from '../http/identity.ts';
import { networkOf } from '../http/network.ts';
import { reply, route } from '../http/route.ts';
import { hashOf, isPassword, staffByToken } from './passwords.ts';
import { countCode, countLetter, countTry, forgetTries } from './signInLimits.ts';
import { sendPasswordLetter } from './staffLetters.ts';
import { takeCode } from './secondFactor.ts';
import { endSessions, replacePassword, setPassword, staffByEmail, staffById, type StaffRow } from './staffQueries.ts';
import { sessionOf, type SignIn } from './signIn.ts';

const tryOf = (request: Request, account: string) => ({ account, network: networkOf(request), device: null });

/**
 * The colleague who calls.
 * @throws {ProblemError} 409 when it is a program
 */
export async function personOf(db: Queryable, request: Request): Promise<StaffRow> {
  const id = staffIdOf(request);
  const staff = id === null ? null : await staffById(db, id);
  if (!staff) throw noPassword();
  return staff;
}

/**
 * Makes sure that it is they who sit at their browser.
 * @throws {ProblemError} 403, and 429 after many wrong ones
 */
export async function confirmPassword(
  db: Queryable,
  request: Request,
  staff: StaffRow,
  password: string,
): Promise<void> {
  const one = tryOf(request, `password:${staff.id}`);
  await countTry(db, one);
  if (!(await isPassword(staff, password))) throw wrongPassword();
  await forgetTries(db, one);
}

/** Calls that set, change and reset passwords. */
export function passwordRoutes(endpoints: Endpoints, services: Services, signIn: SignIn): void {
  const { db, clock, links, config } = services;

  route(endpoints, putPassword, async ({ body: { current, password } }, { request }) => {
    const staff = await personOf(db, request);
    await confirmPassword(db, request, staff, current);
    const passwordHash = await hashOf(password, [staff.name, staff.email]);
    await db.transaction(async (client) => {
      await setPassword(client, staff.id, passwordHash);
      await endSessions(client, staff.id, request.sessionID);
      await record(client, new Date(clock()), staff, 'changed their password');
    });
    return reply(204, undefined);
  });

  route(endpoints, postPasswordLetter, async ({ body: { email } }, { request }) => {
    await countTry(db, tryOf(request, `letter:${email.trim().toLowerCase()}`));
    const staff = await staffByEmail(db, email.trim());
    // Answer the same either way, so that nobody learns who has an account.
    if (staff && config.smtpUrl !== null && (await countLetter(db, staff.email)))
      await sendPasswordLetter(services, staff.id);
    return reply(202, undefined);
  });

  route(endpoints, postPassword, async ({ body: { token, password, code } }, { request, response }) => {
    // A link cannot be guessed: strangers who try keep nobody else waiting.
    await countTry(db, tryOf(request, `password-link:${networkOf(request)}`));
    const staff = (await readShop(db)) ? await staffByToken(db, links, token) : null;
    if (!staff) throw overLink();
    const passwordHash = await hashOf(password, [staff.name, staff.email]);
    if (staff.totpSecret !== null && code !== undefined) await countCode(db, staff.email);
    await takeCode(db, staff, code, clock());
    await db.transaction(async (client) => {
      // When two follow the link at the same moment, the second finds it used.
      if (!(await replacePassword(client, staff, passwordHash))) throw overLink();
      await endSessions(client, staff.id, null);
      const did = staff.passwordHash === null ? 'accepted an invitation' : 'chose a new password by a letter';
      await record(client, new Date(clock()), staff, did);
    });
    await signIn(request, response, { ...staff, passwordHash });
    return reply(200, await sessionOf(services, request));
  });
}

const noPassword = () => new ProblemError('no-password', 'A key has no password. Sign in as a person to change one.');

const wrongPassword = () =>
  new ProblemError('wrong-password', 'Your password is another one. Write the one that you sign in with.');

const overLink = () => new ProblemError('link-over', 'It was used, or its time has passed. Ask for another one.');
