import { createWriteStream } from 'node:fs';
import { join } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import type { Request } from 'express';
import type { Logger } from 'pino';
import type { Import, ImportReport, Job } from '#core/contract/importCalls.ts';
import type { Database, Queryable } from '../db/database.ts';
import { notFound, ProblemError } from '../http/errors.ts';
import { shopFacts, theShop } from '../shopData/currentShop.ts';
import { inTemporaryFolder } from '../config/temporaryFolder.ts';
import type { Services } from '../services/services.ts';
import type { ImportWatch } from './importWatch.ts';
import { catalogTarget } from './importCatalog.ts';
import type { Importer } from './importer.ts';
import {
  askToCancel,
  askToStart,
  askToUndo,
  beat,
  createImport,
  dropPreviewed,
  endInterrupted,
  importById,
  newestImports,
  forgetRows,
  noteStep,
  readingById,
  reportOf,
  takeUp,
  type ImportRow,
} from './importQueries.ts';
import { examplesFrom, TARGETS } from './importRun.ts';
import { archivingOf, nextWriteOrder, type BatchOutcome } from './importTarget.ts';
import type { FileReading, TargetName } from '#core/imports/fileReading.ts';
import type { FileKind } from './reading.ts';
import type { Row } from './rows.ts';

/** More rows than this are imported by a job. */
const AT_ONCE = 5000;
export const MOST_BYTES: Readonly<Record<FileKind, number>> = { csv: 256_000_000, json: 32_000_000 };
const BEAT_MS = 5000;

export interface Sent {
  readonly target: TargetName;
  readonly mode: 'merge' | 'replace';
  readonly badRows: 'skip' | 'refuseAll';
  /** The number of how its file is to be read. */
  readonly reading?: number | undefined;
  /** Nothing is written before it is started. */
  readonly isPreview: boolean;
  /** Whether it may archive more than a tenth of the catalog; otherwise it waits for confirmation. */
  readonly mayArchive: boolean;
  readonly by: string;
}

/** Services that imports need besides the common ones. */
export interface ImportServices {
  readonly importer: Importer;
  readonly imports: ImportWatch;
}
type Needs = Pick<Services, 'db'> & ImportServices;

/**
 * Takes a file in, and answers with the report, or, when it is long, with the job that imports it. The file goes to disk
 * as it comes, and from there, in a thread of its own, to the database.
 * @throws {ProblemError}
 */
export async function receiveImport(services: Needs, sent: Sent, request: Request): Promise<ImportReport | Job> {
  const { db } = services;
  const format = formatOf(request);
  await theShop(db);
  const reading = sent.reading === undefined ? null : await readingById(db, sent.reading, sent.target);
  if (sent.reading !== undefined && !reading) throw notFound(`reading ${sent.reading} of such files`);
  return inTemporaryFolder(async (folder) => {
    const file = join(folder, 'file');
    const id = await importFile(services, { ...sent, reading }, { file, format }, () =>
      save(request, file, MOST_BYTES[format]),
    );
    const one = (await importById(db, id))!;
    return one.state === 'done' && !sent.isPreview ? reportOf(db, one) : jobOf(db, one);
  });
}

/**
 * Imports a file that is on disk, or comes there.
 * @param arrival until when it is there
 * @returns the import's id; a short one is done, or looked at, by then
 * @throws {ProblemError}
 */
export async function importFile(
  { db, importer, imports }: Needs,
  sent: Omit<Sent, 'reading'> & { readonly reading: FileReading | null },
  { file, format }: { readonly file: string; readonly format: FileKind },
  arrival: () => Promise<void> = () => Promise.resolve(),
): Promise<string> {
  const { id } = await createImport(db, sent);
  const beating = setInterval(() => {
    beat(db, id).catch(() => undefined);
  }, BEAT_MS);
  try {
    await arrival();
    const rows = await importer.run({ kind: 'stage', id, file, format });
    const one = (await importById(db, id))!;
    const { needsConfirmation } = await archivingOf(db, TARGETS[one.target], one);
    if (sent.isPreview || (needsConfirmation && !sent.mayArchive)) {
      await noteStep(db, id, ['reading'], { state: 'previewing' });
      const looked = importer.run({ kind: 'preview', id });
      if (rows <= AT_ONCE) await looked;
      // The job reports later failures.
      else looked.catch(() => undefined);
    } else if (rows <= AT_ONCE) {
      await importer.run({ kind: 'runAtOnce', id });
      await db.caughtUp();
    } else {
      await noteStep(db, id, ['reading'], { state: 'waiting' });
      imports.look();
    }
    return id;
  } catch (error) {
    const why = error instanceof Error ? error.message : 'it could not be read';
    // Nothing is noted of one that is no longer being read, or while the database is away.
    await noteStep(db, id, ['reading'], { state: 'failed', error: why, ended: true })
      .then(() => forgetRows(db, id))
      .catch(() => undefined);
    throw error;
  } finally {
    clearInterval(beating);
  }
}

function formatOf(request: Request): FileKind {
  if (request.is('json')) return 'json';
  if (request.is(['text/csv', 'text/plain'])) return 'csv';
  const detail = 'This call takes a body with Content-Type text/csv or application/json. Send one.';
  throw new ProblemError('no-body', detail);
}

/** Saves a request's body to disk as it comes. @throws {ProblemError} 413 */
async function save(request: Request, file: string, mostBytes: number): Promise<void> {
  let bytes = 0;
  const counted = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      bytes += chunk.length;
      done(bytes > mostBytes ? tooLarge(mostBytes) : null, chunk);
    },
  });
  const plain = request.get('Content-Encoding') === 'gzip' ? [createGunzip()] : [];
  try {
    await pipeline([request, ...plain, counted, createWriteStream(file)]);
  } catch (error) {
    if (error instanceof ProblemError) throw error;
    const detail = 'The file did not come in whole, so nothing was changed. Send it again.';
    throw new ProblemError('broken-off', detail);
  }
}

const tooLarge = (mostBytes: number) =>
  new ProblemError(
    'too-large',
    `A file has at most ${mostBytes / 1_000_000} MB. Send it in parts, or as CSV packed with gzip.`,
  );

/** Writes few rows into the catalog at once, as an import would that has them alone; run in a transaction. */
export async function writeRows(client: Queryable, rows: readonly Row[]): Promise<BatchOutcome> {
  const shop = shopFacts(await theShop(client));
  return catalogTarget.write(client, rows, { shop, writer: { order: await nextWriteOrder(client), importId: null } });
}

async function jobOf(db: Queryable, one: ImportRow): Promise<Job> {
  const { id, state, rowsDone, rows, error } = one;
  const isWritten = state === 'done' || state === 'cancelled';
  const report = isWritten ? await reportOf(db, one) : null;
  return { id, state, rowsDone: state === 'done' ? rows : rowsDone, rows, report, preview: one.preview, error };
}

export async function jobById(db: Queryable, id: string): Promise<Job> {
  return jobOf(db, await known(db, id));
}

/** @throws {ProblemError} 409 when it does not wait to be started */
export async function examplesOf(db: Database, id: string, page: Parameters<typeof examplesFrom>[2]) {
  const one = await known(db, id);
  if (one.state !== 'previewed') throw notWaiting();
  return examplesFrom(db, one, page);
}

const notWaiting = () => new ProblemError('not-waiting', 'This import does not wait to be started. Look at it again.');

/** @throws {ProblemError} 404 */
export const targetOf = async (db: Queryable, id: string): Promise<TargetName> => (await known(db, id)).target;

async function known(db: Queryable, id: string): Promise<ImportRow> {
  const one = await importById(db, id);
  if (!one) throw notFound(`import ${id}`);
  return one;
}

const LISTED = 20;

export const recentImports = async (db: Queryable, target: TargetName | undefined): Promise<Import[]> =>
  (await newestImports(db, target ?? null, LISTED)).map(listed);

/** One import as it is listed; null when it is not kept any more. */
export async function importOf(db: Queryable, id: string): Promise<Import | null> {
  const one = await importById(db, id);
  return one && listed(one);
}

const listed = ({
  columns: _columns,
  order: _order,
  atOnce: _atOnce,
  wants: _wants,
  badRows: _badRows,
  reading: _reading,
  preview: _preview,
  ...one
}: ImportRow): Import => ({
  ...one,
  createdAt: one.createdAt.toISOString(),
  endedAt: one.endedAt?.toISOString() ?? null,
});

/** @throws {ProblemError} 409 when it is not under way */
export async function cancel({ db }: Needs, id: string): Promise<void> {
  await known(db, id);
  if ((await askToCancel(db, id)) || (await dropPreviewed(db, { id })) > 0) return;
  throw new ProblemError('not-under-way', 'This import has ended. Look at it again.');
}

/** @throws {ProblemError} 409 when it does not wait to be started, or archives so much that it must be confirmed */
export async function start({ db, imports }: Needs, id: string, { mayArchive }: { mayArchive: boolean }): Promise<Job> {
  const { preview } = await known(db, id);
  if (preview?.needsConfirmation && !mayArchive)
    throw new ProblemError(
      'needs-confirmation',
      `This import would archive ${preview.gone}, more than a tenth of what there is. Confirm that to start it.`,
    );
  if (!(await askToStart(db, id))) throw notWaiting();
  imports.look();
  return jobById(db, id);
}

/** @throws {ProblemError} 409 when nothing can be undone */
export async function undo({ db, imports }: Needs, id: string): Promise<void> {
  await known(db, id);
  if (!(await askToUndo(db, id))) {
    const detail = 'What was there before is not known any more, or it was undone already. Look at it again.';
    throw new ProblemError('nothing-to-undo', detail);
  }
  imports.look();
}

/** @param everyMs polling interval; abandoned imports are taken up that long after 12 s of silence */
export function watchImports(db: Queryable, importer: Importer, log: Logger, everyMs = 5000): ImportWatch {
  let working: Promise<void> | null = null;
  let isStopped = false;
  let again = false;
  const work = async () => {
    await endInterrupted(db);
    for (let id = await takeUp(db); id !== null && !isStopped; id = await takeUp(db)) {
      await importer.run({ kind: 'run', id });
    }
  };
  const look = () => {
    if (isStopped) return;
    if (working) {
      again = true;
      return;
    }
    working = work()
      .catch((error: unknown) => {
        if (!isStopped) log.warn({ err: error }, 'imports could not be looked after');
      })
      .finally(() => {
        working = null;
        if (!again) return;
        again = false;
        look();
      });
  };
  const timer = setInterval(look, everyMs);
  timer.unref();
  look();
  return {
    look,
    async stop() {
      isStopped = true;
      clearInterval(timer);
      await importer.stop();
      await working;
    },
  };
}
