import type { PageReader } from './pageReader.ts';
import type { PageMap } from '#core/contract/pageMap.ts';
import type { MapCheck } from '#core/contract/pageMapCalls.ts';
import type { Services } from '../services/services.ts';
import { CallOutError, readPage } from '../http/callOut.ts';
import { enqueueNotifications } from '../messages/outbox.ts';
import { shopFacts, theShop } from '../shopData/currentShop.ts';
import type { PageDrawer } from './pageDrawer.ts';
import { keepCheck, liveMap, missesSeen } from './pageMapQueries.ts';

const QUEUE = 'page-map-check';
const NIGHTLY = '0 3 * * *';
/** Least interval between checks started by shoppers' reports. */
const AFTER_MISSES_S = 900;
/** Number of browsers that must miss a part before the owner is notified: one may be odd, or lie. */
const MISSED_BY = 5;

/** Services for reading the shop's pages, besides the common ones. */
export interface PageMapServices {
  readonly pageReader: PageReader;
  /** Starts the drawing thread for one check. */
  readonly startDrawer: () => PageDrawer;
}
type Needs = Pick<Services, 'db' | 'clock' | 'config' | 'jobs'> & PageMapServices;
type Broken = MapCheck['broken'];
type Checked = MapCheck['pages'][number];

/** Maximum number of pages read at the same time. Drawing takes them one by one. */
const AT_ONCE = 4;

/** Draws a map's pages, or reads them as sent, and reports what it finds; null if the map names none. */
export async function check(
  { clock, config, pageReader, startDrawer }: Pick<Needs, 'clock' | 'config' | 'pageReader' | 'startDrawer'>,
  map: PageMap,
  baseline: MapCheck | null,
): Promise<MapCheck | null> {
  const { site, pages = [] } = map;
  if (site === undefined || pages.length === 0) return null;
  const at = new Date(clock()).toISOString();
  const drawer = startDrawer();
  const checkPage = async (path: string): Promise<Checked> => {
    const address = new URL(path, site);
    try {
      const sent = await readPage(address, config.privateHosts);
      const drawn = await drawer.draw(address, sent);
      const html = drawn && 'html' in drawn ? drawn.html : null;
      const lines = await pageReader.read({ html: html ?? sent, path: address.pathname, map });
      const notDrawn = drawn && 'notDrawn' in drawn ? { notDrawn: drawn.notDrawn } : {};
      return { path, problem: null, isDrawn: html !== null, ...notDrawn, lines };
    } catch (error) {
      if (!(error instanceof CallOutError)) throw error;
      return { path, problem: error.code, lines: [] };
    }
  };
  const checked: Checked[] = [];
  try {
    for (let from = 0; from < pages.length; from += AT_ONCE)
      checked.push(...(await Promise.all(pages.slice(from, from + AT_ONCE).map(checkPage))));
  } finally {
    await drawer.close();
  }
  return { at, pages: checked, broken: baseline ? gone(baseline.pages, checked) : [] };
}

/** Finds parts that were found before and are missing now. */
function gone(before: MapCheck['pages'], now: MapCheck['pages']): Broken {
  return before.flatMap(({ path, problem, isDrawn, lines }): Broken => {
    const page = now.find((candidate) => candidate.path === path);
    if (problem !== null || !page) return [];
    if (page.problem !== null) return [{ path, part: null, seenBy: 'check' }];
    // Parts drawn by scripts are not missing if no browser drew the page.
    if (isDrawn === true && page.isDrawn !== true) return [];
    return lines
      .filter(
        ({ part, found }) =>
          found > 0 && part !== 'otherMoney' && page.lines.some((line) => line.part === part && line.found === 0),
      )
      .map(({ part }) => ({ path, part, seenBy: 'check' }));
  });
}

/** Checks the live map, keeps the result, and notifies the owner once of a broken part. */
export async function checkLive(services: Needs): Promise<void> {
  const { db, clock, config } = services;
  const live = await liveMap(db);
  if (!live) return;
  const at = new Date(clock());
  const found = await check(services, live.map, live.baseline);
  const missed = await missesSeen(db, { browsers: MISSED_BY, at });
  const broken = [
    ...(found?.broken ?? []),
    ...missed
      .filter(({ path, part }) => !found?.broken.some((other) => other.path === path && other.part === part))
      .map((miss) => ({ ...miss, seenBy: 'shoppers' as const })),
  ];
  const newest = { at: at.toISOString(), pages: found?.pages ?? [], broken };
  // Notifies once, and again only after a recovery.
  const isNews = broken.length > 0 && live.notifiedAt === null;
  const notifiedAt = broken.length === 0 ? null : (live.notifiedAt ?? at);
  await db.transaction(async (client) => {
    await keepCheck(client, live.id, { check: newest, baseline: found, notifiedAt });
    if (!isNews) return;
    const values = { parts: partsIn(broken), link: `${config.publicUrl}/connection` };
    const notification = { event: 'pageMap.broken' as const, locale: null, values };
    await enqueueNotifications(client, services, shopFacts(await theShop(client)), [notification]);
  });
}

const partsIn = (broken: Broken) =>
  broken.map(({ path, part }) => `${path} (${part ?? 'the page cannot be read'})`).join(', ');

/** Has the live map checked soon: a shopper's browser missed something. */
export const checkAfterMiss = ({ db, jobs }: Pick<Needs, 'db' | 'jobs'>): Promise<void> =>
  jobs.add(db, QUEUE, { singletonKey: 'miss', singletonSeconds: AFTER_MISSES_S, retryLimit: 2 });

/** Checks the live map every night, and when asked to, on whichever copy of the server is free. */
export async function workChecks(jobs: Services['jobs'], services: Omit<Needs, 'jobs'>): Promise<void> {
  await jobs.work(QUEUE, { schedule: { cron: NIGHTLY, retryLimit: 2 } }, () => checkLive({ ...services, jobs }));
}
