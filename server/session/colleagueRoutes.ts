import {
  deleteColleague,
  inviteAgain,
  listColleagues,
  postColleague,
  putColleague,
  type Colleague,
} from '#core/contract/colleagueCalls.ts';
import type { StaffRole } from '#core/contract/permissions.ts';
import { record } from '../db/record.ts';
import type { Services } from '../services/services.ts';
import { theShop } from '../shopData/currentShop.ts';
import type { Queryable } from '../db/database.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { notFound, ProblemError } from '../http/errors.ts';
import { whoIs } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';
import { inviteByLetter, isThere } from './staffLetters.ts';
import {
  allStaff,
  createStaff,
  deleteStaff,
  endSessions,
  lockStaff,
  setRole,
  staffById,
  type ColleagueRow,
  type StaffRow,
} from './staffQueries.ts';

/** Calls about colleagues and their roles. */
export function colleagueRoutes(endpoints: Endpoints, services: Services): void {
  const { db, clock } = services;
  const now = () => new Date(clock());

  /** Changes one while nobody else changes any, so that an owner is left. */
  const change = (id: number, isOwnerAfter: boolean, work: (client: Queryable, staff: StaffRow) => Promise<void>) =>
    db.transaction(async (client) => {
      await lockStaff(client);
      const staff = await staffById(client, id);
      if (!staff) throw notFound(`colleague ${id}`);
      const others = (await allStaff(client)).filter(
        (one) => one.role === 'owner' && one.passwordHash && one.id !== id,
      );
      if (staff.role === 'owner' && !isOwnerAfter && others.length === 0) throw lastOwner(staff);
      await work(client, staff);
    });

  route(endpoints, listColleagues, async () => reply(200, (await allStaff(db)).map(colleagueOf)));

  route(endpoints, postColleague, async ({ body: { name, email, role } }, { request }) => {
    await theShop(db);
    const by = whoIs(request);
    const staff = await db.transaction(async (client) => {
      const made = await createStaff(client, { name, email, role, passwordHash: null, invitedBy: by, sellerId: null });
      if (!made) throw isThere(email);
      await record(client, now(), by, 'invited a colleague', { name, role });
      return made;
    });
    return reply(201, await inviteByLetter(services, staff), { 'Cache-Control': 'no-store' });
  });

  route(endpoints, inviteAgain, async ({ params: { id } }) => {
    const staff = await staffById(db, id);
    if (!staff) throw notFound(`colleague ${id}`);
    if (staff.passwordHash !== null) throw isIn(staff);
    return reply(201, await inviteByLetter(services, staff), { 'Cache-Control': 'no-store' });
  });

  route(endpoints, putColleague, async ({ params: { id }, body: { role } }, { request }) => {
    await change(id, role === 'owner', async (client, staff) => {
      // Sellers' people are not colleagues.
      if (staff.sellerId !== null) throw notFound(`colleague ${id}`);
      await setRole(client, id, role);
      await record(client, now(), whoIs(request), 'changed a colleague’s role', {
        name: staff.name,
        from: staff.role,
        to: role satisfies StaffRole,
      });
    });
    return reply(204, undefined);
  });

  route(endpoints, deleteColleague, async ({ params: { id } }, { request }) => {
    await change(id, false, async (client, staff) => {
      await deleteStaff(client, id);
      await endSessions(client, id, null);
      await record(client, now(), whoIs(request), 'removed a colleague', { name: staff.name, role: staff.role });
    });
    return reply(204, undefined);
  });
}

const colleagueOf = ({ id, name, email, role, passwordHash, seenAt, totpSecret }: ColleagueRow): Colleague => ({
  id,
  name,
  email,
  role,
  hasSecondFactor: totpSecret !== null,
  isInvited: passwordHash === null,
  seenAt: seenAt?.toISOString() ?? null,
});

const lastOwner = ({ name }: StaffRow) =>
  new ProblemError('last-owner', `${name} is this shop’s only owner. Make somebody else an owner first.`);

const isIn = ({ name }: StaffRow) =>
  new ProblemError('colleague-in', `${name} has chosen a password. There is nothing to invite to.`);
