import { once } from 'node:events';
import { setTimeout as setTimer } from 'node:timers';
import { setTimeout } from 'node:timers/promises';
import { Worker } from 'node:worker_threads';
import type { Logger } from 'pino';
import { ProblemError } from '../http/errors.ts';
import type { SellerRules } from '#core/rulebook/sellers.ts';
import type { Representative } from '#core/analysis/representatives.ts';
import type {
  calendar,
  CalendarQuestion,
  FindingsQuestion,
  FoundChange,
  FoundFinding,
  ImpactIndex,
  ImpactPage,
  ImpactQuestion,
  RowsQuestion,
  Steps,
} from './analyses.ts';
import type { FactImpactQuestion, MatchingProducts, ProductsPage, ProductQuestion } from './productQuestion.ts';

export type Question =
  | ({ readonly kind: 'impact'; readonly page: ImpactPage } & ImpactQuestion)
  | ({ readonly kind: 'touched' } & ImpactQuestion)
  | ({ readonly kind: 'findings' } & FindingsQuestion)
  | ({ readonly kind: 'calendar' } & CalendarQuestion)
  | ({ readonly kind: 'rows' } & RowsQuestion)
  | ({ readonly kind: 'products'; readonly page: ProductsPage } & ProductQuestion)
  | ({ readonly kind: 'factImpact' } & FactImpactQuestion);

interface Answers {
  readonly impact: Pick<ImpactIndex, 'looked' | 'changed' | 'groups' | 'moments'> & {
    readonly changes: readonly FoundChange[];
    readonly more: boolean;
  };
  /** The ids of products. */
  readonly touched: readonly string[];
  readonly findings: { readonly findings: readonly FoundFinding[]; readonly looked: number; readonly of: number };
  readonly calendar: ReturnType<typeof calendar> extends Steps<infer Answer> ? Answer : never;
  readonly rows: readonly Representative[];
  readonly products: MatchingProducts;
  readonly factImpact: Pick<ImpactIndex, 'changed' | 'groups'> & { readonly products: number };
}
export type AnswerTo<K extends Question['kind']> = Answers[K];

export interface Ask {
  readonly id: number;
  readonly question: Question;
}
/** The sellers with their rules, as of all questions that come after. */
export interface Tell {
  readonly sellers: readonly SellerRules[];
}
export type Reply = { readonly id: number } & (
  | { readonly value: unknown }
  | { readonly error: string }
  | { readonly part: number }
);

/** Options for waiting for a result. */
export interface Waiting {
  /** Gives it up. */
  readonly signal?: AbortSignal;
  /** Maximum wait in ms; without it, until the result is there. */
  readonly patience?: number;
  /** Whether the question is about now, in which case the minute identifies it. */
  readonly isNow?: boolean;
}

/** Looks through the whole catalog, in a thread of its own. */
export interface Analyst {
  /**
   * @throws {StillWorking} when patience ends; the work goes on for some seconds, in case the question is repeated
   * @throws {ProblemError} 503 when the signal gave it up
   * @throws {Error} when the thread has ended
   */
  ask<K extends Question['kind']>(question: Extract<Question, { kind: K }>, how?: Waiting): Promise<AnswerTo<K>>;
  stop(): Promise<void>;
}

/** An answer is not there yet. */
export class StillWorking extends Error {
  constructor(
    /** Progress from 0 to 1. */
    readonly part: number,
  ) {
    super('still working');
  }
}

const givenUp = () => new ProblemError('given-up', 'Nobody waited for the answer any more. Ask again.');

/** How long work goes on, or its answer is kept, after a caller lost patience: they usually ask again. */
const GRACE_MS = 5000;

/** A question that was put to the thread. */
interface PendingQuestion {
  readonly to: Worker;
  readonly answer: Promise<unknown>;
  readonly settle: { resolve: (value: unknown) => void; reject: (error: Error) => void };
  part: number;
  isAnswered: boolean;
  askers: number;
  leaving: NodeJS.Timeout | undefined;
}

/**
 * @param file the thread's program; it starts with the first question, and again after it failed
 * @param sellersNow gives the sellers with those of their rules that count: others when anything of theirs changed
 * @param urls the database, and a replica to read the catalog from, if there is one
 */
export function startAnalyst(
  file: string,
  { databaseUrl, readUrl }: { readonly databaseUrl: string; readonly readUrl: string | null },
  sellersNow: () => readonly SellerRules[],
  log: Logger,
): Analyst {
  const pending = new Map<number, PendingQuestion>();
  const byQuestion = new Map<string, number>();
  let worker: Worker | null = null;
  let last = 0;
  /** Sellers sent to the thread last, and their version. */
  let told: readonly SellerRules[] | null = null;
  let sellersVersion = 0;

  /** Number of the version of sellers' rules, part of every question. */
  const tell = (): number => {
    worker ??= start();
    const sellers = sellersNow();
    if (sellers !== told) {
      told = sellers;
      sellersVersion += 1;
      worker.postMessage({ sellers } satisfies Tell);
    }
    return sellersVersion;
  };

  const start = (): Worker => {
    const begun = new Worker(file, { workerData: { databaseUrl, readUrl } });
    begun.on('message', (reply: Reply) => {
      const one = pending.get(reply.id);
      if (!one) return;
      if ('part' in reply) {
        one.part = reply.part;
        return;
      }
      one.isAnswered = true;
      if ('error' in reply) one.settle.reject(new Error(reply.error));
      else one.settle.resolve(reply.value);
    });
    begun.on('error', (error) => {
      log.error({ err: error }, 'the analysis failed');
    });
    begun.on('exit', () => {
      if (worker === begun) [worker, told] = [null, null];
      for (const { settle } of pending.values()) settle.reject(new Error('the analysis ended'));
      pending.clear();
      byQuestion.clear();
    });
    // Does not keep the process alive: its results can be computed again.
    begun.unref();
    return begun;
  };

  const put = (key: string, question: Question): number => {
    const to = worker;
    if (!to) throw new Error('a question is put after the thread was told of the sellers');
    const id = (last += 1);
    let settle: PendingQuestion['settle'] | undefined;
    const answer = new Promise<unknown>((resolve, reject) => {
      settle = { resolve, reject };
    });
    if (!settle) throw new Error('a promise begins at once');
    // A failure while nobody waits is reported to the next caller.
    answer.catch(() => undefined);
    pending.set(id, { to, answer, settle, part: 0, isAnswered: false, askers: 0, leaving: undefined });
    byQuestion.set(key, id);
    to.postMessage({ id, question } satisfies Ask);
    return id;
  };

  const drop = (key: string, id: number): void => {
    const one = pending.get(id);
    if (byQuestion.get(key) === id) byQuestion.delete(key);
    pending.delete(id);
    if (one && !one.isAnswered) one.to.postMessage({ giveUp: id });
  };

  return {
    async ask<K extends Question['kind']>(
      question: Extract<Question, { kind: K }>,
      { signal, patience, isNow = false }: Waiting = {},
    ) {
      if (signal?.aborted) throw givenUp();
      const key = `${tell()} ${JSON.stringify(isNow ? { ...question, moment: 'now' } : question)}`;
      const id = byQuestion.get(key) ?? put(key, question);
      const one = pending.get(id)!;
      clearTimeout(one.leaving);
      one.askers += 1;
      const over = new AbortController();
      const until = (ms: number) =>
        setTimeout(ms, undefined, { signal: over.signal, ref: false }).then(() => {
          throw new StillWorking(one.part);
        });
      let grace = 0;
      try {
        const ends: Promise<unknown>[] = [one.answer];
        if (patience !== undefined) ends.push(until(patience));
        if (signal)
          ends.push(
            once(signal, 'abort', { signal: over.signal }).then(() => {
              throw givenUp();
            }),
          );
        return (await Promise.race(ends)) as AnswerTo<K>;
      } catch (error) {
        if (error instanceof StillWorking) grace = GRACE_MS;
        throw error;
      } finally {
        over.abort();
        one.askers -= 1;
        if (one.askers === 0) {
          if (grace === 0) drop(key, id);
          else
            one.leaving = setTimer(() => {
              drop(key, id);
            }, grace).unref();
        }
      }
    },
    async stop() {
      const ending = worker;
      if (!ending) return;
      const ended = once(ending, 'exit');
      ending.postMessage('end');
      await ended;
    },
  };
}
