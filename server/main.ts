import cluster from 'node:cluster';
import { randomBytes } from 'node:crypto';
import { fileURLToPath } from 'node:url';
import { pino } from 'pino';
import { readConfig } from './config/config.ts';
import { connect, POOLS } from './db/database.ts';
import { migrate } from './db/migrate.ts';
import { readShop } from './shopData/shopQueries.ts';
import { serveByProcesses } from './processes.ts';
import { startServer } from './start.ts';
import { removeLeftFolders } from './config/temporaryFolder.ts';
import { warmUp } from './warmUp.ts';

/** Shutdown gives up waiting after this long. */
const LONGEST_STOP_MS = 9500;

const config = readConfig(process.env);
const log = pino({ level: config.logLevel });
await migrate(config.databaseUrl);

const setupToken = config.setupToken ?? randomBytes(24).toString('base64url');
if (config.webProcesses > 1 && cluster.isPrimary) {
  serveByProcesses(config.webProcesses, { UNDERSTUDY_SETUP_TOKEN: setupToken }, log);
  cluster.once('listening', () => void greet());
} else {
  await serve();
  await greet();
}

/** Tells the person who started the server, and not through the log, how the first owner is made. */
async function greet(): Promise<void> {
  if (config.setupToken !== null) return;
  const db = connect(config.databaseUrl, log, POOLS.thread);
  const shop = await readShop(db);
  await db.end();
  if (!shop) process.stdout.write(`Make the first owner here: ${config.publicUrl}/setup?token=${setupToken}\n`);
}

async function serve(): Promise<void> {
  await removeLeftFolders().catch((error: unknown) => {
    log.warn({ err: error }, 'what a killed server left could not be removed');
  });
  const built = (name: string) => fileURLToPath(new URL(`./${name}`, import.meta.url));
  const running = await startServer({
    config,
    log,
    clock: () => Date.now(),
    setupToken,
    files: {
      embed: built('embed.js'),
      owner: built('owner.js'),
      dialogs: built('dialogs.js'),
      later: built('later.js'),
      fitting: built('fitting.js'),
      picker: built('picker.js'),
      web: built('web'),
      analyst: built('analyst.js'),
      importer: built('importer.js'),
      pageReader: built('pageReader.js'),
      pageDrawer: built('pageDrawer.js'),
    },
  });

  const { server, services } = running;
  await warmUp(services).catch((error: unknown) => {
    log.warn({ err: error }, 'the start is slower than it could be');
  });
  server.on('error', (error: NodeJS.ErrnoException) => {
    const taken = error.code === 'EADDRINUSE';
    log.fatal(taken ? `port ${config.port} is taken: set PORT to another` : error.message);
    process.exit(1);
  });
  server.listen(config.port, config.bind, () => {
    log.info({ url: config.publicUrl }, 'serving');
  });

  // Its starter sends a signal, or has ended (`bin/launch.mjs`).
  for (const end of ['SIGINT', 'SIGTERM', 'disconnect'] as const) {
    process.on(end, () => {
      log.info('stopping');
      setTimeout(() => {
        log.error('the stop took too long');
        process.exit(1);
      }, LONGEST_STOP_MS).unref();
      running.stop().then(
        () => process.exit(0),
        (error: unknown) => {
          log.error({ err: error }, 'could not stop cleanly');
          process.exit(1);
        },
      );
    });
  }
}
