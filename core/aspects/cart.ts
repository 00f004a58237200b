import { z } from 'zod';
import { outcome } from '../controls/telling.ts';
import { WebHref } from '../texts/hrefSchema.ts';
import { defineVisitAspect } from './aspect.ts';
import { doorChanges, redirect, sending } from './redirect.ts';

/** Whether the cart can be used. */
export const cart = defineVisitAspect({
  schema: z.strictObject({ open: z.boolean(), redirectTo: WebHref.optional() }),
  decided: z.strictObject({ open: z.boolean(), redirectTo: z.string().nullable() }),
  prepare: ({ open, redirectTo }, shop) => ({ open, redirectTo: redirect(redirectTo, shop) }),
  resolve: (winner, subject) => ({ open: winner?.open ?? true, redirectTo: winner?.redirectTo?.(subject) ?? null }),
  // The strictest: closed before open.
  join: (all) => all.find(({ open }) => !open) ?? all[0],
  name: 'the cart',
  shortName: 'cart',
  changes: (before, after) => doorChanges('cart', before, after),
  phrases: ({ open, redirectTo }) => [
    outcome((open ? 'keep the cart open' : 'close the cart') + sending(redirectTo), '/then/cart'),
  ],
});
