import { workStaffLetters } from './session/staffLetters.ts';
import { createServer, type Server } from 'node:http';
import { setTimeout } from 'node:timers/promises';
import { promisify } from 'node:util';
import type { Logger } from 'pino';
import { createApp } from './app.ts';
import type { Config } from './config/config.ts';
import { heldProducts } from './catalog/productCache.ts';
import { connect, POOLS, type PoolSettings } from './db/database.ts';
import { Jobs } from './db/jobs.ts';
import { readInBulk } from './db/readReplica.ts';
import { workFactChanges } from './products/ownFacts.ts';
import { FeedFetcher, workFeeds } from './imports/feeds.ts';
import { makeRoomForCounts } from './insights/countService.ts';
import { workSweeps } from './sweep.ts';
import { watchDatabase } from './db/watch.ts';
import { Links } from './http/links.ts';
import { startImporter } from './imports/importer.ts';
import { watchImports } from './imports/importService.ts';
import { workMessages } from './messages/outbox.ts';
import { startDrawer } from './pageMap/pageDrawer.ts';
import { startPageReader } from './pageMap/pageReader.ts';
import { workChecks } from './pageMap/checkService.ts';
import { startAnalyst } from './rehearsal/analyst.ts';
import { preorderStatuses } from './preorders/preorderStatuses.ts';
import { quoteStatuses } from './quotes/quoteStatuses.ts';
import { waitlistStatuses } from './waitlists/waitlistStatuses.ts';
import { heldVisitors } from './visitors/visitorCache.ts';
import { startOpenings } from './rulebook/openings.ts';
import { startLive } from './services/live.ts';
import type { AllServices } from './allServices.ts';
import { sessionSecret } from './session/staffQueries.ts';
import { workExpiry } from './expiry.ts';

/** Readers of a visitor's earlier actions. */
const STATUS_READERS = [preorderStatuses, waitlistStatuses, quoteStatuses];

/** Everything that a server is made of. */
export interface Parts {
  readonly config: Config;
  readonly log: Logger;
  /** Epoch ms. */
  readonly clock: () => number;
  readonly setupToken: string;
  /** Served files, and the programs of the threads. */
  readonly files: AllServices['files'] & Record<'analyst' | 'importer' | 'pageReader' | 'pageDrawer', string>;
  /** Sizes and timeouts of the pools; defaults if missing. */
  readonly pools?: Readonly<Record<'owner' | 'shopper' | 'order', PoolSettings>>;
  readonly jobConnections?: number;
  /** Intervals of the search for due openings and abandoned imports, in ms. */
  readonly lookEveryMs?: { readonly openings?: number; readonly imports?: number };
}

export interface Running {
  readonly services: AllServices;
  readonly server: Server;
  /** Ends requests and jobs, then everything else, within ten seconds. */
  readonly stop: () => Promise<void>;
}

/** Time for requests, and for jobs, to end when the server stops. */
const ENDING_MS = 4000;

/** Starts a server on a migrated database; it is not listening yet. */
export async function startServer(parts: Parts): Promise<Running> {
  const { config, log, clock, setupToken, files, pools = POOLS, lookEveryMs = {} } = parts;
  const { databaseUrl } = config;
  const watch = await watchDatabase(databaseUrl, log, clock);
  const db = connect(databaseUrl, log, pools.owner, watch);
  const shopperDb = connect(databaseUrl, log, pools.shopper, watch);
  const orderDb = connect(databaseUrl, log, pools.order, watch);
  const bulk = readInBulk(db, config.readUrl, log);
  const live = await startLive(db, watch, log);
  const links = new Links(() => live.current().linkKeys, clock);
  const openings = startOpenings({ db, live, clock, log, everyMs: lookEveryMs.openings });
  /** Pages go on while the database cannot be asked, unless another edition should be live by now. */
  const isKeptInOutage = () => {
    const since = watch.outageSince();
    return since !== null && clock() - since < live.current().outageMs && !openings.isDue();
  };
  const catalog = await heldProducts(shopperDb, watch, isKeptInOutage);
  const people = { db: shopperDb, links, live, clock, config };
  const visitors = await heldVisitors(people, watch, STATUS_READERS, isKeptInOutage);
  const analyst = startAnalyst(files.analyst, config, () => live.current().sellers, log);
  const pageReader = startPageReader(files.pageReader);
  const drawPages = () => startDrawer(files.pageDrawer, config);
  const importer = startImporter(files.importer, databaseUrl, log);
  const imports = watchImports(db, importer, log, lookEveryMs.imports);
  await openings.arm();
  const jobs = await Jobs.start(databaseUrl, log, watch, parts.jobConnections);
  await workChecks(jobs, { db, clock, config, pageReader, startDrawer: drawPages });
  await workMessages(jobs, { db, clock, config });
  await workExpiry(jobs, { db, clock, config, live, links });
  await makeRoomForCounts({ db, clock });
  await workSweeps(jobs, { db, clock, config, live, links, analyst });
  const feeds = new FeedFetcher({ db, clock, config, importer, imports });
  await workFeeds(jobs, feeds);
  await workFactChanges(jobs, { db });
  await workStaffLetters(jobs, { db, clock, config, links });

  let isStopping = false;
  const services: AllServices = {
    db,
    shopperDb,
    orderDb,
    bulk,
    ...catalog,
    ...visitors,
    outageSince: () => watch.outageSince(),
    links,
    live,
    analyst,
    importer,
    imports,
    feeds,
    pageReader,
    startDrawer: drawPages,
    openings,
    jobs,
    clock,
    log,
    config,
    setupToken,
    sessionSecret: await sessionSecret(db),
    files,
    ready: async () => {
      if (isStopping) return false;
      const answer = shopperDb.query('SELECT 1').then(
        () => true,
        () => false,
      );
      return Promise.race([answer, setTimeout(READY_MS, false, { ref: false })]);
    },
  };
  const server = createServer({ keepAliveTimeout: KEPT_MS }, createApp(services));
  return {
    services,
    server,
    stop: async () => {
      if (isStopping) return;
      isStopping = true;
      await closed(server);
      await jobs.stop(ENDING_MS);
      await openings.stop();
      await imports.stop();
      await analyst.stop();
      await live.stop();
      await watch.stop();
      await Promise.all([db.end(), shopperDb.end(), orderDb.end(), bulk.end()]);
    },
  };
}

/** A connection that a proxy keeps is closed by the proxy, which most do after 60 s: one that we close may be just in use. */
const KEPT_MS = 65_000;

/** Whether the server can serve is answered as soon. */
const READY_MS = 800;

/** Ends a server: requests under way are waited for, connections that do nothing are not, and none for long. */
async function closed(server: Server): Promise<void> {
  if (!server.listening) return;
  const closing = promisify(server.close.bind(server))();
  const isOver = new AbortController();
  void closing.finally(() => {
    isOver.abort();
  });
  for (const until = Date.now() + ENDING_MS; Date.now() < until && !isOver.signal.aborted;) {
    server.closeIdleConnections();
    await setTimeout(50, undefined, { signal: isOver.signal }).catch(() => undefined);
  }
  server.closeAllConnections();
  await closing;
}
