import { z } from 'zod';
import { FileReading, IMPORT_TARGETS } from '../imports/fileReading.ts';
import { call, NoBody } from './call.ts';
import { RowId, MOST_INT } from './scalars.ts';

/** Report of an import. */
export const ImportReport = z
  .strictObject({
    mode: z.enum(['merge', 'replace']),
    rows: z.int(),
    created: z.int(),
    changed: z.int(),
    archived: z.int(),
    kept: z.int().describe('Rows of which something stayed as it was, since something newer wrote it'),
    refused: z
      .array(
        z.strictObject({
          line: z.int().describe('In the file, the header being line 1; for JSON the row’s number plus one'),
          column: z.string().nullable(),
          reason: z.string(),
        }),
      )
      .describe('What is wrong with rows that did not go in: all of each'),
    refusedRows: z.int(),
    notices: z.array(z.string()),
  })
  .meta({ id: 'ImportReport' });
export type ImportReport = z.infer<typeof ImportReport>;

export const IMPORT_STATES = [
  'reading',
  'previewing',
  'previewed',
  'waiting',
  'running',
  'done',
  'failed',
  'interrupted',
  'cancelled',
  'undoing',
  'undone',
] as const;
export type ImportState = (typeof IMPORT_STATES)[number];

/** Example of a change that an import would make. */
const ImportExample = z.strictObject({
  key: z.string(),
  title: z.string(),
  isNew: z.boolean(),
  fields: z.array(z.strictObject({ column: z.string(), before: z.string(), after: z.string() })),
});

export const ImportPreview = z
  .strictObject({
    created: z.int(),
    changed: z.int(),
    gone: z.int().describe('What it would archive'),
    needsConfirmation: z.boolean().describe('Whether that is more than a tenth of what there is'),
    refused: ImportReport.shape.refused,
    refusedRows: z.int(),
    notices: z.array(z.string()),
    examples: z.array(ImportExample).describe('The first that it would make or change, and what of them'),
  })
  .meta({ id: 'ImportPreview' });
export type ImportPreview = z.infer<typeof ImportPreview>;

export const Job = z
  .strictObject({
    id: z.string(),
    state: z.enum(IMPORT_STATES),
    rowsDone: z.int(),
    rows: z.int(),
    report: ImportReport.nullable(),
    preview: ImportPreview.nullable(),
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

/** Rows as JSON. */
export const ImportRows = z
  .array(z.record(z.string(), Cell))
  .max(100_000)
  .describe('Rows by column; lists may be arrays and name=value pairs objects');

const Confirmation = {
  archive: z
    .enum(['true', 'false'])
    .default('false')
    .describe('true: confirms that more than a tenth may be archived; else such an import waits to be started'),
};

const importCall = <const Path extends string>(path: Path, auth: 'catalog' | 'people', summary: string) =>
  call({
    method: 'post',
    path,
    summary,
    auth,
    query: z.strictObject({
      mode: z.enum(['merge', 'replace']).default('merge').describe('replace archives what the file lacks'),
      badRows: z.enum(['skip', 'refuseAll']).default('skip').describe('refuseAll: one bad row and nothing goes in'),
      preview: z
        .enum(['true', 'false'])
        .default('false')
        .describe('true: nothing is written before the import is started'),
      ...Confirmation,
      reading: RowId.optional().describe(
        'How the file is to be read, by its number; without one it is read as RFC 4180 with our own columns in UTF-8',
      ),
    }),
    upload: true,
    body: ImportRows,
    replies: { 200: ImportReport, 202: Job },
    problems: ['not-found', 'too-large', 'broken-csv', 'broken-off', 'other-columns', 'interrupted'],
  });

export const importCatalog = importCall('/api/catalog/import', 'catalog', 'Products and variants, a row a variant');
export const importPeople = importCall('/api/people/import', 'people', 'Customers and their roles, a row a customer');

const ById = z.strictObject({ id: z.uuid() });

export const getJob = call({
  method: 'get',
  path: '/api/jobs/{id}',
  summary: 'Returns the progress of an import',
  auth: 'follow',
  params: ById,
  replies: { 200: Job },
  problems: ['not-found'],
});

export const listImportExamples = call({
  method: 'get',
  path: '/api/imports/{id}/examples',
  summary: 'Lists examples of the changes of a previewed import, in pages',
  auth: 'follow',
  params: ById,
  query: z.strictObject({
    kind: z.enum(['new', 'changed']).optional(),
    from: z.coerce.number().int().min(0).max(MOST_INT).default(0).describe('`next` of the page before'),
  }),
  replies: {
    200: z.strictObject({
      examples: z.array(ImportExample),
      next: z.int().nullable().describe('Where the next page begins; null at the end'),
    }),
  },
  problems: ['not-found', 'not-waiting'],
});

export const Import = z
  .strictObject({
    id: z.string(),
    target: z.enum(IMPORT_TARGETS),
    mode: z.enum(['merge', 'replace']),
    state: z.enum(IMPORT_STATES).describe('interrupted: the server that read it was stopped, and the file is gone'),
    rows: z.int(),
    rowsDone: z.int(),
    created: z.int(),
    changed: z.int(),
    archived: z.int(),
    kept: z.int(),
    refused: z.int(),
    error: z.string().nullable(),
    madeBy: z.string().nullable(),
    createdAt: z.iso.datetime(),
    endedAt: z.iso.datetime().nullable(),
    canUndo: z.boolean().describe('What was there before is still known'),
  })
  .meta({ id: 'Import' });
export type Import = z.infer<typeof Import>;

export const listImports = call({
  method: 'get',
  path: '/api/imports',
  summary: 'Lists the newest imports with their reports',
  auth: 'follow',
  query: z.strictObject({ target: z.enum(IMPORT_TARGETS).optional() }),
  replies: { 200: z.strictObject({ imports: z.array(Import) }) },
});

export const cancelImport = call({
  method: 'post',
  path: '/api/imports/{id}/cancellation',
  summary: 'Stops an import after the current batch; written rows stay and can be undone',
  auth: 'imports',
  params: ById,
  replies: { 202: NoBody },
  problems: ['not-found', 'not-under-way'],
});

export const undoImport = call({
  method: 'post',
  path: '/api/imports/{id}/undoing',
  summary: 'Undoes an import: restores what it changed and archives what it added, except newer changes',
  auth: 'imports',
  params: ById,
  replies: { 202: NoBody },
  problems: ['not-found', 'nothing-to-undo'],
});

export const startImport = call({
  method: 'post',
  path: '/api/imports/{id}/start',
  summary: 'Starts a previewed import',
  auth: 'imports',
  params: ById,
  query: z.strictObject(Confirmation),
  replies: { 202: Job },
  problems: ['needs-confirmation', 'not-found', 'not-waiting'],
});

export const ImportReading = z
  .strictObject({
    id: z.int(),
    target: z.enum(IMPORT_TARGETS),
    headings: z.array(z.string().max(1000)).min(1).max(500),
    reading: FileReading,
  })
  .meta({ id: 'ImportReading' });
export type ImportReading = z.infer<typeof ImportReading>;

export const listReadings = call({
  method: 'get',
  path: '/api/imports/readings',
  summary: 'Lists saved file formats, the last used first; files are recognised by their headings',
  auth: 'follow',
  replies: { 200: z.array(ImportReading) },
});

export const putReading = call({
  method: 'put',
  path: '/api/imports/readings',
  summary: 'Saves the format of files with these headings',
  auth: 'imports',
  body: ImportReading.omit({ id: true }),
  replies: { 200: z.strictObject({ id: z.int() }) },
});
