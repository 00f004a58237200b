import type { Logger } from 'pino';
import type { Config } from '../config/config.ts';
import type { Database } from '../db/database.ts';
import type { Jobs } from '../db/jobs.ts';
import type { BulkReading } from '../db/readReplica.ts';
import type { Links } from '../http/links.ts';
import type { Live } from './live.ts';

/** Services common to all features. The clock is injected, in epoch milliseconds. */
export interface Services {
  /** Pool for the owner's calls; shoppers' calls have their own. */
  readonly db: Database;
  readonly shopperDb: Database;
  readonly orderDb: Database;
  readonly bulk: BulkReading;
  readonly links: Links;
  readonly live: Live;
  readonly jobs: Jobs;
  readonly clock: () => number;
  readonly log: Logger;
  readonly config: Config;
  readonly setupToken: string;
  /** Signs the owner's sessions' cookies. */
  readonly sessionSecret: string;
  /** Paths of the built files: the storefront script, its modules, the picker, and the folder of the owner's application. */
  readonly files: Record<'embed' | 'owner' | 'dialogs' | 'later' | 'fitting' | 'picker' | 'web', string>;
  /** When the database last answered, epoch ms, while it cannot be asked; null while it answers. */
  readonly outageSince: () => number | null;
  /** Whether the server can serve. */
  readonly ready: () => Promise<boolean>;
}

/** Services for background work. */
export type JobServices = Pick<Services, 'db' | 'clock' | 'jobs' | 'live' | 'config' | 'links'>;
