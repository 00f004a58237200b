import { Worker } from 'node:worker_threads';
import type { PageMap } from '#core/contract/pageMap.ts';
import { CallOutError } from '../http/callOut.ts';
import type { Line } from './whatMapFinds.ts';

export interface PageToRead {
  readonly html: string;
  readonly path: string;
  readonly map: PageMap;
}

/** Reads pages of shops, which may be anything at all: each in a thread that is ended when it takes too much. */
export interface PageReader {
  /** @throws {CallOutError} `tooComplex` when reading it takes too long, or too much memory */
  read(page: PageToRead): Promise<Line[]>;
}

const LONGEST_MS = 5000;
const MOST_MEMORY_MB = 256;

/** @param file the thread's program */
export const startPageReader = (file: string): PageReader => ({
  read: (page) =>
    new Promise((resolve, reject) => {
      const worker = new Worker(file, {
        workerData: page,
        resourceLimits: { maxOldGenerationSizeMb: MOST_MEMORY_MB, maxYoungGenerationSizeMb: 32 },
      });
      const timer = setTimeout(() => void worker.terminate(), LONGEST_MS);
      worker.once('message', (lines: Line[]) => {
        resolve(lines);
      });
      worker.once('error', () => {
        reject(new CallOutError('tooComplex'));
      });
      worker.once('exit', () => {
        clearTimeout(timer);
        reject(new CallOutError('tooComplex'));
      });
    }),
});
