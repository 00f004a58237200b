import { z } from 'zod';
import { SURFACES } from '../decide/subject.ts';
import { Locale } from '../rulebook/localisedText.ts';
import { Rulebook } from '../rulebook/rulebook.ts';
import { call } from './call.ts';
import { GOODS_ASPECTS } from '../decide/aspects.ts';
import { DecidedControl, Decision, TraceEntry, Visit } from './decision.ts';

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

const Look = z.strictObject({
  kind: z.enum(DecidedControl.options.map(({ shape }) => shape.kind.value)),
  label: z.string().nullable(),
  beside: z.boolean(),
});

const Source = z.union([z.literal('draft'), z.literal('live'), z.strictObject({ edition: z.int().min(0) })]);

export const ImpactGroup = z
  .strictObject({
    key: z.string().describe('Names the group; the same comparison has the same'),
    before: Look,
    after: Look,
    aspects: z.array(z.enum(GOODS_ASPECTS)),
    count: z.int().describe('Variants, on a listing products, that change so for anybody'),
    audiences: z.array(z.string()),
  })
  .meta({ id: 'ImpactGroup' });
export type ImpactGroup = z.infer<typeof ImpactGroup>;

export const ImpactChange = z
  .strictObject({
    product: z.string(),
    variant: z.string().nullable().describe('Null on a listing'),
    title: z.string(),
    audience: z.string(),
    aspects: z.array(z.enum(GOODS_ASPECTS)),
    before: Decision,
    after: Decision,
  })
  .meta({ id: 'ImpactChange' });
export type ImpactChange = z.infer<typeof ImpactChange>;

export const postImpact = call({
  method: 'post',
  path: '/api/rehearsal/impact',
  summary: 'What one rulebook changes against another, over the whole catalog, for every audience',
  auth: 'owner',
  body: z.strictObject({
    from: Source.default('live').describe('Edition 0 is a shop without rules'),
    to: Source.default('draft'),
    at: Instant.optional().describe('Now when absent'),
    surface: z.enum(['product', 'listing']).default('product'),
    group: z.string().max(5000).optional().describe('Only changes of this group'),
    search: z.string().max(200).optional().describe('Only of goods with this in their title or id'),
    skip: z.int().min(0).max(10_000_000).default(0).describe('So many changes that fit are left out'),
    limit: z.int().min(0).max(1000).default(50),
  }),
  replies: {
    200: z.strictObject({
      at: Instant,
      looked: z.int().describe('Variants, on a listing products, that were looked at'),
      changed: z.int().describe('Those that change for anybody'),
      groups: z.array(ImpactGroup),
      changes: z.array(ImpactChange),
      more: z.boolean(),
      visits: z
        .array(z.strictObject({ audience: z.string(), before: Visit, after: Visit }))
        .describe('Audiences for whom an empty cart and the checkout change'),
    }),
  },
  problems: [404],
});
