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
  summary: 'Lists colleagues and their roles',
  auth: 'read',
  replies: { 200: z.array(Colleague) },
});

/** Result of an invitation. */
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
  summary: 'Invites a colleague by e-mail, with a link that is valid for a week',
  auth: 'settings',
  body: z.strictObject({ name: Name, email: Email, role: Role }),
  replies: { 201: Invited },
  problems: ['colleague-there'],
});

export const inviteAgain = call({
  method: 'post',
  path: '/api/colleagues/{id}/invitation',
  summary: 'Sends an invitation again',
  auth: 'settings',
  params: z.strictObject({ id: RowId }),
  replies: { 201: Invited },
  problems: ['colleague-in', 'not-found'],
});

export const putColleague = call({
  method: 'put',
  path: '/api/colleagues/{id}',
  summary: 'Changes a colleague’s role, from their next call on. The last owner cannot be changed',
  auth: 'settings',
  params: z.strictObject({ id: RowId }),
  body: z.strictObject({ role: Role }),
  replies: { 204: NoBody },
  problems: ['last-owner', 'not-found'],
});

export const deleteColleague = call({
  method: 'delete',
  path: '/api/colleagues/{id}',
  summary: 'Removes a colleague and ends their sessions. The last owner cannot be removed',
  auth: 'settings',
  params: z.strictObject({ id: RowId }),
  replies: { 204: NoBody },
  problems: ['last-owner', 'not-found'],
});

export const putPassword = call({
  method: 'put',
  path: '/api/password',
  summary: 'Changes the signed-in user’s password, and ends their other sessions',
  auth: 'self',
  body: z.strictObject({ current: z.string().min(1).max(200), password: Password }),
  replies: { 204: NoBody },
  problems: ['no-password', 'too-many', 'too-many-tries', 'wrong-password'],
});

export const postPasswordLetter = call({
  method: 'post',
  path: '/api/password/letter',
  summary: 'Sends a link to reset a password, if the colleague exists; the answer does not tell',
  auth: 'public',
  body: z.strictObject({ email: Email }),
  replies: { 202: NoBody },
  problems: ['too-many'],
});

export const postPassword = call({
  method: 'post',
  path: '/api/password',
  summary: 'Sets a password with the link of an invitation or e-mail, once, and signs in',
  auth: 'public',
  body: z.strictObject({
    token: z.string().min(1).max(2000),
    password: Password,
    code: Code.optional().describe('Where they have a second factor'),
  }),
  replies: { 200: Session },
  problems: ['link-over', 'second-factor', 'too-many', 'too-many-tries', 'wrong-code'],
});
