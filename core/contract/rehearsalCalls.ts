import { z } from 'zod';
import { SURFACES } from '../decide/subject.ts';
import { Locale } from '../rulebook/localisedText.ts';
import { Rulebook } from '../rulebook/rulebook.ts';
import { call } from './call.ts';
import { Decision, TraceEntry, Visit } from './decision.ts';

const Instant = z.iso.datetime({ offset: true });

export const postRehearsalDecisions = call({
  method: 'post',
  path: '/api/rehearsal/decisions',
  summary: 'How the draft, the live edition or any rulebook decides, with the trace',
  auth: 'owner',
  body: z.strictObject({
    source: z.union([z.enum(['draft', 'live']), z.strictObject({ rulebook: Rulebook })]),
    at: Instant.optional().describe('Now when absent'),
    surface: z.enum(SURFACES),
    locale: Locale.optional(),
    visitor: z.strictObject({
      signedIn: z.boolean(),
      roles: z.array(z.string().max(200)).max(200),
      customerId: z.string().max(200).optional(),
      invitedTo: z.array(z.string().max(200)).max(1000).optional(),
    }),
    products: z.array(z.string().max(200)).max(500),
  }),
  replies: {
    200: z.strictObject({
      at: Instant,
      products: z.array(
        z.strictObject({
          id: z.string(),
          decision: Decision.nullable().describe('On a listing: the product’s as a whole'),
          variants: z.array(z.strictObject({ id: z.string(), decision: Decision, trace: z.array(TraceEntry) })),
        }),
      ),
      visit: Visit,
    }),
  },
});
