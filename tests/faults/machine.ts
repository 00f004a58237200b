import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { setTimeout } from 'node:timers/promises';
import { childrenOf } from '../support/memory.ts';
import { startUnderstudy, type Program } from '../support/programs.ts';

/** The database as its machine has it: it can be ended, and it can stand still. */
const { PG_DATA = '', PG_CTL = '' } = process.env;

const control = (...args: string[]) => {
  const command = [PG_CTL, '-D', PG_DATA, '-w', ...args];
  const [file = '', ...rest] = process.getuid?.() === 0 ? ['runuser', '-u', 'postgres', '--', ...command] : command;
  execFileSync(file, rest, { stdio: 'ignore', cwd: '/' });
};

/** Ends it as a crash does, and starts it again. */
export async function crashDatabase(): Promise<void> {
  const settings = readFileSync(`${PG_DATA}/postmaster.opts`, 'utf8')
    .trim()
    .split(/\s+/)
    .slice(1)
    .join(' ')
    .replaceAll('"', '');
  control('-m', 'immediate', 'stop');
  await setTimeout(3000);
  control('-o', settings.replace(/-D \S+ ?/, ''), '-l', `${PG_DATA}/log`, 'start');
}

/** Has all of it stand still for a while. */
export async function freezeDatabase(ms: number): Promise<void> {
  const postmaster = Number(readFileSync(`${PG_DATA}/postmaster.pid`, 'utf8').split('\n')[0]);
  const all = [postmaster, ...childrenOf(postmaster)];
  const signal = (name: NodeJS.Signals) => {
    for (const pid of all) {
      try {
        process.kill(pid, name);
      } catch {
        // A backend that has ended meanwhile.
      }
    }
  };
  signal('SIGSTOP');
  await setTimeout(ms);
  signal('SIGCONT');
}

/** Time after a start in which late answers are counted separately, because the server's caches are empty. */
const STARTING_MS = 5000;

/** A server that is started again whenever it was killed, as whoever runs it does. */
export class Server {
  private program: Program | null = null;
  /** Epoch ms. */
  private backSince = 0;

  constructor(
    private readonly databaseUrl: string,
    private readonly env: Record<string, string>,
  ) {}

  /** Null while it is not there. */
  get url(): string | null {
    return this.program?.url ?? null;
  }

  /** Whether it was away, or stood still, at any time since. */
  wasAway(since: number): boolean {
    return this.program === null || this.backSince > since;
  }

  isStarting(at: number): boolean {
    return at < this.backSince + STARTING_MS;
  }

  async start(): Promise<void> {
    this.program = await startUnderstudy(this.databaseUrl, { ...this.env, LOG_LEVEL: 'info' });
    this.backSince = Date.now();
  }

  async kill(awayMs: number): Promise<void> {
    const { program } = this;
    this.program = null;
    await program?.stop('SIGKILL');
    await setTimeout(awayMs);
    await this.start();
  }

  /** Its process stands still, while clocks go on: for whatever waits in it, the time jumps. */
  async suspend(ms: number): Promise<void> {
    const { program } = this;
    if (!program) return;
    this.program = null;
    process.kill(program.pid, 'SIGSTOP');
    await setTimeout(ms);
    process.kill(program.pid, 'SIGCONT');
    this.program = program;
    this.backSince = Date.now();
  }

  get pid(): number | null {
    return this.program?.pid ?? null;
  }

  async stop(): Promise<void> {
    await this.program?.stop();
  }
}
