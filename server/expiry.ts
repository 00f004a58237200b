import type { Jobs } from './db/jobs.ts';
import { expireQuotes } from './quotes/quoteService.ts';
import type { JobServices } from './services/services.ts';
import { expireInvitations } from './waitlists/waitlistService.ts';

const QUEUE = 'waitlist-lapse';
const EVERY_MINUTE = '* * * * *';

/** Lets turns and quotes lapse as their time passes, on whichever copy of the server is free. */
export async function workExpiry(jobs: Jobs, services: Omit<JobServices, 'jobs'>): Promise<void> {
  await jobs.work(QUEUE, { schedule: { cron: EVERY_MINUTE } }, async () => {
    const needs = { ...services, jobs };
    while ((await expireInvitations(needs)) + (await expireQuotes(needs)) > 0);
  });
}
