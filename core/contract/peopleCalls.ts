import { z } from 'zod';
import { call, NoBody } from './call.ts';
import { Email, Id, Instant } from './scalars.ts';

const Role = z.string().trim().min(1).max(200);

const RoleChanges = z
  .strictObject({
    grant: z
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
      .default([]),
    end: z
      .array(z.strictObject({ role: Role, at: Instant.optional().describe('Now when absent') }))
      .max(50)
      .default([]),
  })
  .describe('What ends, ends before anything is granted; what is held in part at that time is cut there');
const PersonParams = z.strictObject({ id: Id });

export const putMembership = call({
  method: 'put',
  path: '/v1/people/{id}/roles',
  summary: 'Grants roles and memberships that the shop sold, or ends them',
  auth: 'shop',
  params: PersonParams,
  body: RoleChanges,
  replies: { 204: NoBody },
  problems: [404],
});

export const putPersonRoles = call({
  method: 'put',
  path: '/api/people/{id}/roles',
  summary: 'Grants roles and memberships, or ends them, at once or on a date',
  auth: 'people',
  params: PersonParams,
  body: RoleChanges,
  replies: { 204: NoBody },
  problems: [404],
});

/** One person: a customer by the shop's id, or whoever gave an e-mail address. */
const Whose = z
  .strictObject({
    customer: Id.optional(),
    email: Email.optional(),
  })
  .refine(({ customer, email }) => (customer === undefined) !== (email === undefined), 'one of customer and email');

const Records = z.array(z.record(z.string(), z.unknown()));
export const PersonData = z
  .strictObject({
    customer: z.record(z.string(), z.unknown()).nullable(),
    roles: Records,
    waitlists: Records,
    preorders: Records,
    quotes: Records,
    enquiries: Records,
    messages: Records,
  })
  .meta({ id: 'PersonData' });
export type PersonData = z.infer<typeof PersonData>;

export const exportPerson = call({
  method: 'post',
  path: '/api/people/export',
  summary: 'Everything that is kept of one person',
  auth: 'people',
  body: Whose,
  replies: { 200: PersonData },
});

export const erasePerson = call({
  method: 'post',
  path: '/api/people/erasure',
  summary:
    'Forgets one person: places, questions and messages go, what was reserved or ordered stays without their name. It cannot be taken back',
  auth: 'people',
  body: Whose,
  replies: { 204: NoBody },
});
