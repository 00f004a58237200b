import { setImmediate } from 'node:timers/promises';
import { parentPort, workerData } from 'node:worker_threads';
import { pino } from 'pino';
import { connect, POOLS } from '../db/database.ts';
import { readInBulk } from '../db/readReplica.ts';
import { watchDatabase } from '../db/watch.ts';
import { lowerThreadPriority } from '../threads/threadPriority.ts';
import * as analyses from './analyses.ts';
import type { Ask, Reply, Tell } from './analyst.ts';
import { factImpact, productsIndex, productsPage } from './productQuestion.ts';
import { CatalogHolder, type LoadedCatalog } from './loadedCatalog.ts';

/** Thread that holds the catalog, so that analyses of all of it keep nobody waiting. */

/** Interval at which work checks whether it was given up, in ms. */
const TURN_MS = 30;
/** Progress interval, in ms. */
const REPORT_MS = 200;
const MOST_KEPT = 12;
/** Share of the work that loading the catalog counts for, if much has to be read. */
const READING = 0.5;
/** Greatest age of the catalog behind a list of products, in ms. */
const OLDEST_LIST = 5000;

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

/** Callers waiting for a result, with the progress each was given before. */
type Askers = Map<number, number>;
interface Running {
  readonly answer: Promise<unknown>;
  readonly askers: Askers;
}
/** The loaded catalog, with finished and running answers by question. */
interface Loaded extends LoadedCatalog {
  readonly kept: Map<string, unknown>;
  readonly running: Map<string, Running>;
}
/** The sellers with those of their rules that count, and how often they were told. */
let sellers: Tell['sellers'] = [];
let sellersVersion = 0;
/** All that is being found out, of this catalog or of one before it. */
const allRuns = new Set<Running>();

const watch = await watchDatabase(databaseUrl, log);
const holder = await CatalogHolder.start<Loaded>(watch, (catalog) => ({
  ...catalog,
  kept: new Map(),
  running: new Map(),
}));

/** Of those who wait for the catalog to be read, by number, how much of the reading is done. */
const readers = new Map<number, number>();

/** One reading after the other, so that two questions at once read it once. */
let reading: Promise<unknown> = Promise.resolve();
/** The catalog for a question, its greatest age in ms, and the share of the work that reading it is. */
async function loadFor(id: number, oldest: number): Promise<{ now: Loaded; done: number }> {
  const recent = holder.recent(oldest);
  if (recent) return { now: recent, done: 0 };
  readers.set(id, 0);
  const next = reading
    .catch(() => undefined)
    .then(() =>
      holder.read(
        () => bulk.database(),
        (part) => {
          for (const reader of readers.keys()) {
            readers.set(reader, part);
            send({ id: reader, part: READING * part });
          }
        },
      ),
    );
  reading = next;
  try {
    return { now: await next, done: READING * (readers.get(id) ?? 0) };
  } finally {
    readers.delete(id);
  }
}

class GivenUp extends Error {}

/** Answers from memory, from an analysis under way, or by a new one. */
function run<Answer>(
  id: number,
  { now: { kept, running }, done }: Awaited<ReturnType<typeof loadFor>>,
  question: unknown,
  begin: () => analyses.Steps<Answer>,
): Promise<Answer> {
  const key = `${sellersVersion} ${JSON.stringify(question)}`;
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
      allRuns.delete(run);
    });
  const run: Running = { answer: found, askers };
  running.set(key, run);
  allRuns.add(run);
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
  const mayBeOld = 'page' in question && 'settled' in question.page && !question.page.settled;
  const given = await loadFor(id, mayBeOld ? OLDEST_LIST : 0);
  const catalog = analyses.withSellers(given.now.catalog, sellers, sellersVersion);
  switch (question.kind) {
    case 'impact': {
      const { page, ...query } = question;
      const index = await run(id, given, query, () => analyses.impactIndex(catalog, query));
      const { looked, changed, groups, moments } = index;
      return { looked, changed, groups, moments, ...analyses.impactPage(catalog, query, index, page) };
    }
    case 'touched': {
      const { changes } = await run(id, given, question, () => analyses.impactIndex(catalog, question));
      return [...new Set(Array.from(changes.row, (row) => catalog.columns.variantAt(row).product.id))];
    }
    case 'findings': {
      const found = await run(id, given, question, () => analyses.findings(catalog, question));
      return { ...found, of: catalog.products.length };
    }
    case 'calendar':
      return run(id, given, question, () => analyses.calendar(catalog, question));
    case 'rows':
      return run(id, given, question, () => analyses.rows(catalog, question));
    case 'factImpact':
      return run(id, given, question, () => factImpact(catalog, question));
    case 'products': {
      const { page, ...query } = question;
      return productsPage(catalog, query, await run(id, given, query, () => productsIndex(catalog, query)), page);
    }
  }
}

port.on('message', (message: Ask | Tell | { readonly giveUp: number } | 'end') => {
  if (message === 'end') {
    void Promise.all([watch.stop(), db.end(), bulk.end()]).then(() => {
      port.close();
    });
  } else if ('sellers' in message) {
    ({ sellers } = message);
    sellersVersion += 1;
  } else if ('giveUp' in message) {
    for (const { askers } of allRuns) askers.delete(message.giveUp);
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
