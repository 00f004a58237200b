import type { ImportPreview, ImportState } from '#core/contract/importCalls.ts';
import type { Database, Queryable } from '../db/database.ts';
import { inTurn } from '../db/inTurn.ts';
import { isDatabaseAway, isDatabaseBusy } from '../db/databaseErrors.ts';
import { setTimeout } from 'node:timers/promises';
import { shopFacts, theShop } from '../shopData/currentShop.ts';
import { readDetails } from '../shopData/shopDetails.ts';
import { catalogTarget } from './importCatalog.ts';
import { peopleTarget } from './importPeople.ts';
import {
  analyse,
  blankStock,
  columnNotices,
  forgetRows,
  importById,
  keepPreview,
  keepRefusals,
  keyOf,
  noteStep,
  refusalsOf,
  stagedRows,
  type ImportRow,
} from './importQueries.ts';
import type { ShopDetails } from '#core/contract/shopDetails.ts';
import type { TargetName } from '#core/imports/fileReading.ts';
import type { Refusal } from './rows.ts';
import { archivingOf, lockImports, nextWriteOrder, type ImportTarget } from './importTarget.ts';

export const TARGETS: Readonly<Record<TargetName, ImportTarget>> = { catalog: catalogTarget, people: peopleTarget };

/** Rows of a transaction: few, so that its locks are short. */
const BATCH = 500;
/** Batches after which the tables are analysed; the planner would learn of their size much later. */
const ANALYSED_AFTER = new Set([10, 40, 160]);
const AGAIN_MS = 1000;
const MOST_LISTED = 1000;
const REFUSED = 'Rows were refused, so none is in';

/** Whether there is work to do. */
const isUnderWay = ({ state }: ImportRow) => state === 'running' || state === 'undoing';

/**
 * Completes an import. Each batch is a transaction that also stores the progress, so that another server can continue after
 * this one was killed, and two at once do each batch once.
 */
export async function runImport(db: Database, id: string): Promise<void> {
  for (;;) {
    try {
      while (await db.transaction((client) => nextStep(client, id)));
      return;
    } catch (error) {
      // Somebody's lock was in the way, or the database is away: it is tried again as long as this process lives.
      if (isDatabaseAway(error) || isDatabaseBusy(error)) await setTimeout(AGAIN_MS);
      else {
        const why = messageOf(error);
        await end(db, id, ['running', 'undoing'], 'failed', why).catch(() => undefined);
        throw error;
      }
    }
  }
}

/** Runs a whole import in one transaction, while its caller waits. @throws any error of writing it */
export async function runAtOnce(db: Database, id: string): Promise<ImportRow> {
  await noteStep(db, id, ['reading'], { state: 'running', atOnce: true });
  try {
    return await db.transaction(async (client) => {
      while (await nextStep(client, id));
      const done = (await importById(client, id))!;
      if (done.badRows === 'refuseAll' && done.refused > 0)
        throw new RefusedError(await refusalsOf(client, id, MOST_LISTED));
      return done;
    });
  } catch (error) {
    await end(db, id, ['running'], 'failed', messageOf(error)).catch(() => undefined);
    throw error;
  }
}

const messageOf = (error: unknown) => (error instanceof Error ? error.message : 'it failed');

/** Maximum number of examples kept for a preview. */
const EXAMPLES = 50;

/**
 * Says what an import would do, and writes nothing: each batch is written and taken back. What two batches would do
 * together, such as two products of one path, is found only when they are written.
 */
export async function previewImport(db: Database, id: string): Promise<void> {
  const one = await importById(db, id);
  if (one?.state !== 'previewing') return;
  const target = TARGETS[one.target];
  const counts = { created: 0, changed: 0 };
  const refused = await refusalsOf(db, id, MOST_LISTED);
  const lines = new Set(refused.map(({ line }) => line));
  const examples: ImportPreview['examples'] = [];
  try {
    for (let done = 0; ; done += BATCH) {
      const rows = await stagedRows(db, id, done, BATCH);
      if (rows.length === 0) break;
      const outcome = await tried(db, async (client) => {
        const shop = shopFacts(await theShop(client));
        const written = await target.write(client, rows, { shop, writer: { order: one.order, importId: null } });
        return { ...written, examples: written.examples(EXAMPLES - examples.length) };
      });
      counts.created += outcome.created;
      counts.changed += outcome.changed;
      examples.push(...outcome.examples);
      refused.push(...outcome.refused.slice(0, MOST_LISTED - refused.length));
      for (const { line } of outcome.refused) lines.add(line);
      await noteStep(db, id, ['previewing'], { rowsDone: done + rows.length });
    }
    const archiving = await archivingOf(db, target, one);
    const notices = columnNotices(one);
    const blank = one.target === 'catalog' ? await blankStock(db, id) : 0;
    if (blank > 0) notices.push(blankStockNotice(blank, (await readDetails(db)).tracking));
    await noteStep(db, id, ['previewing'], { rowsDone: 0 });
    await keepPreview(db, id, { ...counts, ...archiving, refused, refusedRows: lines.size, notices, examples });
  } catch (error) {
    await end(db, id, ['previewing'], 'failed', messageOf(error)).catch(() => undefined);
    throw error;
  }
}

/** Rows tried at once for a page of examples, and rows looked through for one at most. */
const PAGE_ROWS = 50;
const MOST_LOOKED_THROUGH = 5000;

/** Whether the rows of a kind of example are new. */
const IS_NEW = { new: true, changed: false } as const;

/**
 * Returns further examples of a preview. Nothing of them is kept: the rows are tried again, and taken back.
 * @param from the place of the first row
 */
export async function examplesFrom(
  db: Database,
  one: ImportRow,
  { kind, from }: { kind?: 'new' | 'changed' | undefined; from: number },
): Promise<{ examples: ImportPreview['examples']; next: number | null }> {
  const target = TARGETS[one.target];
  const examples: ImportPreview['examples'] = [];
  let next = from;
  while (examples.length < EXAMPLES && next - from < MOST_LOOKED_THROUGH) {
    const rows = await stagedRows(db, one.id, next, PAGE_ROWS);
    if (rows.length === 0) return { examples, next: null };
    const found = await tried(db, async (client) => {
      const shop = shopFacts(await theShop(client));
      const written = await target.write(client, rows, { shop, writer: { order: one.order, importId: null } });
      return written.examples(PAGE_ROWS);
    });
    examples.push(...found.filter(({ isNew }) => kind === undefined || isNew === IS_NEW[kind]));
    next += rows.length;
  }
  return { examples, next };
}

/** Explains what happens to rows without a quantity, and where to change that. */
const blankStockNotice = (rows: number, tracking: ShopDetails['tracking']): string =>
  `${rows === 1 ? '1 row has' : `${rows} rows have`} no stock quantity. ` +
  (tracking === 'always'
    ? 'They count as sold out, since the shop’s settings say that stock is always tracked.'
    : 'Their stock is not tracked, so they can always be bought. To have them count as sold out, choose to track stock always in Settings, Shop.');

/** Does something in a transaction, and takes it back. */
async function tried<T>(db: Database, work: (client: Queryable) => Promise<T>): Promise<T> {
  const takenBack = new Error('taken back');
  const done: T[] = [];
  await db
    .transaction(async (client) => {
      done.push(await work(inTurn(client)));
      throw takenBack;
    })
    .catch((error: unknown) => {
      if (error !== takenBack) throw error;
    });
  return done[0]!;
}

/** Rows were refused, so none went in. */
export class RefusedError extends Error {
  constructor(readonly refused: readonly Refusal[]) {
    super(REFUSED);
  }
}

/** @param during states that it may end from */
async function end(
  db: Queryable,
  id: string,
  during: readonly ImportState[],
  state: ImportState,
  error?: string,
): Promise<void> {
  await noteStep(db, id, during, { state, ended: true, ...(error === undefined ? {} : { error }) });
  await forgetRows(db, id);
}

/** @returns whether more is left */
async function nextStep(connection: Queryable, id: string): Promise<boolean> {
  const client = inTurn(connection);
  const one = await importById(client, id, true);
  if (!one || !isUnderWay(one)) return false;
  const target = TARGETS[one.target];
  const { order, atOnce } = one;
  const now = [one.state];
  const at = new Date();
  if (one.state === 'undoing') {
    const undoes = { undoes: id, itsOrder: order, order: await nextWriteOrder(client) };
    if ((await target.undo(client, undoes, at)) > 0) {
      await noteStep(client, id, now, {});
      return true;
    }
    const isRefused = one.endedAt === null;
    if (isRefused) await end(client, id, now, 'failed', REFUSED);
    else await end(client, id, now, 'undone');
    return false;
  }
  if (one.wants === 'cancel') {
    await end(client, id, now, 'cancelled');
    return false;
  }
  // Erasing a person blanks staged rows, so it is either all before this batch or all after it.
  await lockImports(client);
  const rows = await stagedRows(client, id, one.rowsDone, BATCH);
  if (rows.length > 0) {
    if (ANALYSED_AFTER.has(one.rowsDone / BATCH)) await analyse(client);
    const shop = shopFacts(await theShop(client));
    const {
      refused,
      examples: _examples,
      ...counts
    } = await target.write(client, rows, { shop, writer: { order, importId: id } });
    const keys = new Map(rows.map(({ line, cells }) => [line, keyOf(cells, target.keyColumn)]));
    await keepRefusals(client, id, refused, keys);
    await noteStep(client, id, now, { rowsDone: one.rowsDone + rows.length, ...counts });
    return true;
  }
  if (one.badRows === 'refuseAll' && one.refused > 0 && !atOnce) {
    await noteStep(client, id, now, { state: 'undoing' });
    return true;
  }
  if (one.mode === 'replace') {
    const archived = await target.archiveOthers(client, { importId: id, order }, at);
    if (archived > 0) {
      await noteStep(client, id, now, { archived });
      return true;
    }
  }
  await end(client, id, now, 'done');
  return false;
}
