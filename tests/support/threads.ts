import { resolve } from 'node:path';

const folder = resolve(process.env.TEST_RESULTS ?? 'node_modules/.cache/understudy', 'threads');

/** Where the programs of threads are put for the tests; what they import is found from there. */
export const THREADS = {
  analyst: `${folder}/analyst.mjs`,
  importer: `${folder}/importer.mjs`,
  pageReader: `${folder}/pageReader.mjs`,
} as const;

/** What each is made from. */
export const THREAD_SOURCES: Readonly<Record<keyof typeof THREADS, string>> = {
  analyst: 'server/rehearsal/worker.ts',
  importer: 'server/imports/worker.ts',
  pageReader: 'server/pageMap/pageReaderWorker.ts',
};
