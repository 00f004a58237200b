import type { JobServices } from '../services/services.ts';
import { hooksFor, toldUntil } from '../messages/hookQueries.ts';
import { enqueue, toHook } from '../messages/outbox.ts';
import { hoursChanged } from './insightQueries.ts';

/** Overlap with the previous report, for transactions that were still open then: an hour sent twice is the same. */
const OVERLAP_MS = 5 * 60_000;
/** A newly added program receives the last day. */
const DAY_MS = 86_400_000;

/**
 * Tells programs that want it what was counted in every hour that changed since they were told: all of that hour, which
 * takes the place of what was told of it before.
 */
export async function tellHourlyCounts(services: JobServices): Promise<void> {
  const { db, clock } = services;
  const now = clock();
  for (const { id } of await hooksFor(db, 'insights.hour'))
    await db.transaction(async (client) => {
      const [hook] = await hooksFor(client, 'insights.hour', id);
      // Another copy of the server tells it.
      if (!hook) return;
      const since = hook.countsToldAt?.getTime() ?? now - DAY_MS;
      const hours = await hoursChanged(client, new Date(since), new Date(now));
      const all = hours.map(({ hour, rows }) =>
        toHook(services, hook, { event: 'insights.hour', about: null, data: { hour: hour.toISOString(), rows } }),
      );
      await enqueue(client, services, all);
      await toldUntil(client, id, new Date(now - OVERLAP_MS));
    });
}
