import { z } from 'zod';
import { SURFACES } from '../model/subject.ts';
import { COUNTED_EVENTS, DECIDED_KINDS, SHOPPER_EVENTS } from '../insights/countedEvents.ts';
import { call, NoBody } from './call.ts';
import { Id } from './scalars.ts';
import { AskDecisions } from './storefront.ts';

/** What is told of one control: nothing of whom it is told by. */
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
  summary: 'Tells what shoppers saw and pressed on a page; the same batch again counts once',
  auth: 'public',
  isBeacon: true,
  body: z.strictObject({
    id: z.uuid().describe('Made up by the page'),
    visitor: AskDecisions.shape.visitor.describe('Tells the audience; no more of it is kept'),
    events: z.array(ToldEvent).min(1).max(500),
  }),
  replies: { 204: NoBody },
  problems: [429],
});

const Period = z.strictObject({
  from: z.iso.date().describe('The first day, in the shop’s time zone'),
  until: z.iso.date().describe('The day after the last'),
});

/** How often something happened. */
const Counts = z.strictObject(
  Object.fromEntries(COUNTED_EVENTS.map((event) => [event, z.int()])) as Record<
    (typeof COUNTED_EVENTS)[number],
    z.ZodInt
  >,
);
export type Counts = z.infer<typeof Counts>;

export const FunnelRow = z
  .strictObject({
    rule: z.string().nullable().describe('Null for the shop’s own button'),
    control: z.enum(DECIDED_KINDS),
    ...Counts.shape,
    before: Counts.describe('In the period of the same length before'),
  })
  .meta({ id: 'FunnelRow' });
export type FunnelRow = z.infer<typeof FunnelRow>;

export const getFunnel = call({
  method: 'get',
  path: '/api/insights/funnel',
  summary: 'How often each rule’s stand-in was seen, pressed and led to something, beside the period before',
  auth: 'read',
  query: Period,
  replies: { 200: z.strictObject({ rows: z.array(FunnelRow) }) },
});

export const exportFunnel = call({
  method: 'get',
  path: '/api/insights/funnel.csv',
  summary: 'The same as CSV',
  auth: 'read',
  query: Period,
  produces: 'text/csv',
  replies: { 200: z.string() },
});

export const getRuleProducts = call({
  method: 'get',
  path: '/api/insights/products',
  summary: 'The products behind a row of the funnel, those that most was done with',
  auth: 'read',
  query: z.strictObject({
    ...Period.shape,
    rule: z.string().max(300).optional().describe('Empty for the shop’s own button; any when absent'),
    control: z.enum(DECIDED_KINDS).optional(),
    limit: z.coerce.number().int().min(1).max(200).default(60),
  }),
  replies: {
    200: z.strictObject({
      products: z.array(z.strictObject({ product: z.string(), title: z.string(), ...Counts.shape })),
      total: z.int(),
    }),
  },
});

export const getCountSeries = call({
  method: 'get',
  path: '/api/insights/series',
  summary: 'How often, day by day in the shop’s time zone; with the editions that came in',
  auth: 'read',
  query: z.strictObject({
    ...Period.shape,
    rule: z.string().max(300).optional(),
    control: z.enum(DECIDED_KINDS).optional(),
  }),
  replies: {
    200: z.strictObject({
      days: z.array(z.strictObject({ day: z.iso.date(), ...Counts.shape })),
      editions: z.array(
        z.strictObject({ number: z.int(), publishedAt: z.iso.datetime(), note: z.string().nullable() }),
      ),
    }),
  },
});
