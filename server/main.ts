import { randomBytes } from 'node:crypto';
import { createServer } from 'node:http';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { pino } from 'pino';
import { createApp } from './app.ts';
import { readConfig } from './config.ts';
import { connect } from './db/database.ts';
import { startJobs } from './db/jobs.ts';
import { migrate } from './db/migrate.ts';
import { workImports } from './imports/importService.ts';
import { workMessages } from './messages/outbox.ts';
import { workChecks } from './pageMap/checkService.ts';
import { startAnalyst } from './rehearsal/analyst.ts';
import { startOpenings } from './rulebook/openings.ts';
import { startLive } from './rulebook/live.ts';
import { sessionSecret } from './session/staffQueries.ts';
import { workLapses } from './waitlists/lapsing.ts';
import { readShop } from './shop/shopQueries.ts';

const config = readConfig(process.env);
const log = pino({ level: config.logLevel });

await migrate(config.databaseUrl);
const db = connect(config.databaseUrl, log);
const live = await startLive(db, log);
const analyst = startAnalyst(fileURLToPath(new URL('./analyst.js', import.meta.url)), config.databaseUrl, log);
const clock = () => Date.now();
const openings = startOpenings({ db, live, clock, log });
await openings.arm();

const { jobs, stop: stopJobs } = await startJobs(config.databaseUrl, log);
await workImports(jobs, { db, clock });
await workChecks(jobs, { db, clock, config });
await workMessages(jobs, { db, clock, config });
const secret = await sessionSecret(db);
await workLapses(jobs, { db, clock, config, live, sessionSecret: secret });

const setupToken = config.setupToken ?? randomBytes(24).toString('base64url');
let stopping = false;
const app = createApp({
  db,
  live,
  analyst,
  openings,
  jobs,
  clock,
  log,
  config,
  setupToken,
  sessionSecret: secret,
  files: {
    embed: fileURLToPath(new URL('./embed.js', import.meta.url)),
    owner: fileURLToPath(new URL('./owner.js', import.meta.url)),
    serve: fileURLToPath(new URL('./serve.js', import.meta.url)),
    picker: fileURLToPath(new URL('./picker.js', import.meta.url)),
    web: fileURLToPath(new URL('./web', import.meta.url)),
  },
  ready: async () => {
    if (stopping) return false;
    return db.query('SELECT 1').then(
      () => true,
      () => false,
    );
  },
});

const server = createServer(app);
server.on('error', (error: NodeJS.ErrnoException) => {
  const taken = error.code === 'EADDRINUSE';
  log.fatal(taken ? `port ${config.port} is taken: set PORT to another` : error.message);
  process.exit(1);
});
server.listen(config.port, '127.0.0.1', () => {
  log.info({ url: config.publicUrl }, 'serving');
});
if (!(await readShop(db)) && config.setupToken === null) {
  // Not through the log: this is for the person who started the server.
  process.stdout.write(`Make the first owner here: ${config.publicUrl}/setup?token=${setupToken}\n`);
}

/** Ends what is under way, then everything else. */
async function stop(): Promise<void> {
  if (stopping) return;
  stopping = true;
  log.info('stopping');
  const closed = promisify(server.close.bind(server))();
  server.closeIdleConnections();
  await closed;
  await stopJobs();
  await openings.stop();
  await analyst.stop();
  await live.stop();
  await db.end();
}

for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.on(signal, () => {
    stop().then(
      () => process.exit(0),
      (error: unknown) => {
        log.error({ err: error }, 'could not stop cleanly');
        process.exit(1);
      },
    );
  });
}
