import { existsSync, readdirSync, readFileSync } from 'node:fs';

/** Resident memory of a process, in bytes (Linux, proc(5)). */
export function memoryOf(pid: number): number {
  const [, kB = '0'] = /^VmRSS:\s+(\d+) kB$/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8')) ?? [];
  return Number(kB) * 1024;
}

/** Looks at a process until it is told to stop. @returns the most that it held, in bytes */
export function watchMemory(pid: number): () => number {
  let most = memoryOf(pid);
  const timer = setInterval(() => {
    most = Math.max(most, memoryOf(pid));
  }, 20);
  return () => {
    clearInterval(timer);
    return Math.max(most, memoryOf(pid));
  };
}

/** The processes that a process started, in whichever of its threads, and that still run. */
export const childrenOf = (pid: number): number[] =>
  readdirSync(`/proc/${pid}/task`).flatMap((thread) => {
    try {
      const children = readFileSync(`/proc/${pid}/task/${thread}/children`, 'utf8');
      return children.trim().split(/\s+/).filter(Boolean).map(Number);
    } catch {
      // A thread that has ended since the list was read; its children belong to another thread now.
      return [];
    }
  });

/**
 * The niceness of every thread of the browsers that a process started (proc(5)), and of their scheduling groups where
 * there are such (sched(7), autogroup): 0 is that of a server, 19 the most.
 */
export function nicenessOfBrowsers(pid: number): number[] {
  return childrenOf(pid).flatMap((leader) =>
    readdirSync('/proc').flatMap((process) => {
      try {
        const isOfIt = fieldsOf(`/proc/${process}/stat`)[GROUP] === String(leader);
        const isBrowser = readFileSync(`/proc/${process}/cmdline`, 'utf8').includes('--headless');
        if (!isOfIt || !isBrowser) return [];
        const threads = readdirSync(`/proc/${process}/task`).map((thread) =>
          Number(fieldsOf(`/proc/${process}/task/${thread}/stat`)[NICE]),
        );
        const group = `/proc/${process}/autogroup`;
        if (!existsSync(group)) return threads;
        return [...threads, Number(/nice (-?\d+)/.exec(readFileSync(group, 'utf8'))?.[1])];
      } catch {
        // Not a process, or one that has ended.
        return [];
      }
    }),
  );
}

/** The fields after the name, which may hold anything. */
const fieldsOf = (file: string) => {
  const stat = readFileSync(file, 'utf8');
  return stat.slice(stat.lastIndexOf(')') + 2).split(' ');
};
const [GROUP, NICE] = [2, 16];
