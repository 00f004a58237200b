import { Worker } from 'node:worker_threads';
import type { Logger } from 'pino';
import type { ProblemCode } from '#core/contract/problems.ts';
import type { ValidationIssue } from '#core/contract/validation.ts';
import { ProblemError } from '../http/errors.ts';
import type { FileKind } from './reading.ts';

/** Task for the import thread. */
export type ImportTask =
  /** Reads a file and puts its rows in their places. @see staged */
  | { readonly kind: 'stage'; readonly id: string; readonly file: string; readonly format: FileKind }
  /** Previews it. */
  | { readonly kind: 'preview'; readonly id: string }
  /** Writes all of it in one transaction. */
  | { readonly kind: 'runAtOnce'; readonly id: string }
  /** Runs the rest of it, batch by batch. */
  | { readonly kind: 'run'; readonly id: string };

export interface TaskMessage {
  readonly number: number;
  readonly task: ImportTask;
}

/** A problem as it crosses threads. */
interface PlainProblem {
  readonly code: ProblemCode;
  readonly detail: string;
  readonly errors: readonly ValidationIssue[] | undefined;
}

export type TaskReply = { readonly number: number } & (
  | { readonly rows: number }
  | { readonly problem: PlainProblem }
  | { readonly error: string }
);

export const plainProblem = ({ code, detail, extra }: ProblemError): PlainProblem => ({
  code,
  detail,
  errors: extra.errors,
});

/** Reads and writes imports in a thread of its own, so that they keep nobody waiting and a huge file ends no server. */
export interface Importer {
  /** @returns how many rows there are @throws {ProblemError} where the file or its rows cannot be taken */
  run(task: ImportTask): Promise<number>;
  stop(): Promise<void>;
}

/** More than any file needs: a thread that takes more ends, and the server goes on. */
const MOST_MEMORY_MB = 384;

interface Waiting {
  readonly resolve: (rows: number) => void;
  readonly reject: (error: Error) => void;
}

/** @param file the thread's program; it starts with the first task, and again after it failed */
export function startImporter(file: string, databaseUrl: string, log: Logger): Importer {
  const waiting = new Map<number, Waiting>();
  let worker: Worker | null = null;
  let last = 0;

  const start = (): Worker => {
    const begun = new Worker(file, {
      workerData: { databaseUrl },
      resourceLimits: { maxOldGenerationSizeMb: MOST_MEMORY_MB },
    });
    begun.on('message', (reply: TaskReply) => {
      const one = waiting.get(reply.number);
      waiting.delete(reply.number);
      if (!one) return;
      if ('rows' in reply) one.resolve(reply.rows);
      else if ('error' in reply) one.reject(new Error(reply.error));
      else {
        const { code, detail, errors } = reply.problem;
        one.reject(new ProblemError(code, detail, errors ? { errors } : {}));
      }
    });
    begun.on('error', (error) => {
      log.error({ err: error }, 'the thread that imports failed');
    });
    begun.on('exit', () => {
      if (worker === begun) worker = null;
      for (const { reject } of waiting.values()) reject(new Error('the thread that imports ended'));
      waiting.clear();
    });
    begun.unref();
    return begun;
  };

  return {
    run: (task) =>
      new Promise((resolve, reject) => {
        worker ??= start();
        const number = (last += 1);
        waiting.set(number, { resolve, reject });
        worker.postMessage({ number, task } satisfies TaskMessage);
      }),
    async stop() {
      // Its transaction is rolled back and resumed by the next server to start.
      await worker?.terminate();
    },
  };
}
