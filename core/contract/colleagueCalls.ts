import { z } from 'zod';
import { call, NoBody } from './call.ts';
import { STAFF_ROLES } from './permissions.ts';
import { RowId } from './scalars.ts';
import { Code } from './secondFactorCalls.ts';
import { Email, Password, Session } from './sessionCalls.ts';

const Role = z
  .enum(STAFF_ROLES)
  .describe('What they may do: `owner` all; `publisher`, `editor` and `viewer` less and less');
const Name = z.string().max(200).regex(/\S/, 'a name');

export const Colleague = z
  .strictObject({
    id: z.int(),
    name: z.string(),
    email: z.string(),
    role: Role,
    hasSecondFactor: z.boolean().describe('Is asked for a code beside the password'),
    isInvited: z.boolean().describe('Has not chosen a password yet'),
    seenAt: z.iso.datetime().nullable().describe('When they last signed in'),
  })
  .meta({ id: 'Colleague' });
export type Colleague = z.infer<typeof Colleague>;

export const listColleagues = call({
  method: 'get',
  path: '/api/colleagues',
  summary: 'Who works in this shop, and what they may do',
  auth: 'read',
  replies: { 200: z.array(Colleague) },
});

/** What became of an invitation. */
export const Invited = z.strictObject({
  id: z.int(),
  link: z
    .url()
    .nullable()
    .describe(
      'The invitation, to be handed over by whoever invites, where Understudy has no way to send letters; else null',
    ),
});

export const postColleague = call({
  method: 'post',
  path: '/api/colleagues',
  summary: 'Invites a colleague, by a letter with a link that is good for a week',
  auth: 'settings',
  body: z.strictObject({ name: Name, email: Email, role: Role }),
  replies: { 201: Invited },
  problems: [409],
});

export const inviteAgain = call({
  method: 'post',
  path: '/api/colleagues/{id}/invitation',
  summary: 'Sends the invitation once more',
  auth: 'settings',
  params: z.strictObject({ id: RowId }),
  replies: { 201: Invited },
  problems: [404, 409],
});

export const putColleague = call({
  method: 'put',
  path: '/api/colleagues/{id}',
  summary: 'Changes what a colleague may do, from their next call on. One owner stays',
  auth: 'settings',
  params: z.strictObject({ id: RowId }),
  body: z.strictObject({ role: Role }),
  replies: { 204: NoBody },
  problems: [404, 409],
});

export const deleteColleague = call({
  method: 'delete',
  path: '/api/colleagues/{id}',
  summary: 'Lets a colleague go: their sessions end. One owner stays',
  auth: 'settings',
  params: z.strictObject({ id: RowId }),
  replies: { 204: NoBody },
  problems: [404, 409],
});

export const putPassword = call({
  method: 'put',
  path: '/api/password',
  summary: 'Changes the password of whoever is signed in, and ends their other sessions',
  auth: 'self',
  body: z.strictObject({ current: z.string().min(1).max(200), password: Password }),
  replies: { 204: NoBody },
  problems: [403, 409, 429],
});

export const postPasswordLetter = call({
  method: 'post',
  path: '/api/password/letter',
  summary: 'Sends a link to choose a new password, if there is such a colleague; the answer does not say whether',
  auth: 'public',
  body: z.strictObject({ email: Email }),
  replies: { 202: NoBody },
  problems: [429],
});

export const postPassword = call({
  method: 'post',
  path: '/api/password',
  summary: 'Chooses a password by the link of an invitation or a letter, once, and signs in',
  auth: 'public',
  body: z.strictObject({
    token: z.string().min(1).max(2000),
    password: Password,
    code: Code.optional().describe('Where they have a second factor'),
  }),
  replies: { 200: Session },
  problems: [401, 403, 409, 429],
});
