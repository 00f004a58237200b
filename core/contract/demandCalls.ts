import { z } from 'zod';
import { asCsv, Period } from './insightCalls.ts';
import { call } from './call.ts';

/** Kinds of unmet demand: waitlists, reservations, quotes, enquiries and refusals by the guard. */
export const DEMANDS = ['waiting', 'reserved', 'asked', 'enquired', 'refused'] as const;
export type DemandKind = (typeof DEMANDS)[number];

const Amount = z.strictObject({
  units: z.int(),
  worth: z.int().describe('At today’s price, in minor units; the lowest of a product where no variant is named'),
});
const DemandIs = Object.fromEntries(DEMANDS.map((what) => [what, Amount])) as Record<DemandKind, typeof Amount>;

export const DemandRow = z
  .strictObject({
    key: z.string().describe('The product’s or category’s id, or the tag'),
    title: z.string(),
    within: z.string().nullable().describe('The category that it is in'),
    ...DemandIs,
    worth: z.int().describe('Of all of it'),
  })
  .meta({ id: 'DemandRow' });
export type DemandRow = z.infer<typeof DemandRow>;

export const DEMAND_BY = ['product', 'tag', 'category'] as const;

export const getDemand = call({
  method: 'get',
  path: '/api/insights/demand',
  summary: 'Returns current unmet demand, and refusals in a period',
  auth: 'read',
  query: z.strictObject({
    ...Period.shape,
    by: z.enum(DEMAND_BY).default('product'),
    sort: z
      .enum([...DEMANDS, 'worth'])
      .default('worth')
      .describe('The most first'),
    search: z.string().max(200).optional(),
    limit: z.coerce.number().int().min(1).max(10_000).default(60),
  }),
  replies: {
    200: z.strictObject({
      rows: z.array(DemandRow),
      total: z.int().describe('How many rows there are'),
      all: z.strictObject({ ...DemandIs, worth: z.int() }).describe('Each product once, whatever is searched for'),
    }),
  },
});
export type Demand = z.infer<(typeof getDemand)['replies'][200]>;
export const exportDemand = asCsv(getDemand);

const Answered = {
  asked: z.int().describe('In the period'),
  answered: z.int(),
  medianHours: z.number().nullable().describe('Until the first answer, of half of them at most'),
};

export const getAnswers = call({
  method: 'get',
  path: '/api/insights/answers',
  summary: 'Returns the results of requests that began in a period',
  auth: 'read',
  query: Period,
  replies: {
    200: z.strictObject({
      invitations: z.strictObject({ sent: z.int(), bought: z.int(), lapsed: z.int(), open: z.int() }),
      quotes: z.strictObject({
        ...Answered,
        accepted: z.int(),
        declined: z.int(),
        lapsed: z.int(),
        turnedDown: z.int(),
      }),
      enquiries: z.strictObject(Answered),
    }),
  },
});
export type Answers = z.infer<(typeof getAnswers)['replies'][200]>;
export const exportAnswers = asCsv(getAnswers);

export const getWords = call({
  method: 'get',
  path: '/api/insights/words',
  summary: 'Lists search terms that the shop reports, and words of enquiries',
  auth: 'read',
  query: z.strictObject({ ...Period.shape, limit: z.coerce.number().int().min(1).max(10_000).default(40) }),
  replies: {
    200: z.strictObject({
      searched: z
        .array(z.strictObject({ words: z.string(), times: z.int(), foundNone: z.int() }))
        .describe('More than once'),
      asked: z.array(z.strictObject({ word: z.string(), enquiries: z.int() })).describe('In more than one enquiry'),
    }),
  },
});
export const exportWords = asCsv(getWords);

export const DEMAND_CALLS = [getDemand, exportDemand, getAnswers, exportAnswers, getWords, exportWords] as const;
