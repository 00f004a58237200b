import type PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import type { Config } from './config.ts';
import type { Database } from './db/database.ts';
import type { Links } from './http/links.ts';
import type { Importer } from './imports/importer.ts';
import type { ImportWatch } from './imports/importWatch.ts';
import type { Analyst } from './rehearsal/analyst.ts';
import type { Live } from './rulebook/live.ts';
import type { PageReader } from './pageMap/pageReader.ts';
import type { Openings } from './rulebook/openings.ts';

/** What the features are built from. Time comes in from outside, in epoch milliseconds. */
export interface Services {
  /** For what the owner does; shoppers' calls have pools of their own. */
  readonly db: Database;
  readonly shopperDb: Database;
  readonly orderDb: Database;
  readonly links: Links;
  readonly live: Live;
  readonly analyst: Analyst;
  readonly importer: Importer;
  readonly imports: ImportWatch;
  readonly pageReader: PageReader;
  readonly openings: Openings;
  readonly jobs: PgBoss;
  readonly clock: () => number;
  readonly log: Logger;
  readonly config: Config;
  readonly setupToken: string;
  /** Signs the owner's sessions' cookies. */
  readonly sessionSecret: string;
  /** Where what was built lies: the storefront script, what it loads when a stand-in is pressed, the picker, and the folder of the owner's application. */
  readonly files: Record<'embed' | 'owner' | 'dialogs' | 'later' | 'picker' | 'web', string>;
  /** Whether the server can serve. */
  readonly ready: () => Promise<boolean>;
}
