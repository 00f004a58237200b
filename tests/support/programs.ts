import { spawn, type ChildProcess } from 'node:child_process';
import { createServer } from 'node:net';

/** The programs that the build made, run as they are run for real. */
const DIST = 'dist';
export const SETUP_TOKEN = 'one-time-link-of-the-browser-tests';
/** Lets tests act as the owner's own programs do. */
export const OWNER_KEY = 'key-of-the-browser-tests';

export interface Program {
  readonly url: string;
  readonly pid: number;
  readonly isRunning: () => boolean;
  /** @returns its exit code, null where a signal ended it */
  readonly stop: (signal?: NodeJS.Signals) => Promise<number | null>;
}

/** Below those that systems give to connections going out (RFC 6056), which could take a port before a program has it. */
const PORTS = { from: 10_000, count: 20_000 };
let next = (process.pid * 61) % PORTS.count;

/** A port that nothing listens on; each process that tests begins at one of its own. */
export async function freePort(): Promise<number> {
  for (;;) {
    next = (next + 1) % PORTS.count;
    const port = PORTS.from + next;
    const probe = createServer();
    const isFree = await new Promise<boolean>((resolve) => {
      probe.once('error', () => {
        resolve(false);
      });
      probe.listen(port, '127.0.0.1', () => {
        resolve(true);
      });
    });
    if (!isFree) continue;
    await new Promise((resolve) => probe.close(resolve));
    return port;
  }
}

/** Log output of each running program by process id, attached to tests that fail. */
const logs = new Map<number, string>();
/** Longest log kept of a program, in characters. */
const LONGEST_LOG = 1_000_000;

/** Returns and clears the log output collected since the last call. */
export function takeLogs(): string {
  const all = [...logs].filter(([, log]) => log !== '').map(([pid, log]) => `— process ${pid}\n${log}`);
  logs.clear();
  return all.join('\n');
}

function run(file: string, env: Readonly<Record<string, string>>): ChildProcess {
  const child = spawn(process.execPath, [`${DIST}/${file}`], {
    env: { ...process.env, LOG_LEVEL: 'info', ...env },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const { pid = 0 } = child;
  child.stdout.on('data', (chunk: Buffer) => {
    logs.set(pid, ((logs.get(pid) ?? '') + chunk.toString()).slice(-LONGEST_LOG));
  });
  return child;
}

const ended = (child: ChildProcess) =>
  new Promise<number | null>((resolve) => {
    if (child.exitCode !== null || child.signalCode !== null) resolve(child.exitCode);
    else child.once('exit', resolve);
  });

/** Waits until a program says that it serves. */
function serves(child: ChildProcess): Promise<void> {
  return new Promise((resolve, reject) => {
    child.stdout?.on('data', (chunk: Buffer) => {
      if (chunk.toString().includes('serving')) resolve();
    });
    child.once('exit', (code) => {
      reject(new Error(`a program ended with ${code} before it served`));
    });
  });
}

async function start(file: string, env: (port: number) => Record<string, string>): Promise<Program> {
  const port = await freePort();
  const child = run(file, env(port));
  await serves(child);
  return {
    url: `http://127.0.0.1:${port}`,
    pid: child.pid ?? 0,
    isRunning: () => child.exitCode === null && child.signalCode === null && !child.killed,
    stop: async (signal = 'SIGTERM') => {
      child.kill(signal);
      return ended(child);
    },
  };
}

export const startUnderstudy = (databaseUrl: string, env: Record<string, string> = {}) =>
  start('server/main.js', (port) => ({
    DATABASE_URL: databaseUrl,
    PORT: String(port),
    UNDERSTUDY_SETUP_TOKEN: SETUP_TOKEN,
    UNDERSTUDY_OWNER_KEY: OWNER_KEY,
    ...env,
  }));

/** The sample shop's ways of writing its pages. */
export const DRESSINGS = ['forms', 'script', 'elements'] as const;
export type Dressing = (typeof DRESSINGS)[number];

export const startSampleShop = (
  understudyUrl: string,
  data: string,
  { dressing = 'forms', payments = '' }: { dressing?: Dressing; payments?: string } = {},
) =>
  start('shop/main.js', (port) => ({
    PAYMENT_URL: payments,
    SHOP_DRESSING: dressing,
    SHOP_PORT: String(port),
    SHOP_DATA: data,
    UNDERSTUDY_URL: understudyUrl,
  }));

export interface Simulators extends Program {
  /** Address of the mail server. */
  readonly smtpUrl: string;
}

export async function startSimulators(): Promise<Simulators> {
  const smtpPort = await freePort();
  const program = await start('simulators/main.js', (port) => ({
    SIMULATORS_PORT: String(port),
    SIMULATORS_SMTP_PORT: String(smtpPort),
  }));
  return { ...program, smtpUrl: `smtp://127.0.0.1:${smtpPort}` };
}

/** Fills the demo in. */
export async function seed(understudyUrl: string, data: string): Promise<void> {
  const child = run('demo/seed.js', {
    UNDERSTUDY_URL: understudyUrl,
    UNDERSTUDY_SETUP_TOKEN: SETUP_TOKEN,
    DEMO_DATA: data,
  });
  const code = await ended(child);
  if (code !== 0) throw new Error(`the seeding ended with ${code}`);
}
