import { z } from 'zod';

/** The visitor's earlier action about this product, so that no page asks them to join a list they are on. */
export const VisitorStatus = z
  .discriminatedUnion('state', [
    z.strictObject({
      state: z.literal('waiting'),
      position: z.int().min(1),
      leave: z.string().describe('Where they can leave the list'),
    }),
    z.strictObject({ state: z.literal('invited'), until: z.iso.datetime({ offset: true }).nullable() }),
    z.strictObject({ state: z.literal('reserved'), units: z.int().min(1) }),
    z.strictObject({ state: z.literal('asked') }),
  ])
  .meta({ id: 'VisitorStatus' });
export type VisitorStatus = z.infer<typeof VisitorStatus>;
