import { parentPort, workerData } from 'node:worker_threads';
import { lowerThreadPriority } from '../threads/threadPriority.ts';
import type { PageToRead } from './pageReader.ts';
import { whatMapFinds } from './whatMapFinds.ts';

/** The thread that reads one page, and ends. */
lowerThreadPriority();
const { html, path, map } = workerData as PageToRead;
parentPort?.postMessage(whatMapFinds(html, path, map));
