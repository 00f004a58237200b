import { z } from 'zod';
import { call, NoBody } from './call.ts';
import { Id } from './scalars.ts';

/** Audience of the proof: visitors of a kind, or one customer. */
export const Audience = z
  .strictObject({
    name: z.string().min(1).max(200).regex(/\S/, 'a name'),
    signedIn: z.boolean(),
    roles: z.array(z.string().min(1).max(200)).max(50),
    customer: Id.nullable()
      .default(null)
      .describe('One customer, signed in, with the roles and invitations that they have, and no roles beside'),
    invited: z.boolean().default(false).describe('Invited from the waitlist of whatever is looked at'),
  })
  .refine(
    ({ customer, signedIn, roles }) => customer === null || (signedIn && roles.length === 0),
    'a customer is signed in, and has their own roles',
  )
  .meta({ id: 'Audience' });
export type Audience = z.infer<typeof Audience>;

const At = z.number().nullable().describe('Epoch milliseconds');
const Person = z.strictObject({
  id: z.string(),
  name: z.string().nullable(),
  roles: z.array(z.strictObject({ code: z.string(), from: At, until: At })),
  invitations: z.array(
    z.strictObject({
      to: z.enum(['variant', 'product', 'any']),
      id: z.string(),
      until: At,
      units: z.int().nullable().optional(),
    }),
  ),
});

/** An audience with its customer's facts, as decisions need it. */
export const ResolvedAudience = z
  .strictObject({
    ...Audience.shape,
    person: Person.nullable().describe(
      'Null for an audience of a kind, and where the shop has no such customer any more',
    ),
  })
  .meta({ id: 'ResolvedAudience' });
export type ResolvedAudience = z.infer<typeof ResolvedAudience>;

export const getAudiences = call({
  method: 'get',
  path: '/api/audiences',
  summary: 'Lists the audiences, in their order',
  auth: 'read',
  replies: { 200: z.array(ResolvedAudience) },
});

export const MOST_AUDIENCES = 12;

export const putAudiences = call({
  method: 'put',
  path: '/api/audiences',
  summary: 'Replaces the audiences',
  auth: 'draft',
  body: z.array(Audience).min(1).max(MOST_AUDIENCES),
  replies: { 204: NoBody },
});
