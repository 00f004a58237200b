import { z } from 'zod';
import { call, NoBody } from './call.ts';
import { RowId } from './scalars.ts';
import { PageMap } from './pageMap.ts';
import { PART_KEYS } from '../places/parts.ts';

/** Parts that a check reports: those of the page map, and money amounts outside of them. */
const MAP_PARTS = [...PART_KEYS, 'otherMoney'] as const;
export type MapPart = (typeof MAP_PARTS)[number];

const Part = z.enum(MAP_PARTS);

/** Reasons why a page was not drawn: time, memory, length of its markup, or the end of its browser. */
const NotDrawn = z.enum(['tooSlow', 'tooMuchMemory', 'tooLong', 'ended']);
export type NotDrawn = z.infer<typeof NotDrawn>;

const CheckedPage = z.strictObject({
  path: z.string(),
  problem: z
    .string()
    .nullable()
    .describe(
      'Why the page could not be read, as a code: `status 404`, `unreachable`, `private`, `notHtml`, `tooLong`, `tooComplex`',
    ),
  isDrawn: z
    .boolean()
    .optional()
    .describe('Whether a browser drew the page, its scripts run; else it was read as the shop’s server sends it'),
  notDrawn: NotDrawn.optional().describe('Why the browser gave the page up'),
  lines: z.array(
    z.strictObject({
      part: Part,
      found: z.int().describe('How many there are'),
      sample: z.string().nullable().describe('What the first says'),
      amounts: z
        .array(z.strictObject({ text: z.string(), where: z.string().describe('Elements that lead to it') }))
        .optional()
        .describe('Of `otherMoney`: each amount, at most 100'),
    }),
  ),
});

/** Result of checking a page map on the shop's pages, part by part. */
export const MapCheck = z
  .strictObject({
    at: z.iso.datetime(),
    pages: z.array(CheckedPage),
    broken: z
      .array(
        z.strictObject({
          path: z.string(),
          part: Part.nullable().describe('Null when the page itself cannot be read'),
          seenBy: z.enum(['check', 'shoppers']),
        }),
      )
      .describe('What was there when the map was published, and is not any more'),
  })
  .meta({ id: 'MapCheck' });
export type MapCheck = z.infer<typeof MapCheck>;

const Version = z.strictObject({
  id: z.int(),
  map: PageMap,
  savedAt: z.iso.datetime(),
  savedBy: z.string(),
  publishedAt: z.iso.datetime().nullable(),
  check: MapCheck.nullable().describe('The newest'),
});
export type MapVersion = z.infer<typeof Version>;

export const getPageMap = call({
  method: 'get',
  path: '/api/page-map',
  summary: 'Returns the page map: the live one and its draft',
  auth: 'read',
  replies: { 200: z.strictObject({ live: Version.nullable(), draft: Version.nullable() }) },
});

export const putPageMap = call({
  method: 'put',
  path: '/api/page-map',
  summary: 'Publishes a page map at once, for programs that keep it in a file',
  auth: 'publish',
  body: PageMap,
  replies: { 204: NoBody },
});

export const putPageMapDraft = call({
  method: 'put',
  path: '/api/page-map/draft',
  summary: 'Replaces the draft of the page map',
  auth: 'draft',
  body: PageMap,
  replies: { 204: NoBody },
});

export const deletePageMapDraft = call({
  method: 'delete',
  path: '/api/page-map/draft',
  summary: 'Discards the draft of the page map',
  auth: 'draft',
  replies: { 204: NoBody },
});

export const checkPageMap = call({
  method: 'post',
  path: '/api/page-map/check',
  summary:
    'Draws the pages that the map names, or reads them as sent where there is no browser, and says what it finds on them',
  auth: 'draft',
  query: z.strictObject({ of: z.enum(['draft', 'live']).default('draft') }),
  replies: { 200: MapCheck },
  problems: ['no-page-map', 'no-pages'],
});

export const publishPageMap = call({
  method: 'post',
  path: '/api/page-map/publish',
  summary: 'Checks the draft of the page map and makes it live',
  auth: 'publish',
  replies: { 200: MapCheck.nullable() },
  problems: ['no-page-map', 'no-pages'],
});

export const listPageMaps = call({
  method: 'get',
  path: '/api/page-map/history',
  summary: 'Lists earlier page maps, the newest first, at most fifty',
  auth: 'read',
  replies: { 200: z.array(Version) },
});

export const restorePageMap = call({
  method: 'post',
  path: '/api/page-map/history/{id}/restore',
  summary: 'Copies an earlier page map to the draft',
  auth: 'draft',
  params: z.strictObject({ id: RowId }),
  replies: { 204: NoBody },
  problems: ['not-found'],
});

export const postPicker = call({
  method: 'post',
  path: '/api/picker',
  summary: 'Creates an address that opens the picker on a page of the shop, valid for half an hour',
  auth: 'draft',
  body: z.strictObject({
    page: z.string().min(1).max(2000).describe('An address of the shop, or a path of its site when the map names one'),
  }),
  replies: {
    200: z.strictObject({
      address: z.url(),
      until: z.iso.datetime(),
      id: z.string().describe('By which it is asked whether the picker has started'),
    }),
  },
});

export const getPicker = call({
  method: 'get',
  path: '/api/picker/{id}',
  summary: 'Returns whether a picker has started on its page, and if not, why',
  auth: 'read',
  params: z.strictObject({ id: z.string().min(1).max(100) }),
  query: z.strictObject({
    page: z.string().min(1).max(2000).optional().describe('When given and it has not started, this page is read'),
  }),
  replies: {
    200: z.strictObject({
      hasStarted: z.boolean(),
      problem: z
        .string()
        .nullable()
        .describe(
          'Null while it is not asked for: `noLine` when the page lacks the line, `notRun` when it has it; or why it could not be read, as in a check',
        ),
    }),
  },
});

/** Data with which the picker starts. */
export const PickerStart = z
  .strictObject({
    map: PageMap.nullable(),
    products: z
      .array(
        z.strictObject({
          id: z.string(),
          path: z.string(),
          title: z.string(),
          prices: z.array(z.int()),
          variants: z.array(z.string()).describe('Their ids'),
        }),
      )
      .describe('Some of the shop’s products, by which pages and cards are recognised; prices in minor units'),
    exponent: z.int(),
    owner: z.string().describe('Where Connection is'),
  })
  .meta({ id: 'PickerStart' });
export type PickerStart = z.infer<typeof PickerStart>;

export const getPickerStart = call({
  method: 'get',
  path: '/v1/page-map-draft',
  summary: 'Returns the picker’s initial data, with its token',
  auth: 'picker',
  query: z.strictObject({
    path: z.string().max(2000).optional().describe('Of the page at hand: its product is among those that are told'),
  }),
  replies: { 200: PickerStart },
});

export const putPickedMap = call({
  method: 'put',
  path: '/v1/page-map-draft',
  summary: 'Saves the picker’s result as the draft, with its token',
  auth: 'picker',
  body: PageMap,
  replies: { 204: NoBody },
});

export const postMisses = call({
  method: 'post',
  path: '/v1/misses',
  summary: 'Reports parts of the map that a product’s page lacks, from a shopper’s browser',
  auth: 'public',
  body: z.strictObject({
    path: z.string().min(1).max(500).startsWith('/'),
    missing: z
      .array(z.enum(['productPage', 'control', 'price']))
      .min(1)
      .max(3),
  }),
  replies: { 204: NoBody },
  problems: ['too-many'],
});
