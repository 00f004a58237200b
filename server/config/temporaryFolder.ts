import { mkdtemp, readdir, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Names the process that made a folder, so that another can tell whether it is still in use. */
const NAME = /^understudy-(\d+)-/;
/** Waits an hour before removing one: where machines share the folder, its process may run on another. */
const LEFT_AFTER_MS = 60 * 60_000;

/** Works in a folder of its own, which is removed afterwards. */
export async function inTemporaryFolder<T>(work: (folder: string) => Promise<T>): Promise<T> {
  const folder = await mkdtemp(join(tmpdir(), `understudy-${process.pid}-`));
  try {
    return await work(folder);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Removes the folders of processes that were killed before they could. */
export async function removeLeftFolders(): Promise<void> {
  for (const name of await readdir(tmpdir())) {
    const [, pid] = NAME.exec(name) ?? [];
    if (pid === undefined || isRunning(Number(pid))) continue;
    const folder = join(tmpdir(), name);
    const { mtimeMs } = await stat(folder).catch(() => ({ mtimeMs: Infinity }));
    if (Date.now() - mtimeMs > LEFT_AFTER_MS) await rm(folder, { recursive: true, force: true });
  }
}

function isRunning(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    // The process exists but belongs to another user.
    return error instanceof Error && 'code' in error && error.code === 'EPERM';
  }
}
