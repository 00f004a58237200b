import { once } from 'node:events';
import { Worker } from 'node:worker_threads';
import type { Logger } from 'pino';
import { ProblemError } from '../errors.ts';
import type { Representative } from '#core/analyse/representatives.ts';
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

export type Question =
  | ({ readonly kind: 'impact'; readonly page: ImpactPage } & ImpactQuestion)
  | ({ readonly kind: 'findings' } & FindingsQuestion)
  | ({ readonly kind: 'calendar' } & CalendarQuestion)
  | ({ readonly kind: 'rows' } & RowsQuestion);

interface Answers {
  readonly impact: Pick<ImpactIndex, 'looked' | 'changed' | 'groups' | 'moments'> & {
    readonly changes: readonly FoundChange[];
    readonly more: boolean;
  };
  readonly findings: { readonly findings: readonly FoundFinding[]; readonly looked: number; readonly of: number };
  readonly calendar: ReturnType<typeof calendar> extends Steps<infer Answer> ? Answer : never;
  readonly rows: readonly Representative[];
}
export type AnswerTo<K extends Question['kind']> = Answers[K];

export interface Ask {
  readonly id: number;
  readonly question: Question;
}
export type Reply = { readonly id: number } & ({ readonly value: unknown } | { readonly error: string });

/** Looks through the whole catalog, in a thread of its own. */
export interface Analyst {
  /** @throws {ProblemError} 503 when the signal gave it up @throws {Error} when the thread has ended */
  ask<K extends Question['kind']>(question: Extract<Question, { kind: K }>, signal?: AbortSignal): Promise<AnswerTo<K>>;
  stop(): Promise<void>;
}

const givenUp = () =>
  new ProblemError(503, 'given-up', 'Given up', 'Nobody waited for the answer any more. Ask again.');

/** @param file the thread's program; it starts with the first question, and again after it failed */
export function startAnalyst(file: string, databaseUrl: string, log: Logger): Analyst {
  const waiting = new Map<number, { resolve: (value: unknown) => void; reject: (error: Error) => void }>();
  let worker: Worker | null = null;
  let asked = 0;

  const start = (): Worker => {
    const begun = new Worker(file, { workerData: { databaseUrl } });
    begun.on('message', (reply: Reply) => {
      const asker = waiting.get(reply.id);
      waiting.delete(reply.id);
      if ('error' in reply) asker?.reject(new Error(reply.error));
      else asker?.resolve(reply.value);
    });
    begun.on('error', (error) => {
      log.error({ err: error }, 'the analysis failed');
    });
    begun.on('exit', () => {
      if (worker === begun) worker = null;
      for (const { reject } of waiting.values()) reject(new Error('the analysis ended'));
      waiting.clear();
    });
    // What it looks at can be asked again; it keeps no process alive.
    begun.unref();
    return begun;
  };

  return {
    ask<K extends Question['kind']>(question: Extract<Question, { kind: K }>, signal?: AbortSignal) {
      worker ??= start();
      const to = worker;
      const id = (asked += 1);
      const answered = new Promise<unknown>((resolve, reject) => waiting.set(id, { resolve, reject }));
      signal?.addEventListener('abort', () => {
        if (!waiting.has(id)) return;
        to.postMessage({ giveUp: id });
        waiting.get(id)?.reject(givenUp());
        waiting.delete(id);
      });
      to.postMessage({ id, question } satisfies Ask);
      return answered as Promise<AnswerTo<K>>;
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
