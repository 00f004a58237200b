import { z } from 'zod';
import { call } from './call.ts';

/** What came of an import. */
export const ImportReport = z
  .strictObject({
    mode: z.enum(['merge', 'replace']),
    rows: z.int(),
    created: z.int(),
    changed: z.int(),
    archived: z.int(),
    refused: z
      .array(
        z.strictObject({
          line: z.int().describe('In the file, the header being line 1; for JSON the row’s number plus one'),
          column: z.string().nullable(),
          reason: z.string(),
        }),
      )
      .describe('Rows that did not go in, and why'),
    notices: z.array(z.string()),
  })
  .meta({ id: 'ImportReport' });
export type ImportReport = z.infer<typeof ImportReport>;

export const Job = z
  .strictObject({
    id: z.string(),
    state: z.enum(['waiting', 'running', 'done', 'failed']),
    rowsDone: z.int(),
    rows: z.int(),
    report: ImportReport.nullable(),
    error: z.string().nullable(),
  })
  .meta({ id: 'Job' });
export type Job = z.infer<typeof Job>;

const Cell = z.union([
  z.string(),
  z.number(),
  z.boolean(),
  z.null(),
  z.array(z.string()),
  z.record(z.string(), z.string()),
]);

const importCall = <const Path extends string>(path: Path, summary: string) =>
  call({
    method: 'post',
    path,
    summary,
    auth: 'owner',
    query: z.strictObject({
      mode: z.enum(['merge', 'replace']).default('merge').describe('replace archives what the file lacks'),
      badRows: z.enum(['skip', 'refuseAll']).default('skip').describe('refuseAll: one bad row and nothing goes in'),
    }),
    csv: true,
    body: z
      .array(z.record(z.string(), Cell))
      .max(100_000)
      .describe('Rows by column; lists may be arrays and name=value pairs objects'),
    replies: { 200: ImportReport, 202: Job },
    problems: [422],
  });

export const importCatalog = importCall('/api/catalog/import', 'Products and variants, a row a variant');
export const importPeople = importCall('/api/people/import', 'Customers and their roles, a row a customer');

export const getJob = call({
  method: 'get',
  path: '/api/jobs/{id}',
  summary: 'How far a long import has come',
  auth: 'owner',
  params: z.strictObject({ id: z.uuid() }),
  replies: { 200: Job },
  problems: [404],
});
