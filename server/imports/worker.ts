import { parentPort, workerData } from 'node:worker_threads';
import { pino } from 'pino';
import { connect, POOLS } from '../db/database.ts';
import { invalid, ProblemError } from '../http/errors.ts';
import { lowerThreadPriority } from '../threads/threadPriority.ts';
import { plainProblem, type ImportTask, type TaskMessage, type TaskReply } from './importer.ts';
import { beat, importById, keepRefusals, noteStep, stageRows } from './importQueries.ts';
import { previewImport, RefusedError, runAtOnce, runImport, TARGETS } from './importRun.ts';
import { readFileOf } from './reading.ts';
import type { Refusal } from './rows.ts';

/** The thread that reads and writes imports. */

const { databaseUrl } = workerData as { readonly databaseUrl: string };
const db = connect(databaseUrl, pino({ level: 'silent' }), POOLS.thread);
const port = parentPort;
if (!port) throw new Error('this is a worker thread');

lowerThreadPriority();

const BEAT_MS = 5000;

/** @returns how many rows there are */
async function stage({ id, file, format }: Extract<ImportTask, { kind: 'stage' }>): Promise<number> {
  const one = await importById(db, id);
  if (!one) throw new Error('there is no such import');
  const { keyColumn } = TARGETS[one.target];
  let staged = 0;
  let all = 0;
  for await (const { columns, rows, refused } of readFileOf(file, format, one.target, one.reading)) {
    await stageRows(db, id, { rows, from: staged, keyColumn });
    await keepRefusals(db, id, refused);
    staged += rows.length;
    all += rows.length + refused.length;
    await noteStep(db, id, ['reading'], { columns, rows: all });
  }
  return all;
}

const faultOf = ({ line, column, reason }: Refusal) => ({
  pointer: column === null ? `/${line}` : `/${line}/${column}`,
  found: `line ${line}${column === null ? '' : `, column ${column}`}`,
  allowed: reason,
});

async function work(task: ImportTask): Promise<number> {
  switch (task.kind) {
    case 'stage':
      return stage(task);
    case 'preview':
      await previewImport(db, task.id);
      return (await importById(db, task.id))?.rows ?? 0;
    case 'runAtOnce':
      return (await runAtOnce(db, task.id)).rows;
    case 'run':
      await runImport(db, task.id);
      return (await importById(db, task.id))?.rows ?? 0;
  }
}

function problemOf(error: unknown): ProblemError | null {
  if (error instanceof RefusedError) return invalid('The file', error.refused.map(faultOf));
  return error instanceof ProblemError ? error : null;
}

port.on('message', (message: TaskMessage) => {
  const { number, task } = message;
  const beating = setInterval(() => {
    beat(db, task.id).catch(() => undefined);
  }, BEAT_MS);
  const send = (reply: TaskReply) => {
    clearInterval(beating);
    port.postMessage(reply);
  };
  work(task).then(
    (rows) => {
      send({ number, rows });
    },
    (error: unknown) => {
      const problem = problemOf(error);
      if (problem) send({ number, problem: plainProblem(problem) });
      else send({ number, error: error instanceof Error ? error.message : 'it failed' });
    },
  );
});
