import { z } from 'zod';
import { SURFACES } from '../model/subject.ts';
import { DECIDED_KINDS, SHOPPER_EVENTS } from '../insights/countedEvents.ts';
import { call, NoBody } from './call.ts';
import { Id } from './scalars.ts';
import { AskDecisions } from './storefront.ts';

/** Event of one control, without any data about the visitor. */
const ToldEvent = z.strictObject({
  event: z.enum(SHOPPER_EVENTS),
  path: z.string().min(1).max(2000).describe('Of the product’s page'),
  variant: Id.nullable(),
  surface: z.enum(SURFACES),
  control: z.enum(DECIDED_KINDS),
  rule: z.string().max(300).nullable().describe('Which decided it; null for the shop’s own button'),
  ago: z.int().min(0).max(86_400).describe('Seconds before it was sent'),
});

export const postEvents = call({
  method: 'post',
  path: '/v1/events',
  summary: 'Reports controls seen and pressed on a page; a repeated batch counts once',
  auth: 'public',
  isBeacon: true,
  body: z.strictObject({
    id: z.uuid().describe('Made up by the page'),
    visitor: AskDecisions.shape.visitor.describe('Tells the audience; no more of it is kept'),
    events: z.array(ToldEvent).min(1).max(500),
  }),
  replies: { 204: NoBody },
  problems: ['too-many'],
});

export const postSearch = call({
  method: 'post',
  path: '/v1/searches',
  summary: 'Reports a search in the shop; a repeated report counts once',
  auth: 'public',
  isBeacon: true,
  body: z.strictObject({
    id: z.uuid().describe('Made up by the page'),
    words: z.string().trim().min(1).max(200),
    found: z.int().min(0).describe('How many products'),
  }),
  replies: { 204: NoBody },
  problems: ['too-many'],
});
