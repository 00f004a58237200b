import type PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import type { Config } from './config.ts';
import type { Database } from './db/database.ts';
import type { Analyst } from './rehearsal/analyst.ts';
import type { Live } from './rulebook/live.ts';
import type { Openings } from './rulebook/openings.ts';

/** What the features are built from. Time comes in from outside, in epoch milliseconds. */
export interface Services {
  readonly db: Database;
  readonly live: Live;
  readonly analyst: Analyst;
  readonly openings: Openings;
  readonly jobs: PgBoss;
  readonly clock: () => number;
  readonly log: Logger;
  readonly config: Config;
  readonly setupToken: string;
  readonly sessionSecret: string;
  /** Where what was built lies: the storefront script, what it loads when a stand-in is pressed, the picker, and the folder of the owner's application. */
  readonly files: Record<'embed' | 'owner' | 'serve' | 'picker' | 'web', string>;
  /** Whether the server can serve. */
  readonly ready: () => Promise<boolean>;
}
