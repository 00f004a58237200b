import { z } from 'zod';
import { Entry } from '../rulebook/rulebook.ts';
import { call } from './call.ts';
import { RowId } from './scalars.ts';

export const RecordEntry = z
  .strictObject({
    id: z.int(),
    at: z.iso.datetime(),
    who: z.string(),
    staffId: z
      .int()
      .nullable()
      .describe('The colleague’s number; null for programs, and for what was recorded before this'),
    email: z.string().nullable().describe('The colleague’s address then'),
    did: z.string().describe('A call of this description by method and path, or words'),
    detail: z.record(z.string(), z.unknown()).describe('What it was about'),
  })
  .meta({ id: 'RecordEntry' });
export type RecordEntry = z.infer<typeof RecordEntry>;

/** Details of a draft change in the record: the rules it changed, as they were; null for new rules. */
export const DraftDetail = z.object({
  rules: z.array(z.string()).describe('Their names'),
  before: z.record(z.string(), Entry.nullable()),
});
export type DraftDetail = z.infer<typeof DraftDetail>;

const Wanted = {
  search: z.string().max(200).optional().describe('In who, what and about what'),
  who: z.string().max(400).optional().describe('An e-mail address, or a name'),
};

export const listRecord = call({
  method: 'get',
  path: '/api/record',
  summary: 'Lists the record, the newest first',
  auth: 'read',
  query: z.strictObject({
    ...Wanted,
    after: RowId.optional().describe('The id of the last entry of the page before'),
    limit: z.coerce.number().int().min(1).max(200).default(50),
  }),
  replies: {
    200: z.strictObject({
      entries: z.array(RecordEntry),
      total: z.int(),
      more: z.boolean(),
      people: z.array(z.strictObject({ who: z.string(), email: z.string().nullable() })),
    }),
  },
});

export const exportRecord = call({
  method: 'get',
  path: '/api/record.csv',
  summary: 'Exports the record as CSV',
  auth: 'read',
  query: z.strictObject(Wanted),
  produces: 'text/csv',
  replies: { 200: z.string() },
});
