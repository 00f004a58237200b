import { readFileSync } from 'node:fs';

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

/** The processes that a process started and that still run. */
export const childrenOf = (pid: number): number[] =>
  readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').trim().split(/\s+/).filter(Boolean).map(Number);
