import { z } from 'zod';
import { IMPORT_TARGETS } from '../imports/fileReading.ts';
import { call } from './call.ts';
import { MapCheck } from './pageMapCalls.ts';

/** Number of requests that need attention. */
export const RequestCounts = z
  .strictObject({
    invitations: z.int().describe('People who could be invited, since stock is there that nobody was invited to'),
    allocations: z.int().describe('Variants of which stock is there for those who reserved'),
    quotes: z.int().describe('Quotes to price, or whose customer replied'),
    enquiries: z.int().describe('Enquiries to answer'),
    messages: z.int().describe('Messages that could not be sent'),
    held: z.int().describe('Letters that were held back, since strangers asked for too many'),
  })
  .meta({ id: 'RequestCounts' });
export type RequestCounts = z.infer<typeof RequestCounts>;

export const getAttention = call({
  method: 'get',
  path: '/api/attention',
  summary: 'Counts the work that waits for a person',
  auth: 'read',
  replies: {
    200: z.strictObject({
      pageMapBroken: z.array(MapCheck.shape.broken.element),
      ...RequestCounts.shape,
      spotChecks: z.int().describe('Spot checks that the draft fails'),
      sellers: z.int().describe('Sellers who ask to publish'),
      feeds: z.array(z.enum(IMPORT_TARGETS)).describe('What the feeds are of whose newest try failed'),
      imports: z.int().describe('Imports that were interrupted within a week, and not sent again since'),
    }),
  },
});
