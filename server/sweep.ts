import type { Jobs } from './db/jobs.ts';
import { dropPreviewed, sweepChanges } from './imports/importQueries.ts';
import { forgetFactChanges } from './products/ownFactsQueries.ts';
import { makeRoomForCounts } from './insights/countService.ts';
import { tellHourlyCounts } from './insights/hourlyCounts.ts';
import { sendWeekLetter } from './insights/weekLetter.ts';
import type { RehearsalServices } from './rehearsal/rehearsalService.ts';
import { forgetOver } from './shop/retention.ts';
import type { JobServices, Services } from './services/services.ts';

const QUEUE = 'sweep';
const HOURLY = '17 * * * *';
/** Number of the newest imports of each kind that can be undone. */
const UNDOABLE = 5;
const DAY_MS = 86_400_000;
/** How long a change of many products can be undone. */
const FACT_CHANGES_MS = 30 * DAY_MS;

/** Data that expires, with its age. */
const OVER = [
  'DELETE FROM rate_limits WHERE resets_at <= $1',
  'DELETE FROM used_links WHERE expires_at <= $1',
  "DELETE FROM idempotency_keys WHERE created_at <= $1::timestamptz - interval '400 days'",
  "DELETE FROM counted_batches WHERE at <= $1::timestamptz - interval '2 days'",
  "DELETE FROM page_map_misses WHERE last_at <= $1::timestamptz - interval '1 day'",
] as const;

/** Deletes what has expired, on one copy of the server at a time. */
export async function sweep({ db, clock }: Pick<Services, 'db' | 'clock'>): Promise<void> {
  for (const over of OVER) await db.query(over, [new Date(clock())]);
  await dropPreviewed(db, { before: new Date(clock() - DAY_MS) });
  await sweepChanges(db, UNDOABLE);
  await forgetFactChanges(db, new Date(clock() - FACT_CHANGES_MS));
  await forgetOver(db, clock());
  await makeRoomForCounts({ db, clock });
}

/** Sends hourly counts to programs, and the weekly summary. */
export async function tell(services: JobServices & RehearsalServices): Promise<void> {
  await tellHourlyCounts(services);
  await sendWeekLetter(services);
}

export async function workSweeps(jobs: Jobs, services: Omit<JobServices, 'jobs'> & RehearsalServices): Promise<void> {
  await jobs.work(QUEUE, { schedule: { cron: HOURLY } }, async () => {
    await sweep(services);
    await tell({ ...services, jobs });
  });
}
