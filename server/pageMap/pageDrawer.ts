import { once } from 'node:events';
import { Worker } from 'node:worker_threads';
import type { Config } from '../config/config.ts';
import type { Drawing, Drawn } from './drawing.ts';

/** Message to the drawing thread. */
export interface PageToDraw {
  readonly address: string;
  readonly html: string;
}

/** Draws pages as a shopper's browser does. */
export interface PageDrawer {
  /**
   * @param html of the page, as it was sent
   * @returns the page after its scripts have run, with shadow roots as markup; null without a browser
   */
  draw(address: URL, html: string): Promise<Drawn | null>;
  close(): Promise<void>;
}

const NO_DRAWER: PageDrawer = { draw: () => Promise.resolve(null), close: () => Promise.resolve() };

const ENDED: Drawn = { notDrawn: 'ended' };

/** The drawing that all others of this process wait for. */
let turn: Promise<unknown> = Promise.resolve();

/**
 * Starts the thread that draws: what a page asks for, however often, keeps no shopper waiting. One page at a time is drawn.
 * @param file the thread's program
 */
export function startDrawer(file: string, { chromium, publicUrl, privateHosts }: Config): PageDrawer {
  if (chromium === null) return NO_DRAWER;
  let thread: { readonly worker: Worker; readonly ended: Promise<Drawn> } | null = null;
  const start = () => {
    const worker = new Worker(file, { workerData: { chromium, publicUrl, privateHosts } satisfies Drawing });
    const ended = once(worker, 'exit').then(
      () => ENDED,
      () => ENDED,
    );
    void ended.then(() => {
      if (thread?.worker === worker) thread = null;
    });
    return { worker, ended };
  };
  const draw = async (page: PageToDraw): Promise<Drawn | null> => {
    const { worker, ended } = (thread ??= start());
    const answered = once(worker, 'message').then(
      ([answer]) => answer as Drawn | null,
      () => ENDED,
    );
    worker.postMessage(page);
    return Promise.race([answered, ended]);
  };
  return {
    draw: (address, html) => {
      const mine = turn.then(() => draw({ address: address.href, html }));
      turn = mine;
      return mine;
    },
    async close() {
      const ending = thread;
      thread = null;
      ending?.worker.postMessage(null);
      await ending?.ended;
    },
  };
}
