import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { request } from 'node:http';
import { createServer, type AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { cloneDatabase } from '../support/databases.ts';
import { childrenOf, memoryOf, watchMemory } from '../support/memory.ts';
import { OWNER_KEY as KEY, SETUP_TOKEN, startUnderstudy, type Program } from '../support/programs.ts';
import { sampled } from '../support/sampling.ts';
import { OWNER, SHOP } from '../support/testServer.ts';

/** Memory of the real processes, and what happens when one ends. */

const MB = 1_000_000;
const call = (program: Program, method: string, path: string, body?: string, type = 'application/json') =>
  fetch(program.url + path, {
    method,
    headers: { Authorization: `Bearer ${KEY}`, 'Content-Type': type, 'If-Match': '*' },
    ...(body === undefined ? {} : { body }),
  });

describe('the memory of a server', () => {
  let program: Program;
  beforeAll(async () => {
    program = await startUnderstudy(await cloneDatabase());
    const setup = { token: SETUP_TOKEN, shop: SHOP, owner: OWNER };
    await call(program, 'POST', '/api/setup', JSON.stringify(setup));
  });
  afterAll(() => program.stop());

  /** Sends as much as is taken, and then hangs up. */
  const pour = (method: string, path: string, megabytes: number, headers: Record<string, string> = {}) =>
    new Promise<number>((resolve) => {
      const { hostname, port } = new URL(program.url);
      const sent = request({
        hostname,
        port,
        method,
        path,
        agent: false,
        headers: { 'Content-Type': 'application/json', 'Content-Length': String(megabytes * MB), ...headers },
      });
      const chunk = Buffer.alloc(MB, 0x20);
      let left = megabytes;
      const write = () => {
        while (left > 0) {
          left -= 1;
          if (!sent.write(chunk)) {
            sent.once('drain', write);
            return;
          }
        }
        sent.end();
      };
      sent.once('response', (answer) => {
        answer.resume();
        resolve(answer.statusCode ?? 0);
        sent.destroy();
      });
      sent.on('error', () => {
        resolve(0);
      });
      write();
    });

  it('is raised by less than 50 MB by the largest bodies that strangers can send', async () => {
    // Baseline after the first answer.
    for (let times = 0; times < 50; times += 1) await (await call(program, 'GET', '/api/session')).text();
    for (let times = 0; times < 20; times += 1) await pour('POST', '/v1/quotes', 1);
    const before = memoryOf(program.pid);
    const most = watchMemory(program.pid);
    const calls = [
      '/api/catalog/import',
      '/api/rulebook',
      '/api/people/import',
      '/v1/preorders',
      '/v1/decisions',
      '/v1/quotes',
    ];
    for (let round = 0; round < 3; round += 1) {
      const answers = await Promise.all(
        calls.flatMap((path) =>
          [128, 32, 8].map((size) => pour(path.endsWith('rulebook') ? 'PUT' : 'POST', path, size)),
        ),
      );
      for (const status of answers) expect([0, 401, 413, 415, 429]).toContain(status);
    }
    expect(most() - before).toBeLessThan(50 * MB);
    expect((await call(program, 'GET', '/health')).status).toBe(200);
  });

  it('stays flat while a long file comes in, and shoppers are answered', async () => {
    const header = 'variant_id,product_id,path,title,tags,price';
    const row = (n: number) => `v-${n},p-${n >> 2},/plants/p-${n >> 2},Plant ${n >> 2},tag-${n % 90}|rare,${n % 90}.00`;
    const file = [header, ...Array.from({ length: sampled(40_000, 2) }, (_, n) => row(n))].join('\n');
    const most = watchMemory(program.pid);
    const answer = await call(program, 'POST', '/api/catalog/import', file, 'text/csv');
    expect(answer.status).toBe(202);
    const { id } = (await answer.json()) as { id: string };
    const state = async () =>
      ((await (await call(program, 'GET', `/api/jobs/${id}`)).json()) as { state: string }).state;
    const isDone = async () => {
      const decisions = await fetch(`${program.url}/v1/decisions?surface=product&id=p-1`);
      expect(decisions.status).toBe(200);
      return (await state()) === 'done';
    };
    await expect.poll(isDone, { interval: 100 }).toBe(true);
    // A busy machine collects later what is done with.
    expect(most()).toBeLessThan(450 * MB);
  });
});

/** Ports that nobody has, by the variables that name them. */
async function freePorts(): Promise<Record<'PORT' | 'SHOP_PORT' | 'SIMULATORS_PORT' | 'SIMULATORS_SMTP_PORT', string>> {
  const free = async () => {
    const probe = createServer().listen(0, '127.0.0.1');
    await new Promise((resolve) => probe.once('listening', resolve));
    const { port } = probe.address() as AddressInfo;
    await new Promise((resolve) => probe.close(resolve));
    return String(port);
  };
  const [PORT, SHOP_PORT, SIMULATORS_PORT, SIMULATORS_SMTP_PORT] = [
    await free(),
    await free(),
    await free(),
    await free(),
  ];
  return { PORT, SHOP_PORT, SIMULATORS_PORT, SIMULATORS_SMTP_PORT };
}

/** Starts the application without the demo, by one of the programs in bin/; it is up once this has resolved. */
async function begun(command: string, args: readonly string[]) {
  const ports = await freePorts();
  const child = spawn(command, args, {
    env: { ...process.env, DATABASE_URL: await cloneDatabase(), UNDERSTUDY_BARE: '1', LOG_LEVEL: 'silent', ...ports },
    stdio: ['ignore', 'pipe', 'ignore'],
  });
  await new Promise<void>((resolve) => {
    child.stdout.on('data', (chunk: Buffer) => {
      if (chunk.toString().includes('Ctrl-C')) resolve();
    });
  });
  const isReady = async () => (await fetch(`http://127.0.0.1:${ports.PORT}/ready`).catch(() => null))?.status ?? 0;
  return { child, pid: child.pid ?? 0, isReady };
}

const descendantsOf = (pid: number): number[] => childrenOf(pid).flatMap((child) => [child, ...descendantsOf(child)]);

describe('a program that dies', () => {
  it('is started again by the start, and the others go on', async () => {
    const { child: launcher, pid, isReady } = await begun(process.execPath, ['bin/launch.mjs']);
    const running = () =>
      childrenOf(pid).find((child) => readFileSync(`/proc/${child}/cmdline`, 'utf8').includes('server/main.js'));
    try {
      for (let death = 0; death < 2; death += 1) {
        const before = running();
        expect(before).toBeDefined();
        process.kill(before ?? 0, 'SIGKILL');
        await expect.poll(running).not.toBe(before);
        await expect.poll(isReady).toBe(200);
        expect(launcher.exitCode).toBeNull();
      }
    } finally {
      const ended = launcher.exitCode === null ? once(launcher, 'exit') : null;
      launcher.kill('SIGTERM');
      await ended;
    }
    expect(await isReady()).toBe(0);
  });
});

describe('a start that is killed', () => {
  it.each([
    ['bin/start', 'bin/start', ['--bare']],
    ['its launcher', process.execPath, ['bin/launch.mjs']],
  ])('leaves nothing behind: %s', async (_name, command, args) => {
    const { pid, isReady } = await begun(command, args);
    const all = descendantsOf(pid);
    expect(all.length).toBeGreaterThan(0);
    process.kill(pid, 'SIGKILL');
    await expect.poll(() => all.filter((one) => isRunning(one))).toEqual([]);
    expect(await isReady()).toBe(0);
  });
});

/** Whether there is such a process, and it is not a dead one that nobody has asked after. */
function isRunning(pid: number): boolean {
  try {
    return !/^State:\s+Z/m.test(readFileSync(`/proc/${pid}/status`, 'utf8'));
  } catch {
    return false;
  }
}

describe('copies of the server', () => {
  it('that start at the same time on one database wait for each other, and all serve', async () => {
    const url = await cloneDatabase('template0');
    const programs = await Promise.all([startUnderstudy(url), startUnderstudy(url), startUnderstudy(url)]);
    for (const program of programs) {
      expect((await fetch(`${program.url}/ready`)).status).toBe(200);
      await program.stop();
    }
  });
});

describe('a server of several processes', () => {
  it('goes on when one of them is killed, has another soon, and leaves none behind', { timeout: 60_000 }, async () => {
    const program = await startUnderstudy(await cloneDatabase(), { WEB_PROCESSES: '2' });
    const isAnswered = async () => (await fetch(`${program.url}/ready`)).status === 200;
    const workers = () => childrenOf(program.pid);
    await expect.poll(isAnswered).toBe(true);
    const [first = 0, second = 0] = workers();
    expect(second).not.toBe(0);
    process.kill(first, 'SIGKILL');
    await expect.poll(() => workers().filter((pid) => pid !== first).length).toBe(2);
    for (let times = 0; times < 20; times += 1) expect(await isAnswered()).toBe(true);
    const left = workers();
    await program.stop();
    for (const pid of left) expect(() => process.kill(pid, 0)).toThrow('ESRCH');
  });
});
