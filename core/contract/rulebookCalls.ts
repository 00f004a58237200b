import { z } from 'zod';
import { Rulebook } from '../rulebook/rulebook.ts';
import { call, NoBody } from './call.ts';
import { EditionNumber, Instant, RowId } from './scalars.ts';

/** Bytes of a body that may hold a whole rulebook. */
export const RULEBOOK_LIMIT = 4_000_000;

export const getRulebook = call({
  method: 'get',
  path: '/api/rulebook',
  summary: 'Returns the draft, with its ETag',
  auth: 'read',
  replies: { 200: Rulebook },
});

export const putRulebook = call({
  method: 'put',
  path: '/api/rulebook',
  summary: 'Replaces the draft if it still has the ETag in If-Match',
  auth: 'draft',
  body: Rulebook,
  bodyLimit: RULEBOOK_LIMIT,
  ifMatch: 'required',
  replies: { 204: NoBody },
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

const ByNumber = z.strictObject({ number: EditionNumber });

export const listEditions = call({
  method: 'get',
  path: '/api/editions',
  summary: 'Lists editions, the newest first, paged by number',
  auth: 'read',
  query: z.strictObject({
    before: EditionNumber.optional().describe('Only editions with a lower number'),
    limit: z.coerce.number().int().min(1).max(100).default(50),
  }),
  replies: { 200: z.strictObject({ editions: z.array(Edition), more: z.boolean() }) },
});

export const getEdition = call({
  method: 'get',
  path: '/api/editions/{number}',
  summary: 'Returns an edition with its rules',
  auth: 'read',
  params: ByNumber,
  replies: { 200: EditionWithRulebook },
  problems: ['not-found'],
});

export const postEdition = call({
  method: 'post',
  path: '/api/editions',
  summary: 'Publishes the draft as the next edition',
  auth: 'publish',
  body: z.strictObject({ note: z.string().max(2000).optional() }),
  bodyOptional: true,
  ifMatch: 'optional',
  replies: { 201: Edition },
  problems: ['draft-changed', 'spot-checks-fail'],
});

export const Opening = z
  .strictObject({
    id: z.int(),
    at: Instant.describe('When its rules become the next edition, by themselves'),
    note: z.string().nullable(),
    rules: z.int().describe('How many rules it has'),
    over: z.int().describe('The edition that was live when it was set; it replaces whatever is live by then'),
    setAt: Instant,
    setBy: z.string(),
    isDraft: z.boolean().describe('Whether its rules are those of the draft as it is now'),
  })
  .meta({ id: 'Opening' });
export type Opening = z.infer<typeof Opening>;

const OpeningById = z.strictObject({ id: RowId });
const When = { at: Instant, note: z.string().max(2000).optional() };

export const listOpenings = call({
  method: 'get',
  path: '/api/openings',
  summary: 'Lists scheduled openings, the next first',
  auth: 'read',
  replies: { 200: z.strictObject({ openings: z.array(Opening) }) },
});

export const getOpening = call({
  method: 'get',
  path: '/api/openings/{id}',
  summary: 'Returns an opening with its rules',
  auth: 'read',
  params: OpeningById,
  replies: { 200: Opening.extend({ rulebook: Rulebook }) },
  problems: ['not-found'],
});

export const postOpening = call({
  method: 'post',
  path: '/api/openings',
  summary: 'Schedules the current draft as the next edition',
  auth: 'publish',
  body: z.strictObject(When),
  ifMatch: 'optional',
  replies: { 201: Opening },
  problems: ['draft-changed', 'spot-checks-fail'],
});

export const putOpening = call({
  method: 'put',
  path: '/api/openings/{id}',
  summary: 'Changes an opening’s time, note, or rules (to the draft’s)',
  auth: 'publish',
  params: OpeningById,
  body: z.strictObject({ ...When, rules: z.enum(['kept', 'draft']).default('kept') }),
  ifMatch: 'optional',
  replies: { 200: Opening },
  problems: ['draft-changed', 'not-found', 'spot-checks-fail'],
});

export const deleteOpening = call({
  method: 'delete',
  path: '/api/openings/{id}',
  summary: 'Cancels an opening; the draft stays',
  auth: 'publish',
  params: OpeningById,
  replies: { 204: NoBody },
  problems: ['not-found'],
});

export const restoreEdition = call({
  method: 'post',
  path: '/api/editions/{number}/restore',
  summary:
    'Makes an earlier edition’s rules live again, as a new edition; a draft with nothing unpublished follows. ' +
    'Or, to the draft, puts them there and leaves the shop as it is',
  auth: 'publish',
  params: ByNumber,
  body: z.strictObject({ to: z.enum(['live', 'draft']).default('live') }),
  bodyOptional: true,
  replies: { 200: Edition },
  problems: ['not-found'],
});
