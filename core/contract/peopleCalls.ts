import { z } from 'zod';
import { call, NoBody } from './call.ts';
import { Email, Id, Instant, PagedByPosition } from './scalars.ts';

const Role = z.string().trim().min(1).max(200);

const Grants = z
  .array(
    z
      .strictObject({
        role: Role,
        from: Instant.nullable().default(null),
        until: Instant.nullable().default(null),
      })
      .refine(
        ({ from, until }) => from === null || until === null || Date.parse(from) < Date.parse(until),
        'from before until',
      ),
  )
  .max(50)
  .default([]);

const RoleChanges = z
  .strictObject({
    grant: Grants,
    end: z
      .array(z.strictObject({ role: Role, at: Instant.optional().describe('Now when absent') }))
      .max(50)
      .default([]),
    drop: z
      .array(z.strictObject({ role: Role, from: Instant.nullable(), until: Instant.nullable() }))
      .max(50)
      .default([])
      .describe('What was held with exactly these dates, as if it never had been; with what is granted: other dates'),
  })
  .describe('What ends, ends before anything is granted; what is held in part at that time is cut there');
const PersonParams = z.strictObject({ id: Id });

export const putMembership = call({
  method: 'put',
  path: '/v1/people/{id}/roles',
  summary: 'Grants or ends roles and memberships that the shop sold',
  auth: 'shop',
  params: PersonParams,
  body: RoleChanges,
  replies: { 204: NoBody },
  problems: ['not-found'],
});

export const putPersonRoles = call({
  method: 'put',
  path: '/api/people/{id}/roles',
  summary: 'Grants or ends roles and memberships, at once or on a date',
  auth: 'people',
  params: PersonParams,
  body: RoleChanges,
  replies: { 204: NoBody },
  problems: ['not-found'],
});

const details = {
  email: Email.nullable(),
  name: z.string().trim().min(1).max(200).nullable(),
  phone: z
    .string()
    .regex(/^\+[1-9]\d{5,14}$/, 'a number with its country, such as +351210000000')
    .nullable(),
};

const MADE_UP = 'hand-';

/** An id for a customer unknown to the shop. @param random letters and digits */
export const madeUpId = (random: string): string => MADE_UP + random;

/** Whether Understudy made an id, so that no file and no token of the shop has it. */
export const isMadeUpId = (id: string): boolean => id.startsWith(MADE_UP);

export const postPerson = call({
  method: 'post',
  path: '/api/people',
  summary: 'Adds a customer by hand',
  auth: 'people',
  body: z.strictObject({
    id: Id.optional().describe('The shop’s id of theirs; made up when absent, to be merged once the shop has one'),
    email: details.email.default(null),
    name: details.name.default(null),
    phone: details.phone.default(null),
    roles: Grants,
  }),
  replies: { 201: z.strictObject({ id: z.string() }) },
  problems: ['id-taken'],
});

export const patchPerson = call({
  method: 'patch',
  path: '/api/people/{id}',
  summary: 'Changes a customer’s name, e-mail address and telephone number',
  auth: 'people',
  params: PersonParams,
  body: z.strictObject(details).partial(),
  replies: { 204: NoBody },
  problems: ['not-found'],
});

/** Records moved by a merge. */
const Moved = z.strictObject({
  waitlists: z.int(),
  preorders: z.int(),
  quotes: z.int(),
  enquiries: z.int(),
});
export type Moved = z.infer<typeof Moved>;

export const postMerge = call({
  method: 'post',
  path: '/api/people/{id}/merge',
  summary:
    'Makes two customers one: roles, places, pre-orders, quotes and enquiries of the other go over, and its id means this one from then on. It cannot be taken back',
  auth: 'people',
  params: PersonParams,
  body: z.strictObject({ other: Id }),
  replies: { 200: Moved },
  problems: ['not-found', 'same-customer'],
});

export const TIMELINE_KINDS = ['waitlist', 'preorder', 'quote', 'enquiry', 'message', 'role'] as const;

/** Something that a customer did, was sent or was given. */
export const TimelineEntry = z
  .strictObject({
    kind: z.enum(TIMELINE_KINDS),
    key: z.string().describe('Id of the request or message; code of the role'),
    at: z.iso.datetime().describe('When it last changed'),
    state: z.string().describe('State of the request or message; held, over or coming for a role'),
    title: z.string().nullable().describe('Product, subject or role'),
    product: z.string().nullable(),
    variant: z.string().nullable(),
    units: z.int().nullable(),
    order: z.string().nullable(),
  })
  .meta({ id: 'TimelineEntry' });
export type TimelineEntry = z.infer<typeof TimelineEntry>;

export const getTimeline = call({
  method: 'get',
  path: '/api/people/{id}/timeline',
  summary: 'Lists the requests, orders, letters and roles of a customer, the newest first',
  auth: 'people',
  params: PersonParams,
  query: z.strictObject(PagedByPosition),
  replies: { 200: z.strictObject({ entries: z.array(TimelineEntry), total: z.int(), more: z.boolean() }) },
  problems: ['not-found'],
});

/** One person: a customer by the shop's id, or everyone with an e-mail address. */
const Whose = z
  .strictObject({
    customer: Id.optional(),
    email: Email.optional(),
  })
  .refine(({ customer, email }) => (customer === undefined) !== (email === undefined), 'one of customer and email');

const SameAddress = z
  .array(z.string())
  .describe('Ids of other customers with the same e-mail address, who are not covered; ask by address to cover all');
const Records = z.array(z.record(z.string(), z.unknown()));
export const PersonData = z
  .strictObject({
    customers: Records.describe('More than one where an e-mail address was given that several share'),
    sameAddress: SameAddress,
    roles: Records,
    waitlists: Records,
    preorders: Records,
    quotes: Records,
    enquiries: Records,
    messages: Records,
  })
  .meta({ id: 'PersonData' });
export type PersonData = z.infer<typeof PersonData>;

const Erasure = z
  .strictObject({ customers: z.array(z.string()).describe('Ids of those who were erased'), sameAddress: SameAddress })
  .meta({ id: 'Erasure' });
export type Erasure = z.infer<typeof Erasure>;

export const exportPerson = call({
  method: 'post',
  path: '/api/people/export',
  summary: 'Exports all data about a person',
  auth: 'people',
  body: Whose,
  replies: { 200: PersonData },
});

export const erasePerson = call({
  method: 'post',
  path: '/api/people/erasure',
  summary:
    'Erases one person: waitlist entries, enquiries and messages are deleted, orders stay without the person. It cannot be undone',
  auth: 'people',
  body: Whose,
  replies: { 200: Erasure },
});
