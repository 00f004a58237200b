import { z } from 'zod';
import { Rulebook } from '../rulebook/rulebook.ts';
import { call, NoBody } from './call.ts';

const Instant = z.iso.datetime({ offset: true });

export const getRulebook = call({
  method: 'get',
  path: '/api/rulebook',
  summary: 'The draft, with its ETag',
  auth: 'owner',
  replies: { 200: Rulebook },
});

export const putRulebook = call({
  method: 'put',
  path: '/api/rulebook',
  summary: 'Replaces the draft, if it is still the one that If-Match names',
  auth: 'owner',
  body: Rulebook,
  ifMatch: 'required',
  replies: { 204: NoBody },
  problems: [412, 428],
});

export const Edition = z
  .strictObject({
    number: z.int(),
    note: z.string().nullable(),
    publishedAt: Instant,
    publishedBy: z.string(),
    restoredFrom: z.int().nullable().describe('The edition whose rules these are, when it was restored'),
    rules: z.int().describe('How many rules it has'),
    live: z.boolean(),
  })
  .meta({ id: 'Edition' });
export type Edition = z.infer<typeof Edition>;

export const EditionWithRulebook = Edition.extend({ rulebook: Rulebook }).meta({ id: 'EditionWithRulebook' });

const ByNumber = z.strictObject({ number: z.coerce.number().int().min(1).max(2_147_483_647) });

export const listEditions = call({
  method: 'get',
  path: '/api/editions',
  summary: 'The editions, newest first, paged by number',
  auth: 'owner',
  query: z.strictObject({
    before: z.coerce.number().int().optional().describe('Only editions with a lower number'),
    limit: z.coerce.number().int().min(1).max(100).default(50),
  }),
  replies: { 200: z.strictObject({ editions: z.array(Edition), more: z.boolean() }) },
});

export const getEdition = call({
  method: 'get',
  path: '/api/editions/{number}',
  summary: 'One edition with its rules',
  auth: 'owner',
  params: ByNumber,
  replies: { 200: EditionWithRulebook },
  problems: [404],
});

export const postEdition = call({
  method: 'post',
  path: '/api/editions',
  summary: 'Publishes the draft as the next edition',
  auth: 'owner',
  body: z.strictObject({ note: z.string().max(2000).optional() }),
  bodyOptional: true,
  ifMatch: 'optional',
  replies: { 201: Edition },
  problems: [412],
});

export const restoreEdition = call({
  method: 'post',
  path: '/api/editions/{number}/restore',
  summary:
    'Makes an earlier edition’s rules live again, as a new edition; a draft with nothing unpublished follows. ' +
    'Or, to the draft, puts them there and leaves the shop as it is',
  auth: 'owner',
  params: ByNumber,
  body: z.strictObject({ to: z.enum(['live', 'draft']).default('live') }),
  bodyOptional: true,
  replies: { 200: Edition },
  problems: [404],
});
