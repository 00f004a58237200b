// CPU time of process trees, as Linux reports it in /proc (see proc_pid_stat(5)).
import { readFileSync, readdirSync } from 'node:fs';

/** Clock ticks per second in /proc (USER_HZ), which Linux fixes for user space. */
const TICKS = 100;

/**
 * @param {string | number} pid
 * @returns null once the process has ended
 */
function readProcess(pid) {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    // The name is in brackets and may itself contain brackets.
    const end = stat.lastIndexOf(')');
    const fields = stat.slice(end + 2).split(' ');
    const at = (field) => Number(fields[field - 3]);
    return {
      pid: Number(pid),
      parent: at(4),
      name: stat.slice(stat.indexOf('(') + 1, end),
      own: (at(14) + at(15)) / TICKS,
      ended: (at(16) + at(17)) / TICKS,
    };
  } catch {
    return null;
  }
}

/** Lists a process and its descendants; null if it has ended. */
export function processTree(root) {
  const all = readdirSync('/proc').flatMap((entry) => (/^\d+$/.test(entry) ? (readProcess(entry) ?? []) : []));
  const withDescendants = (parent) => {
    const below = all.filter((process) => process.parent === parent.pid).map(withDescendants);
    return { ...parent, children: below };
  };
  const found = all.find(({ pid }) => pid === Number(root));
  return found ? withDescendants(found) : null;
}

/** Adds up a tree of processes, those that ended included, in seconds. */
export const cpuSeconds = (tree) =>
  tree === null ? 0 : tree.own + tree.ended + tree.children.reduce((sum, child) => sum + cpuSeconds(child), 0);
