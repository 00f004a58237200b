import { z } from 'zod';
import { COUNTED_EVENTS, DECIDED_KINDS } from '../insights/countedEvents.ts';
import { call, NoBody, type Call } from './call.ts';
import { Working } from './rehearsalCalls.ts';
import { MOST_INT } from './scalars.ts';

/** The same call as a file: `/api/insights/funnel.csv`. */
export const asCsv = <const Query extends z.ZodObject>(of: Call & { readonly query: Query }) =>
  call({
    method: 'get',
    path: `${of.path}.csv`,
    summary: 'The same as CSV',
    auth: 'read',
    query: of.query,
    produces: 'text/csv',
    replies: { 200: z.string() },
  });

export const Period = z.strictObject({
  from: z.iso.date().describe('The first day, in the shop’s time zone'),
  until: z.iso.date().describe('The day after the last'),
});

/** Counts of events. */
const Counts = z.strictObject(
  Object.fromEntries(COUNTED_EVENTS.map((event) => [event, z.int()])) as Record<
    (typeof COUNTED_EVENTS)[number],
    z.ZodInt
  >,
);
export type Counts = z.infer<typeof Counts>;

/** Filter of counts; missing fields match any rule, kind or audience. */
const Which = {
  rule: z.string().max(300).optional().describe('Empty for the shop’s own button'),
  control: z.enum(DECIDED_KINDS).optional(),
};
const Audience = { audience: z.string().max(200).optional().describe('By its name') };

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
  summary: 'Returns views, presses and results of each rule’s stand-in, with the period before',
  auth: 'read',
  query: z.strictObject({ ...Period.shape, ...Audience }),
  replies: { 200: z.strictObject({ rows: z.array(FunnelRow), audiences: z.array(z.string()) }) },
});
export const exportFunnel = asCsv(getFunnel);

export const deleteCounts = call({
  method: 'delete',
  path: '/api/insights/counts',
  summary: 'Deletes the counts of some days, searches included. It cannot be undone',
  auth: 'settings',
  query: Period.refine(({ from, until }) => from < until, 'from before until'),
  replies: { 204: NoBody },
});

const behind = { ...Period.shape, ...Which, limit: z.coerce.number().int().min(1).max(10_000).default(60) };
export const getRuleProducts = call({
  method: 'get',
  path: '/api/insights/products',
  summary: 'Lists the products behind a row of the funnel, the most active first',
  auth: 'read',
  query: z.strictObject(behind),
  replies: {
    200: z.strictObject({
      products: z.array(z.strictObject({ product: z.string(), title: z.string(), ...Counts.shape })),
      more: z.boolean(),
    }),
  },
});
export const exportRuleProducts = asCsv(getRuleProducts);

/** An edition that went live, published or by an opening. */
const Mark = z.strictObject({ number: z.int(), publishedAt: z.iso.datetime(), note: z.string().nullable() });

export const getCountSeries = call({
  method: 'get',
  path: '/api/insights/series',
  summary: 'Returns daily counts in the shop’s time zone, with the editions published',
  auth: 'read',
  query: z.strictObject({ ...Period.shape, ...Which, ...Audience }),
  replies: {
    200: z.strictObject({
      days: z.array(z.strictObject({ day: z.iso.date(), ...Counts.shape })),
      editions: z.array(Mark),
    }),
  },
});
export type CountSeries = z.infer<(typeof getCountSeries)['replies'][200]>;
export const exportCountSeries = asCsv(getCountSeries);

const Estimate = z.union([
  z.strictObject({
    times: z.number().describe('What the rate went up or down by, over what it did where nothing was touched'),
    low: z.number(),
    high: z.number().describe('Between these it is in 95 of 100 such comparisons'),
  }),
  z.strictObject({ tooFew: z.enum(['days', 'touched', 'others']) }),
]);
const Spell = z.strictObject({ ...Period.shape, touched: Counts, others: Counts });

export const EditionEffect = z
  .strictObject({
    edition: Mark,
    looked: z.int().describe('Days from when it came in on, of which it was looked at what it shows'),
    touched: z.int().describe('Products that it shows otherwise in these to anybody, as the catalog is now'),
    before: Spell,
    after: Spell,
    effects: z.strictObject({ pressed: Estimate, finished: Estimate }).describe('On how many of those that saw it did'),
    meanwhile: z.array(Mark).describe('Other editions that came in in these days'),
  })
  .meta({ id: 'EditionEffect' });
export type EditionEffect = z.infer<typeof EditionEffect>;

const ofEdition = {
  method: 'get',
  auth: 'read',
  params: z.strictObject({ number: z.coerce.number().int().min(1).max(MOST_INT) }),
  query: z.strictObject({
    days: z.coerce.number().int().min(1).max(92).default(14).describe('Whole days, on either side of its own'),
  }),
} as const;

export const getEditionEffect = call({
  ...ofEdition,
  path: '/api/insights/editions/{number}',
  summary: 'Compares an edition’s products with others, before and after its publication',
  isLong: true,
  replies: { 202: Working, 200: EditionEffect },
  problems: ['not-found'],
});

export const exportEditionCounts = call({
  ...ofEdition,
  path: '/api/insights/editions/{number}/counts.csv',
  summary: 'Returns the counts behind the comparison as CSV',
  produces: 'text/csv',
  replies: { 200: z.string() },
  problems: ['not-found'],
});

export const INSIGHT_CALLS = [
  deleteCounts,
  getFunnel,
  exportFunnel,
  getRuleProducts,
  exportRuleProducts,
  getCountSeries,
  exportCountSeries,
  getEditionEffect,
  exportEditionCounts,
] as const;
