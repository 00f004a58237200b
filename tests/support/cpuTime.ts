import { cpuSeconds, processTree } from '../../bin/cpuTime.mjs';

/** CPU seconds used by a test worker, by the programs it started and by its browsers. */
export interface CpuTime {
  readonly runner: number;
  readonly server: number;
  readonly browser: number;
}

/** CPU time used so far. Programs that have ended count as servers: browsers live as long as their worker. */
export function cpuTime(): CpuTime {
  const worker = processTree(process.pid);
  if (!worker) throw new Error('this process is not in /proc');
  const sum = (isBrowser: boolean) =>
    worker.children
      .filter(({ name }) => /chrom|headless/i.test(name) === isBrowser)
      .reduce((total, child) => total + cpuSeconds(child), 0);
  return { runner: worker.own, server: sum(false) + worker.ended, browser: sum(true) };
}
