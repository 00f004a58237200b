import { z } from 'zod';
import { call, NoBody } from './call.ts';
import { ALL_PERMISSIONS, ROLES } from './permissions.ts';
import { Code } from './secondFactorCalls.ts';
import { ShopSettings } from './shopSettingsCalls.ts';

export const Session = z
  .strictObject({
    user: z
      .strictObject({
        id: z.int(),
        name: z.string(),
        email: z.string(),
        role: z.enum(ROLES),
        may: z.array(z.enum(ALL_PERMISSIONS)).describe('What they may do; calls name what they need as `x-permission`'),
      })
      .nullable(),
    csrfToken: z.string().nullable().describe('To be sent as X-CSRF-Token with every call that changes something'),
    setUp: z.boolean().describe('Whether the shop has an owner yet'),
    sendsLetters: z.boolean().describe('Whether there is a server to send letters by'),
  })
  .meta({ id: 'Session' });
export type Session = z.infer<typeof Session>;

export const Email = z.email('an e-mail address').max(200);
export const Password = z.string().min(10, 'at least 10 characters').max(200);

export const getSession = call({
  method: 'get',
  path: '/api/session',
  summary: 'Returns the session',
  auth: 'public',
  replies: { 200: Session },
});

export const SignIn = z.strictObject({
  email: Email,
  password: z.string().min(1, 'a password').max(200),
  code: Code.optional().describe('Where they have a second factor'),
});

export const postSession = call({
  method: 'post',
  path: '/api/session',
  summary: 'Signs in',
  auth: 'public',
  body: SignIn,
  replies: { 200: Session },
  problems: ['second-factor', 'too-many-tries', 'wrong-code', 'wrong-sign-in'],
});

export const deleteSession = call({
  method: 'delete',
  path: '/api/session',
  summary: 'Signs out',
  auth: 'self',
  replies: { 204: NoBody },
});

export const OpenSession = z
  .strictObject({
    id: z.string().describe('Tells it from others, and opens nothing'),
    browser: z.string().describe('As it calls itself'),
    startedAt: z.iso.datetime().nullable(),
    isThis: z.boolean(),
  })
  .meta({ id: 'OpenSession' });
export type OpenSession = z.infer<typeof OpenSession>;

export const listSessions = call({
  method: 'get',
  path: '/api/sessions',
  summary: 'Lists the signed-in user’s sessions, the current one first',
  auth: 'self',
  replies: { 200: z.array(OpenSession) },
});

export const deleteOneSession = call({
  method: 'delete',
  path: '/api/sessions/{id}',
  summary: 'Ends one of the signed-in user’s sessions',
  auth: 'self',
  params: z.strictObject({ id: z.string().max(100) }),
  replies: { 204: NoBody },
  problems: ['not-found'],
});

export const deleteOtherSessions = call({
  method: 'delete',
  path: '/api/sessions',
  summary: 'Ends the signed-in user’s other sessions',
  auth: 'self',
  replies: { 200: z.strictObject({ ended: z.int() }) },
});

export const Setup = z.strictObject({
  token: z.string().min(1).max(200).describe('From the one-time link that the start prints'),
  shop: ShopSettings,
  owner: z.strictObject({
    name: z.string().max(200).regex(/\S/, 'a name'),
    email: Email,
    password: Password,
  }),
});

export const postSetup = call({
  method: 'post',
  path: '/api/setup',
  summary: 'Creates the shop and its first owner, once, and signs them in',
  auth: 'public',
  body: Setup,
  replies: { 201: Session },
  problems: ['set-up-already', 'too-many', 'wrong-link'],
});
