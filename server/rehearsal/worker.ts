import { setImmediate } from 'node:timers/promises';
import { parentPort, workerData } from 'node:worker_threads';
import { pino } from 'pino';
import type { ProductFacts } from '#core/decide/subject.ts';
import { connect, type Database } from '../db/database.ts';
import { pageOfProducts } from '../catalog/catalogQueries.ts';
import * as analyses from './analyses.ts';
import type { Ask, Reply } from './analyst.ts';

/** A thread of its own that holds the catalog, so that what looks through all of it keeps nobody waiting. */

const AT_ONCE = 1000;
/** So long it goes on before it hears whether it should still. */
const TURN_MS = 30;
const MOST_KEPT = 12;

const { databaseUrl } = workerData as { readonly databaseUrl: string };
const db = connect(databaseUrl, pino({ level: 'silent' }));
const port = parentPort;
if (!port) throw new Error('this is a worker thread');

/** What tells whether anything that decisions look at has changed. */
const STATE = `
  SELECT (SELECT count(*) || ' ' || coalesce(sum(revision), 0) || ' ' || count(archived_at) FROM products)
    || ' ' || (SELECT count(*) || ' ' || coalesce(sum(units), 0) FROM preorders WHERE state IN ('reserved', 'allocated'))
    || ' ' || (SELECT count(*) || ' ' || coalesce(max(id), 0) FROM waitlist_entries WHERE state IN ('waiting', 'invited')) AS state`;

/** The catalog as it was read, and what was found out of it, by the question. */
interface Held {
  readonly state: string;
  readonly catalog: analyses.Catalog;
  readonly kept: Map<string, unknown>;
}
let held: Held | null = null;
/** What is being answered, and what of it nobody waits for any more. */
const answering = new Set<number>();
const given = new Set<number>();

/** One reading after the other, so that two questions at once read it once. */
let reading: Promise<unknown> = Promise.resolve();
function heldNow(): Promise<Held> {
  const next = reading.catch(() => undefined).then(() => readCatalog(db));
  reading = next;
  return next;
}

async function readCatalog(database: Database): Promise<Held> {
  const { rows } = await database.query<{ state: string }>(STATE);
  const state = rows[0]?.state ?? '';
  if (held?.state === state) return held;
  const products: ProductFacts[] = [];
  for (;;) {
    const page = await pageOfProducts(database, { after: products.at(-1)?.id, limit: AT_ONCE });
    products.push(...page.products);
    if (page.products.length < AT_ONCE) break;
  }
  held = { state, catalog: analyses.catalogOf(products), kept: new Map() };
  return held;
}

class GivenUp extends Error {}

/** Runs an analysis, giving way again and again; the same question of the same catalog is answered from memory. */
async function run<Answer>(
  id: number,
  kept: Held['kept'],
  question: unknown,
  steps: analyses.Steps<Answer>,
): Promise<Answer> {
  const key = JSON.stringify(question);
  if (kept.has(key)) return kept.get(key) as Answer;
  let begun = performance.now();
  for (let step = steps.next(); ; step = steps.next()) {
    if (step.done === true) {
      kept.set(key, step.value);
      for (const old of kept.keys()) {
        if (kept.size <= MOST_KEPT) break;
        kept.delete(old);
      }
      return step.value;
    }
    if (performance.now() - begun < TURN_MS) continue;
    await setImmediate();
    if (given.delete(id)) throw new GivenUp('given up');
    begun = performance.now();
  }
}

async function answer({ id, question }: Ask): Promise<unknown> {
  const { catalog, kept } = await heldNow();
  switch (question.kind) {
    case 'impact': {
      const { page, ...asked } = question;
      const index = await run(id, kept, asked, analyses.impactIndex(catalog, asked));
      const { looked, changed, groups, moments } = index;
      return { looked, changed, groups, moments, ...analyses.impactPage(catalog, asked, index, page) };
    }
    case 'findings': {
      const found = await run(id, kept, question, analyses.findings(catalog, question));
      return { ...found, of: catalog.products.length };
    }
    case 'calendar':
      return run(id, kept, question, analyses.calendar(catalog, question));
    case 'rows':
      return run(id, kept, question, analyses.rows(catalog, question));
  }
}

port.on('message', (message: Ask | { readonly giveUp: number } | 'end') => {
  if (message === 'end') {
    void db.end().then(() => {
      port.close();
    });
  } else if ('giveUp' in message) {
    if (answering.has(message.giveUp)) given.add(message.giveUp);
  } else {
    answering.add(message.id);
    answer(message)
      .then(
        (value): Reply => ({ id: message.id, value }),
        (error: unknown): Reply => ({ id: message.id, error: error instanceof Error ? error.message : String(error) }),
      )
      .then(
        (reply) => {
          answering.delete(message.id);
          given.delete(message.id);
          port.postMessage(reply);
        },
        () => undefined,
      );
  }
});
