import { setImmediate } from 'node:timers/promises';
import { parentPort, workerData } from 'node:worker_threads';
import { pino } from 'pino';
import type { ProductFacts } from '#core/model/subject.ts';
import { connect, POOLS, type Queryable } from '../db/database.ts';
import { readInBulk } from '../db/readReplica.ts';
import { productsByKeys, productStamps } from '../catalog/catalogQueries.ts';
import { lowerThreadPriority } from '../threads/threadPriority.ts';
import { productInterner } from './internProduct.ts';
import * as analyses from './analyses.ts';
import type { Ask, Reply } from './analyst.ts';

/** A thread of its own that holds the catalog, so that what looks through all of it keeps nobody waiting. */

const AT_ONCE = 1000;
/** So long it goes on before it hears whether it should still. */
const TURN_MS = 30;
/** So often it says how far it is. */
const REPORT_MS = 200;
const MOST_KEPT = 12;
/** Where much has to be read, that counts for so much of the work. */
const READING = 0.5;

const { databaseUrl, readUrl } = workerData as { readonly databaseUrl: string; readonly readUrl: string | null };
const log = pino({ level: 'silent' });
const db = connect(databaseUrl, log, POOLS.thread);
const bulk = readInBulk(db, readUrl, log);
const port = parentPort;
if (!port) throw new Error('this is a worker thread');
lowerThreadPriority();
const send = (reply: Reply) => {
  port.postMessage(reply);
};

/** The catalog as it was read, and by the question, what was found out of it, and what is being found out. */
interface LoadedCatalog {
  /** Of each product, by its id, as of when it was read. */
  readonly products: ReadonlyMap<string, { readonly stamp: string; readonly facts: ProductFacts }>;
  readonly catalog: analyses.Catalog;
  readonly kept: Map<string, unknown>;
  readonly running: Map<string, Running>;
}
/** Those who wait for an answer, by number, and how much of it was done for each before it was begun. */
type Askers = Map<number, number>;
interface Running {
  readonly answer: Promise<unknown>;
  readonly askers: Askers;
}
let loaded: LoadedCatalog | null = null;
/** All that is being found out, of this catalog or of one before it. */
const inHand = new Set<Running>();

/** Of those who wait for the catalog to be read, by number, how much of the reading is done. */
const readers = new Map<number, number>();

/** One reading after the other, so that two questions at once read it once. */
let reading: Promise<unknown> = Promise.resolve();
/** The catalog for a question, and how much of the answer having read it is. */
async function loadFor(id: number): Promise<{ now: LoadedCatalog; done: number }> {
  readers.set(id, 0);
  const next = reading.catch(() => undefined).then(async () => readCatalog(await bulk.database()));
  reading = next;
  try {
    return { now: await next, done: READING * (readers.get(id) ?? 0) };
  } finally {
    readers.delete(id);
  }
}

/** The catalog as it is now: only what has changed since it was read is read again. */
async function readCatalog(database: Queryable): Promise<LoadedCatalog> {
  const before = loaded?.products ?? new Map<string, never>();
  const stamps = await productStamps(database);
  const changed = stamps.filter(({ id, stamp }) => before.get(id)?.stamp !== stamp);
  if (loaded && changed.length === 0 && stamps.length === before.size) return loaded;
  const read = new Map<string, ProductFacts>();
  const intern = productInterner();
  for (let from = 0; from < changed.length; from += AT_ONCE) {
    const ids = changed.slice(from, from + AT_ONCE).map(({ id }) => id);
    for (const row of await productsByKeys(database, { ids, paths: [] })) read.set(row.id, intern(row));
    const done = (from + ids.length) / changed.length;
    for (const id of readers.keys()) {
      readers.set(id, done);
      send({ id, part: READING * done });
    }
  }
  const products = new Map(
    stamps.flatMap(({ id, stamp }) => {
      const facts = read.get(id) ?? before.get(id)?.facts;
      return facts ? [[id, { stamp, facts }] as const] : [];
    }),
  );
  const catalog = analyses.catalogOf([...products.values()].map(({ facts }) => facts));
  loaded = { products, catalog, kept: new Map(), running: new Map() };
  return loaded;
}

class GivenUp extends Error {}

/** Answers a question from memory, with what is being found out already, or by an analysis. */
function run<Answer>(
  id: number,
  { now: { kept, running }, done }: Awaited<ReturnType<typeof loadFor>>,
  question: unknown,
  begin: () => analyses.Steps<Answer>,
): Promise<Answer> {
  const key = JSON.stringify(question);
  if (kept.has(key)) return Promise.resolve(kept.get(key) as Answer);
  const known = running.get(key);
  if (known) {
    known.askers.set(id, done);
    return known.answer as Promise<Answer>;
  }
  const askers: Askers = new Map([[id, done]]);
  const found = goThrough(begin(), askers)
    .then((answer) => {
      kept.set(key, answer);
      for (const old of [...kept.keys()].slice(0, -MOST_KEPT)) kept.delete(old);
      return answer;
    })
    .finally(() => {
      running.delete(key);
      inHand.delete(run);
    });
  const run: Running = { answer: found, askers };
  running.set(key, run);
  inHand.add(run);
  return found;
}

/** Gives way again and again, tells how far it is, and ends when nobody waits any more. */
async function goThrough<Answer>(steps: analyses.Steps<Answer>, askers: Askers): Promise<Answer> {
  let [begun, reported] = [performance.now(), performance.now()];
  for (;;) {
    const step = steps.next();
    if (step.done === true) return step.value;
    const now = performance.now();
    if (now - begun < TURN_MS) continue;
    if (now - reported > REPORT_MS) {
      for (const [id, done] of askers) send({ id, part: done + (1 - done) * step.value });
      reported = now;
    }
    await setImmediate();
    if (askers.size === 0) throw new GivenUp('given up');
    begun = performance.now();
  }
}

async function answer({ id, question }: Ask): Promise<unknown> {
  const given = await loadFor(id);
  const { catalog } = given.now;
  switch (question.kind) {
    case 'impact': {
      const { page, ...query } = question;
      const index = await run(id, given, query, () => analyses.impactIndex(catalog, query));
      const { looked, changed, groups, moments } = index;
      return { looked, changed, groups, moments, ...analyses.impactPage(catalog, query, index, page) };
    }
    case 'findings': {
      const found = await run(id, given, question, () => analyses.findings(catalog, question));
      return { ...found, of: catalog.products.length };
    }
    case 'calendar':
      return run(id, given, question, () => analyses.calendar(catalog, question));
    case 'rows':
      return run(id, given, question, () => analyses.rows(catalog, question));
  }
}

port.on('message', (message: Ask | { readonly giveUp: number } | 'end') => {
  if (message === 'end') {
    void Promise.all([db.end(), bulk.end()]).then(() => {
      port.close();
    });
  } else if ('giveUp' in message) {
    for (const { askers } of inHand) askers.delete(message.giveUp);
  } else {
    const { id } = message;
    answer(message).then(
      (value) => {
        send({ id, value });
      },
      (error: unknown) => {
        send({ id, error: error instanceof Error ? error.message : String(error) });
      },
    );
  }
});
