import { z } from 'zod';
import { IMPORT_TARGETS } from '../imports/fileReading.ts';
import { call, NoBody } from './call.ts';
import { Import } from './importCalls.ts';
import { RowId } from './scalars.ts';

const settings = {
  target: z.enum(IMPORT_TARGETS),
  address: z.url({ protocol: /^https?$/ }).max(2000),
  everyMinutes: z.int().min(5).max(10_080),
  mode: z.enum(['merge', 'replace']).describe('replace archives what the file lacks'),
};

/** A file that is fetched from an address, again and again. */
export const Feed = z
  .strictObject({
    id: z.int(),
    ...settings,
    hasSecret: z.boolean(),
    nextAt: z.iso.datetime(),
    fetchedAt: z.iso.datetime().nullable().describe('When the address last answered'),
    error: z.string().nullable().describe('Why the newest try failed; null when it did not'),
    newest: Import.nullable().describe('What came of the newest file'),
  })
  .meta({ id: 'Feed' });
export type Feed = z.infer<typeof Feed>;

const ById = z.strictObject({ id: RowId });

export const listFeeds = call({
  method: 'get',
  path: '/api/feeds',
  summary: 'Lists feeds and their results',
  auth: 'follow',
  replies: { 200: z.array(Feed) },
});

export const postFeed = call({
  method: 'post',
  path: '/api/feeds',
  summary: 'Adds a feed and fetches it, read like earlier files with its headings',
  auth: 'imports',
  body: z.strictObject({
    ...settings,
    secret: z.string().min(1).max(1000).optional().describe('Sent as the Authorization header; told to nobody'),
  }),
  replies: { 201: z.strictObject({ id: z.int() }) },
});

export const fetchFeed = call({
  method: 'post',
  path: '/api/feeds/{id}/fetch',
  summary: 'Fetches a feed now',
  auth: 'imports',
  params: ById,
  replies: { 202: NoBody },
  problems: ['not-found'],
});

export const deleteFeed = call({
  method: 'delete',
  path: '/api/feeds/{id}',
  summary: 'Deletes a feed; imported data stays',
  auth: 'imports',
  params: ById,
  replies: { 204: NoBody },
  problems: ['not-found'],
});
