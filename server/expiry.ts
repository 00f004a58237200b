import type PgBoss from 'pg-boss';
import { expireQuotes } from './quotes/quoteService.ts';
import type { JobServices } from './base/services.ts';
import { expireInvitations } from './waitlists/waitlistService.ts';

const QUEUE = 'waitlist-lapse';
const EVERY_MINUTE = '* * * * *';

/** Lets turns and quotes lapse as their time passes, on whichever copy of the server is free. */
export async function workExpiry(jobs: PgBoss, services: Omit<JobServices, 'jobs'>): Promise<void> {
  await jobs.createQueue(QUEUE);
  await jobs.schedule(QUEUE, EVERY_MINUTE);
  await jobs.work(QUEUE, async () => {
    const needs = { ...services, jobs };
    while ((await expireInvitations(needs)) + (await expireQuotes(needs)) > 0);
  });
}
