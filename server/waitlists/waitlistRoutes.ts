import type { Request } from 'express';

import {
  exportWaitlist,
  inviteFromWaitlist,
  joinWaitlist,
  listWaitlistEntries,
  listWaitlists,
  patchWaitlistEntry,
  putWaitlistSettings,
  type WaitlistEntry,
} from '#core/contract/waitlistCalls.ts';
import { csvFile } from '../http/csvFile.ts';
import { notFound, ProblemError } from '../http/errors.ts';
import { limitTo } from '../limits/limit.ts';
import { networkOf } from '../http/network.ts';
import { attachment, reply, route } from '../http/route.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { scopeOf } from '../scope/scope.ts';
import type { Services } from '../services/services.ts';
import {
  entriesByIds,
  findList,
  noteEntry,
  pageOfEntries,
  pageOfLists,
  writeSettings,
  type EntryRow,
} from './waitlistQueries.ts';
import { titleOf } from '../catalog/titles.ts';
import { actorOf } from '../requests/command.ts';
import { invite, join, leaveList, restorePlace } from './waitlistService.ts';

const JOINS_A_MINUTE = 60;
const MOST_IN_A_FILE = 200_000;

/** Calls from shops' pages. */
export function joinRoutes(endpoints: Endpoints, services: Services): void {
  const limit = limitTo(JOINS_A_MINUTE, services.db, 'waitlist:');
  route(
    endpoints,
    joinWaitlist,
    async ({ body }, { request }) => {
      const joined = await join(services, body, networkOf(request));
      const headers = { 'Cache-Control': 'no-store' };
      return joined.state === 'waiting' ? reply(200, joined, headers) : reply(202, joined, headers);
    },
    [limit],
  );
}

/** The owner's lists, and the people on them. */
export function waitlistRoutes(endpoints: Endpoints, services: Services): void {
  const { db, live } = services;
  const listOf = async (
    request: Request,
    { product, variant = null }: { product: string; variant?: string | null | undefined },
  ) => {
    const list = await findList(db, { product, variant }, await scopeOf(services, request));
    if (!list) throw notFound(`product ${product}${variant === null ? '' : ` with variant ${variant}`}`);
    return list;
  };

  route(endpoints, listWaitlists, async ({ query }, { request }) => {
    const { locales } = live.current().rulebook.shop;
    const { rows, total, more } = await pageOfLists(db, query, await scopeOf(services, request));
    const lists = rows.map((list) => ({
      product: list.product,
      variant: list.variant,
      title: titleOf(list, null, locales),
      waiting: list.waiting,
      invited: list.invited,
      promised: list.promised,
      bought: list.bought,
      lapsed: list.lapsed,
      oldest: list.oldest?.toISOString() ?? null,
      stock: list.stock,
      inviteForHours: list.inviteForHours,
    }));
    return reply(200, { lists, total, waiting: rows[0]?.allWaiting ?? 0, more });
  });

  route(endpoints, exportWaitlist, async ({ query }, { request }) => {
    const list = await listOf(request, query);
    const { rows } = await pageOfEntries(db, list, { ...query, limit: MOST_IN_A_FILE });
    const csv = csvFile(rows.map(toEntry), CSV_COLUMNS);
    return reply(200, csv, attachment(`waitlist-${list.variant ?? list.product}.csv`));
  });

  route(endpoints, listWaitlistEntries, async ({ query }, { request }) => {
    const list = await listOf(request, query);
    const { rows, ...page } = await pageOfEntries(db, list, query);
    return reply(200, { entries: rows.map(toEntry), ...page });
  });

  route(endpoints, inviteFromWaitlist, async ({ body: { next, entries, hours, units, ...key } }, { request }) => {
    const list = await listOf(request, key);
    const only = entries?.map(Number) ?? null;
    const actor = actorOf(await scopeOf(services, request));
    const how = { most: next ?? entries?.length ?? 0, only, hours, units, actor };
    return reply(200, { invited: await invite(services, list, how) });
  });

  route(endpoints, patchWaitlistEntry, async ({ params: { id }, body: { note, state } }, { request }) => {
    const scope = await scopeOf(services, request);
    const [entry] = await entriesByIds(db, [id], scope);
    if (!entry) throw notFound(`waitlist entry ${id}`);
    if (note !== undefined) await noteEntry(db, id, note);
    const isDone =
      state === undefined ||
      (state === 'removed'
        ? await leaveList(services, id, { command: 'remove', actor: actorOf(scope) })
        : await restorePlace(services, id, actorOf(scope)));
    if (!isDone) throw notThere();
    return reply(204, undefined);
  });

  route(endpoints, putWaitlistSettings, async ({ body: { inviteForHours, ...key } }, { request }) => {
    const list = await listOf(request, key);
    await db.transaction((client) => writeSettings(client, list, inviteForHours));
    return reply(204, undefined);
  });
}

const CSV_COLUMNS = ['position', 'state', 'name', 'email', 'customer', 'joinedAt', 'changedAt', 'until', 'note'];

const toEntry = ({ id, joinedAt, changedAt, until, ...entry }: EntryRow): WaitlistEntry => ({
  ...entry,
  id: String(id),
  joinedAt: joinedAt.toISOString(),
  changedAt: changedAt.toISOString(),
  until: until?.toISOString() ?? null,
});

const notThere = () =>
  new ProblemError('not-there', 'This person’s place has changed meanwhile. Look at the list again.');
