import { isDeepStrictEqual } from 'node:util';
import { isPermission, type Permission } from '#core/contract/permissions.ts';
import { recordGradually } from '../db/record.ts';
import type { Services } from '../services/services.ts';
import { acting, type Act } from '../db/acting.ts';
import type { Recorder } from '../http/endpoints.ts';
import { actorOf, whoIs } from '../http/identity.ts';

/** Permissions whose calls change nothing that others see. */
const OF_NO_NOTE: ReadonlySet<Permission> = new Set<Permission>(['self', 'read', 'readRequests', 'follow', 'readOwn']);
/** Parts of a body that identify its subject without revealing its content. */
const TELLING = ['name', 'event', 'locale', 'state', 'role', 'at', 'zone', 'currency'];

interface Told {
  readonly times?: number;
}

/** Records every call that changes something, with its author and subject, in the transaction of the change. */
export const recorderOf =
  ({ db, clock }: Pick<Services, 'db' | 'clock'>): Recorder =>
  async (call, request, { params, body }, work) => {
    if (call.method === 'get' || !isPermission(call.auth) || OF_NO_NOTE.has(call.auth)) return work();
    // Customers are recorded by id alone: the record outlives their erasure.
    const telling = call.auth === 'people' ? [] : TELLING;
    const told = Object.entries(body ?? {}).filter(
      ([name, value]) => telling.includes(name) && ['string', 'number'].includes(typeof value),
    );
    const detail = { ...(params ?? {}), ...Object.fromEntries(told) };
    const did = `${call.method} ${call.path}`;
    const act: Act = {
      isRecorded: false,
      actor: actorOf(request),
      // Repeated calls of a program in one day are one entry with a count.
      record: (client) =>
        recordGradually<Told>(client, { at: new Date(clock()), who: whoIs(request), did }, (before) => {
          const { times = 1, ...same } = before ?? {};
          if (before === null) return detail;
          return isDeepStrictEqual(same, detail) ? { ...detail, times: times + 1 } : null;
        }),
    };
    return acting.run(act, async () => {
      try {
        const result = await work();
        if (!act.isRecorded && result.status < 300) await act.record(db);
        return result;
      } finally {
        // Background work it started is not attributed to the caller.
        act.isRecorded = true;
      }
    });
  };
