import { readlinkSync } from 'node:fs';
import { constants, setPriority } from 'node:os';

/**
 * Shoppers come first: the thread that calls this has what they leave of the processor. Linux knows threads by numbers of
 * their own (proc(5), setpriority(2)); elsewhere it stays a thread like any other.
 */
export function lowerThreadPriority(): void {
  try {
    const [, thread] = /\/(\d+)$/.exec(readlinkSync('/proc/thread-self')) ?? [];
    if (thread !== undefined) setPriority(Number(thread), constants.priority.PRIORITY_BELOW_NORMAL);
  } catch {
    // There is no such file, or it may not be done here.
  }
}
