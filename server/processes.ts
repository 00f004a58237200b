import cluster, { type Worker } from 'node:cluster';
import { once } from 'node:events';
import { setTimeout } from 'node:timers/promises';
import type { Logger } from 'pino';

/** Delay before a process that ended is started again. */
const AGAIN_MS = 1000;

/**
 * Serves with several processes that listen on one port, each a copy of the server as on another machine. One that ends is
 * restarted; stopping this process stops them all.
 * @param env variables added to this process's environment
 */
export function serveByProcesses(count: number, env: Readonly<Record<string, string>>, log: Logger): void {
  const stopping = new AbortController();
  const isStopping = () => stopping.signal.aborted;
  const keep = async () => {
    while (!isStopping()) {
      const worker = cluster.fork(env);
      const [code, signal] = (await once(worker, 'exit')) as [number | null, string | null];
      if (isStopping()) return;
      log.error({ code, signal }, 'a process ended, and is started again');
      await setTimeout(AGAIN_MS, undefined, { signal: stopping.signal }).catch(() => undefined);
    }
  };
  const all = Promise.all(Array.from({ length: count }, keep));
  for (const end of ['SIGINT', 'SIGTERM', 'disconnect'] as const) {
    process.on(end, () => {
      stopping.abort();
      for (const worker of Object.values(cluster.workers ?? {}) as Worker[]) worker.process.kill('SIGTERM');
      void all.then(() => process.exit(0));
    });
  }
}
