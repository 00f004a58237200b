import { z } from 'zod';
import { outcome } from '../controls/telling.ts';
import { WebHref } from '../texts/hrefSchema.ts';
import { defineAspect } from './aspect.ts';
import { redirect, sending } from './redirect.ts';

/** Visibility of a product, the most visible first. */
const STATES = ['shown', 'offListings', 'blocked'] as const;

/** Whether a product is on listings, and whether its page may be read. */
export const visibility = defineAspect({
  schema: z.strictObject({ state: z.enum(STATES), redirectTo: WebHref.optional() }),
  decided: z.strictObject({ state: z.enum(STATES), redirectTo: z.string().nullable() }),
  mayHangOnPage: true,
  prepare: ({ state, redirectTo }, shop) => ({ state, redirectTo: redirect(redirectTo, shop) }),
  resolve: (winner, { subject }) => ({
    state: winner?.state ?? 'shown',
    redirectTo: winner?.redirectTo?.(subject) ?? null,
  }),
  // A product stays on listings while any of its variants does.
  join: (all) => STATES.flatMap((state) => all.find((one) => one.state === state) ?? [])[0] ?? all[0],
  name: 'visibility',
  shortName: 'visibility',
  phrases: ({ state, redirectTo }) => [outcome(WORDS[state] + sending(redirectTo), '/then/visibility')],
});

const WORDS: Readonly<Record<(typeof STATES)[number], string>> = {
  shown: 'show the product everywhere',
  offListings: 'keep the product off listings',
  blocked: 'block the product’s page',
};
