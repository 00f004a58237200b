import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, describe, expect, it } from 'vitest';
import { inTemporaryFolder, removeLeftFolders } from './temporaryFolder.ts';

const made: string[] = [];
afterEach(() => {
  for (const folder of made.splice(0)) rmSync(folder, { recursive: true, force: true });
});
const folderOf = (pid: number, { hours }: { hours: number }) => {
  const folder = join(tmpdir(), `understudy-${pid}-test`);
  made.push(folder);
  mkdirSync(folder);
  writeFileSync(join(folder, 'file'), 'left');
  const at = Date.now() / 1000 - hours * 3600;
  utimesSync(folder, at, at);
  return folder;
};
/** A process that has ended. */
const ended = () => spawnSync(process.execPath, ['-e', '']).pid;

describe('a temporary folder', () => {
  it('is gone when the work in it is done, or fails', async () => {
    let folder = '';
    const work = inTemporaryFolder((made) => {
      folder = made;
      expect(existsSync(folder)).toBe(true);
      return Promise.reject(new Error('stopped'));
    });
    await expect(work).rejects.toThrow('stopped');
    expect(existsSync(folder)).toBe(false);
  });

  it('of a process that was killed is removed by the next, those in use are not', async () => {
    const left = folderOf(ended(), { hours: 2 });
    const fresh = folderOf(ended(), { hours: 0 });
    const ours = folderOf(process.pid, { hours: 2 });
    await removeLeftFolders();
    expect([left, fresh, ours].map((folder) => existsSync(folder))).toEqual([false, true, true]);
  });
});
