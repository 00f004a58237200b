import { z } from 'zod';
import { MOST_UNITS } from '../model/units.ts';
import { Locale } from '../model/localisedText.ts';
import { WAITLIST_STATES } from '../requests/waitlist.ts';
import { call, NoBody } from './call.ts';
import { Email, Id, PagedByPosition, RowId } from './scalars.ts';

const Token = z.string().max(8000);
/** A turn lasts a year at most. */
const Hours = z.int().min(1).max(8760);

export const joinWaitlist = call({
  method: 'post',
  path: '/v1/waitlist-entries',
  summary: 'Joins the waitlist of a product or variant',
  auth: 'public',
  body: z.strictObject({
    path: z.string().min(1).max(2000).describe('Of the product’s own page'),
    variantId: Id.optional(),
    email: Email.optional().describe('For those who are not signed in'),
    name: z.string().trim().max(200).optional(),
    visitor: Token.nullish(),
    locale: Locale.optional(),
  }),
  replies: {
    200: z.strictObject({
      state: z.literal('waiting'),
      position: z.int(),
      length: z.int(),
      html: z.string().describe('What to say, safe HTML'),
    }),
    202: z.strictObject({
      state: z.literal('confirm').describe('A link went to the address; it joins when that is followed'),
      html: z.string(),
    }),
  },
  problems: ['no-address', 'no-letters', 'no-waitlist', 'not-found', 'sign-in-first', 'too-many'],
});

/** One list: of a variant, or of a product as a whole. */
const ListKey = z.strictObject({ product: Id, variant: Id.nullable().default(null) });

export const Waitlist = z
  .strictObject({
    product: z.string(),
    variant: z.string().nullable(),
    title: z.string(),
    waiting: z.int(),
    invited: z.int(),
    promised: z.int().describe('Units that invited people may still buy'),
    bought: z.int(),
    lapsed: z.int(),
    oldest: z.iso.datetime().nullable().describe('Since when the first of them waits'),
    stock: z.int().nullable().describe('Units in stock; null where stock is not tracked'),
    inviteForHours: z.int().nullable().describe('It invites by itself when stock lands, for so long'),
  })
  .meta({ id: 'Waitlist' });
export type Waitlist = z.infer<typeof Waitlist>;

export const listWaitlists = call({
  method: 'get',
  path: '/api/waitlists',
  summary: 'Lists waitlists, the longest first',
  auth: 'readRequests',
  query: z.strictObject({
    search: z.string().max(200).optional().describe('Words in the title of the product or variant'),
    product: Id.optional(),
    with: z.enum(['invited', 'bought', 'lapsed']).optional().describe('Only lists that have people in this state'),
    ...PagedByPosition,
  }),
  replies: {
    200: z.strictObject({
      lists: z.array(Waitlist),
      total: z.int().describe('Lists found'),
      waiting: z.int().describe('People waiting on all lists found'),
      more: z.boolean(),
    }),
  },
});

export const WaitlistEntry = z
  .strictObject({
    id: z.string(),
    state: z.enum(WAITLIST_STATES),
    position: z.int().nullable(),
    customer: z.string().nullable(),
    name: z.string().nullable(),
    email: z.string().nullable(),
    locale: z.string().nullable(),
    note: z.string().nullable(),
    joinedAt: z.iso.datetime(),
    changedAt: z.iso.datetime(),
    until: z.iso.datetime().nullable().describe('When an invitation lapses'),
  })
  .meta({ id: 'WaitlistEntry' });
export type WaitlistEntry = z.infer<typeof WaitlistEntry>;

const filters = {
  product: Id,
  variant: Id.optional(),
  state: z.enum(WAITLIST_STATES).optional(),
  search: z.string().max(200).optional(),
};

export const listWaitlistEntries = call({
  method: 'get',
  path: '/api/waitlists/entries',
  summary: 'Lists the people on a waitlist, in their order',
  auth: 'readRequests',
  query: z.strictObject({
    ...filters,
    after: RowId.optional(),
    limit: z.coerce.number().int().min(1).max(500).default(100),
  }),
  replies: { 200: z.strictObject({ entries: z.array(WaitlistEntry), total: z.int(), more: z.boolean() }) },
  problems: ['not-found'],
});

export const exportWaitlist = call({
  method: 'get',
  path: '/api/waitlists/entries.csv',
  summary: 'Exports the people on a waitlist as CSV',
  auth: 'readRequests',
  query: z.strictObject(filters),
  produces: 'text/csv',
  replies: { 200: z.string() },
  problems: ['not-found'],
});

export const inviteFromWaitlist = call({
  method: 'post',
  path: '/api/waitlists/invitations',
  summary: 'Invites the next people, or chosen ones, to buy',
  auth: 'requests',
  body: z
    .strictObject({
      ...ListKey.shape,
      next: z.int().min(1).max(1000).optional(),
      entries: z
        .array(z.string().regex(/^\d{1,15}$/, 'the id of an entry'))
        .min(1)
        .max(1000)
        .optional(),
      hours: Hours.nullable().describe('How long the turn lasts before the next person has it; null for good'),
      units: z
        .int()
        .min(1)
        .max(MOST_UNITS)
        .nullable()
        .default(1)
        .describe('How many of a variant each may buy; null for as many as they like'),
    })
    .refine(({ next, entries }) => (next === undefined) !== (entries === undefined), 'one of next and entries'),
  replies: { 200: z.strictObject({ invited: z.int() }) },
  problems: ['not-found', 'not-there'],
});

export const patchWaitlistEntry = call({
  method: 'patch',
  path: '/api/waitlists/entries/{id}',
  summary: 'Changes a person’s note, removes them from the list, or restores their place',
  auth: 'requests',
  params: z.strictObject({ id: RowId }),
  body: z.strictObject({
    note: z.string().max(2000).nullable().optional(),
    state: z.enum(['removed', 'waiting']).optional(),
  }),
  replies: { 204: NoBody },
  problems: ['not-found', 'not-there'],
});

export const putWaitlistSettings = call({
  method: 'put',
  path: '/api/waitlists/settings',
  summary: 'Sets whether a list invites automatically when stock arrives, and for how long',
  auth: 'requests',
  body: z.strictObject({ ...ListKey.shape, inviteForHours: Hours.nullable() }),
  replies: { 204: NoBody },
  problems: ['not-found'],
});
