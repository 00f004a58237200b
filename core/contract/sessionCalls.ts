import { z } from 'zod';
import { Locale } from '../model/localisedText.ts';
import { call, NoBody } from './call.ts';

export const Session = z
  .strictObject({
    user: z.strictObject({ name: z.string(), email: z.string() }).nullable(),
    csrfToken: z.string().nullable().describe('To be sent as X-CSRF-Token with every call that changes something'),
    setUp: z.boolean().describe('Whether the shop has an owner yet'),
  })
  .meta({ id: 'Session' });
export type Session = z.infer<typeof Session>;

const Email = z.email('an e-mail address').max(200);

export const getSession = call({
  method: 'get',
  path: '/api/session',
  summary: 'Who is signed in',
  auth: 'public',
  replies: { 200: Session },
});

export const SignIn = z.strictObject({ email: Email, password: z.string().min(1, 'a password').max(200) });

export const postSession = call({
  method: 'post',
  path: '/api/session',
  summary: 'Signs in',
  auth: 'public',
  body: SignIn,
  replies: { 200: Session },
  problems: [401, 429],
});

export const deleteSession = call({
  method: 'delete',
  path: '/api/session',
  summary: 'Signs out',
  auth: 'owner',
  replies: { 204: NoBody },
});

export const deleteOtherSessions = call({
  method: 'delete',
  path: '/api/sessions',
  summary: 'Ends all other sessions of whoever is signed in',
  auth: 'owner',
  replies: { 200: z.strictObject({ ended: z.int() }) },
});

export const Setup = z.strictObject({
  token: z.string().min(1).max(200).describe('From the one-time link that the start prints'),
  shop: z.strictObject({
    name: z.string().max(200).regex(/\S/, 'a name'),
    zone: z.string().max(100).describe('An IANA time zone'),
    locales: z.array(Locale).min(1).max(30).describe('The first is the default'),
    currency: z.string().regex(/^[A-Z]{3}$/, 'a currency code of three letters (ISO 4217)'),
  }),
  owner: z.strictObject({
    name: z.string().max(200).regex(/\S/, 'a name'),
    email: Email,
    password: z.string().min(10, 'at least 10 characters').max(200),
  }),
});

export const postSetup = call({
  method: 'post',
  path: '/api/setup',
  summary: 'Makes the shop and its first owner, once, and signs them in',
  auth: 'public',
  body: Setup,
  replies: { 201: Session },
  problems: [403, 409, 429],
});
