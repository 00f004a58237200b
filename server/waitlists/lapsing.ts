import type PgBoss from 'pg-boss';
import { lapseDue, type Needs } from './waitlistService.ts';

const QUEUE = 'waitlist-lapse';
const EVERY_MINUTE = '* * * * *';

/** Lets turns lapse as their time passes, on whichever copy of the server is free. */
export async function workLapses(jobs: PgBoss, services: Omit<Needs, 'jobs'>): Promise<void> {
  await jobs.createQueue(QUEUE);
  await jobs.schedule(QUEUE, EVERY_MINUTE);
  await jobs.work(QUEUE, async () => {
    while ((await lapseDue({ ...services, jobs })) > 0);
  });
}
