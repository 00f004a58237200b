import { z } from 'zod';
import { SURFACES } from '../model/subject.ts';
import { Locale } from '../model/localisedText.ts';
import { Rulebook } from '../rulebook/rulebook.ts';
import { Audience } from './audienceCalls.ts';
import { call } from './call.ts';
import { RULEBOOK_LIMIT } from './rulebookCalls.ts';
import { Instant, MOST_INT } from './scalars.ts';
import { PRODUCT_ASPECTS } from '../aspects/aspects.ts';
import { FindingParts } from '../analysis/finding.ts';
import { Decision, TraceEntry, Visit } from '../engine/decision.ts';
import { CONTROL_KINDS } from '../controls/controls.ts';

export const postRehearsalDecisions = call({
  method: 'post',
  path: '/api/rehearsal/decisions',
  summary: 'Decides by the draft, the live edition or any rulebook, with the trace',
  auth: 'read',
  bodyLimit: RULEBOOK_LIMIT,
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
  kind: z.enum(CONTROL_KINDS),
  label: z.string().nullable(),
  beside: z.boolean(),
});

const Edition = z.int().min(0).max(MOST_INT);

/** Source of the rules: the draft, the live edition, an opening or an edition; edition 0 is a shop without rules. */
export const Source = z.union([
  z.literal('draft'),
  z.literal('live'),
  z.strictObject({ edition: Edition }),
  z.strictObject({ opening: z.int().min(1) }),
]);
export type Source = z.infer<typeof Source>;
/** The same in a query: `draft`, `live` or the edition’s number. */
const NamedSource = z
  .union([
    z.enum(['draft', 'live']),
    z.coerce
      .number()
      .int()
      .min(0)
      .max(MOST_INT)
      .transform((edition) => ({ edition })),
  ])
  .default('draft');

/** Answer while the result is being computed, for `Prefer: respond-async, wait=SECONDS` (RFC 7240): ask again. */
export const Working = z
  .strictObject({ done: z.number().min(0).max(1).describe('How much of it, from 0 to 1') })
  .meta({ id: 'Working' });

export const ImpactGroup = z
  .strictObject({
    key: z.string().describe('Names the group; the same comparison has the same'),
    before: Look,
    after: Look,
    aspects: z.array(z.enum(PRODUCT_ASPECTS)),
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
    at: Instant.describe('The first of the moments looked at at which it is so'),
    aspects: z.array(z.enum(PRODUCT_ASPECTS)),
    before: Decision,
    after: Decision,
  })
  .meta({ id: 'ImpactChange' });
export type ImpactChange = z.infer<typeof ImpactChange>;

export const postImpact = call({
  method: 'post',
  path: '/api/rehearsal/impact',
  summary: 'Returns the impact of one rulebook against another, over the whole catalog and all audiences',
  auth: 'read',
  isLong: true,
  body: z.strictObject({
    from: Source.default('live').describe('Edition 0 is a shop without rules'),
    to: Source.default('draft'),
    at: Instant.optional().describe('Now when absent'),
    surface: z.enum(SURFACES).default('product'),
    days: z.int().min(0).max(400).default(0).describe('Looks at every coming change within so many days as well'),
    group: z.string().max(5000).optional().describe('Only changes of this group'),
    search: z.string().max(200).optional().describe('Only of goods with this in their title or id'),
    skip: z.int().min(0).max(10_000_000).default(0).describe('So many changes that fit are left out'),
    limit: z.int().min(0).max(1000).default(50),
  }),
  replies: {
    202: Working,
    200: z.strictObject({
      at: Instant,
      looked: z.int().describe('Variants, on a listing products, that were looked at'),
      moments: z.int().describe('Moments that were looked at'),
      changed: z.int().describe('Those that change for anybody'),
      groups: z.array(ImpactGroup),
      changes: z.array(ImpactChange),
      more: z.boolean(),
      visits: z
        .array(z.strictObject({ audience: z.string(), before: Visit, after: Visit }))
        .describe('Audiences for whom an empty cart and the checkout change'),
    }),
  },
  problems: ['not-found'],
});

export const FindingReply = FindingParts.extend({
  example: z
    .strictObject({
      product: z.string(),
      variant: z.string(),
      title: z.string(),
      audience: z.string(),
      at: Instant,
      surface: z.enum(SURFACES),
    })
    .nullable()
    .describe('A case in which it can be seen'),
}).meta({ id: 'Finding' });
export type FindingReply = z.infer<typeof FindingReply>;

export const getFindings = call({
  method: 'get',
  path: '/api/rehearsal/findings',
  summary: 'Lists findings in the draft, the live edition or an earlier one',
  auth: 'read',
  isLong: true,
  query: z.strictObject({ of: NamedSource }),
  replies: {
    202: Working,
    200: z.strictObject({
      at: Instant,
      looked: z.int().describe('Products that were looked through; fewer than `of` when time ran out'),
      of: z.int(),
      findings: z.array(FindingReply),
    }),
  },
  problems: ['not-found'],
});

const Bar = z.strictObject({ from: Instant, until: Instant });

export const ComingInstant = z
  .strictObject({
    at: Instant,
    changed: z.int().describe('Variants that change for anybody'),
    groups: z.array(ImpactGroup),
    opens: z.array(z.string()).describe('Rules that begin to count then'),
    closes: z.array(z.string()).describe('Rules that end to count then'),
  })
  .meta({ id: 'ComingInstant' });
export type ComingInstant = z.infer<typeof ComingInstant>;

export const getCalendar = call({
  method: 'get',
  path: '/api/rehearsal/calendar',
  summary: 'Lists scheduled changes, and when each rule can match',
  auth: 'read',
  isLong: true,
  query: z.strictObject({ of: NamedSource, days: z.coerce.number().int().min(1).max(400).default(400) }),
  replies: {
    202: Working,
    200: z.strictObject({
      at: Instant,
      until: Instant,
      instants: z.array(ComingInstant),
      bars: z.array(z.strictObject({ rule: z.string(), bars: z.array(Bar) })),
    }),
  },
  problems: ['not-found'],
});

export const postRows = call({
  method: 'post',
  path: '/api/rehearsal/rows',
  summary: 'Chooses a few variants that show every distinct outcome, over all audiences',
  auth: 'read',
  isLong: true,
  body: z.strictObject({
    source: Source.default('draft'),
    at: Instant.optional().describe('Now when absent'),
    surfaces: z.array(z.enum(SURFACES)).min(1).default(['product', 'listing']),
  }),
  replies: {
    202: Working,
    200: z.strictObject({
      at: Instant,
      rows: z.array(z.strictObject({ product: z.string(), variant: z.string(), shows: z.int() })),
    }),
  },
  problems: ['not-found'],
});

const Address = z.strictObject({ address: z.url().describe('Whoever has it can read the calendar (RFC 5545)') });

export const getCalendarAddress = call({
  method: 'get',
  path: '/api/calendar-address',
  summary: 'Returns the secret address of the calendar for other programs',
  auth: 'read',
  replies: { 200: Address },
});

export const postCalendarAddress = call({
  method: 'post',
  path: '/api/calendar-address',
  summary: 'Replaces the calendar’s secret address; the old one ends',
  auth: 'draft',
  replies: { 200: Address },
});

const PreviewClaims = z.strictObject({
  source: Source,
  audience: Audience,
  at: Instant.nullable().describe('Null: as the time goes'),
});
/** Claims of a preview's link. */
export type PreviewClaims = z.infer<typeof PreviewClaims>;

export const postPreview = call({
  method: 'post',
  path: '/api/previews',
  summary:
    'A link that opens the shop as it will look: by other rules, as somebody, at a moment; nothing can be bought there',
  auth: 'read',
  body: PreviewClaims.extend({ page: z.string().min(1).max(500).startsWith('/').default('/') }),
  replies: { 201: z.strictObject({ address: z.url(), until: Instant }) },
  problems: ['not-found'],
});
