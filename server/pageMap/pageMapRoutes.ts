import {
  checkPageMap,
  deletePageMapDraft,
  getPageMap,
  listPageMaps,
  getPicker,
  postPicker,
  publishPageMap,
  putPageMap,
  putPageMapDraft,
  restorePageMap,
  type MapVersion,
} from '#core/contract/pageMapCalls.ts';
import type { Queryable } from '../db/database.ts';
import { notFound, ProblemError } from '../http/errors.ts';
import { whoIs } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { PageMapServices } from './checkService.ts';
import type { Services } from '../services/services.ts';
import { theShop } from '../shopData/currentShop.ts';
import { check } from './checkService.ts';
import { isLinkUsed } from '../services/linkKeys.ts';
import { addressOf } from '../shopData/shopAddress.ts';
import { CallOutError, readPage } from '../http/callOut.ts';
import { refuseEndless } from './pathPatterns.ts';
import { PICKER_HASH } from './pickerRoutes.ts';
import { pickerToken } from './pickerToken.ts';
import {
  deleteDraftMap,
  draftMap,
  insertPublishedMap,
  keepCheck,
  liveMap,
  publishDraftMap,
  publishedMap,
  publishedMaps,
  writeDraftMap,
  type PageMapRow,
} from './pageMapQueries.ts';

const HISTORY = 50;

/** The page map's life: drafted, checked, published. */
export function pageMapRoutes(endpoints: Endpoints, services: Services & PageMapServices): void {
  const { db, live, clock, links } = services;
  const now = () => new Date(clock());

  /** Makes a change to the live map, and lets every copy of the server know. */
  const goLive = async (change: (client: Queryable) => Promise<void>) => {
    await theShop(db);
    await db.transaction(async (client) => {
      await change(client);
      await live.announce(client);
    });
    await live.refresh();
  };

  route(endpoints, getPageMap, async () => {
    const [draft, published] = await Promise.all([draftMap(db), liveMap(db)]);
    return reply(200, { live: published && versionOf(published), draft: draft && versionOf(draft) });
  });

  route(endpoints, putPageMap, async ({ body }, { request }) => {
    refuseEndless(body);
    await goLive((client) => insertPublishedMap(client, body, { at: now(), by: whoIs(request) }));
    return reply(204, undefined);
  });

  route(endpoints, putPageMapDraft, async ({ body }, { request }) => {
    refuseEndless(body);
    await theShop(db);
    await writeDraftMap(db, body, { at: now(), by: whoIs(request) });
    return reply(204, undefined);
  });

  route(endpoints, deletePageMapDraft, async () => {
    await deleteDraftMap(db);
    return reply(204, undefined);
  });

  route(endpoints, checkPageMap, async ({ query: { of } }) => {
    const row = of === 'draft' ? await draftMap(db) : await liveMap(db);
    if (!row) throw noMap(of);
    const found = await check(services, row.map, row.baseline);
    if (!found) throw noPages();
    await keepCheck(db, row.id, {
      check: found,
      baseline: row.publishedAt === null ? null : found,
      notifiedAt: found.broken.length === 0 ? null : row.notifiedAt,
    });
    return reply(200, found);
  });

  route(endpoints, publishPageMap, async () => {
    const draft = await draftMap(db);
    if (!draft) throw noMap('draft');
    const found = await check(services, draft.map, null);
    await goLive(async (client) => {
      if (!(await publishDraftMap(client, draft.id, { at: now(), check: found }))) throw noMap('draft');
    });
    return reply(200, found);
  });

  route(endpoints, listPageMaps, async () => reply(200, (await publishedMaps(db, HISTORY)).map(versionOf)));

  route(endpoints, restorePageMap, async ({ params: { id } }, { request }) => {
    const row = await publishedMap(db, id);
    if (!row) throw notFound(`page map ${id}`);
    await writeDraftMap(db, row.map, { at: now(), by: whoIs(request) });
    return reply(204, undefined);
  });

  route(endpoints, postPicker, async ({ body: { page } }, { request }) => {
    const [draft, published] = await Promise.all([draftMap(db), liveMap(db)]);
    const address = addressOf(page, draft?.map ?? published?.map);
    const { token, until, id } = await pickerToken(links, { by: whoIs(request), now: clock() });
    address.hash = `${PICKER_HASH}=${token}`;
    return reply(200, { address: address.href, until: until.toISOString(), id }, { 'Cache-Control': 'no-store' });
  });

  route(endpoints, getPicker, async ({ params: { id }, query: { page } }) => {
    const hasStarted = await isLinkUsed(db, id);
    const problem = hasStarted || page === undefined ? null : await whyNotStarted(page, services.config);
    return reply(200, { hasStarted, problem }, { 'Cache-Control': 'no-store' });
  });
}

/** Why no picker starts on a page, as far as the page itself says. */
async function whyNotStarted(page: string, { publicUrl, privateHosts }: Services['config']): Promise<string> {
  try {
    const html = await readPage(addressOf(page, undefined), privateHosts);
    return html.includes(`${publicUrl}/embed.js`) ? 'notRun' : 'noLine';
  } catch (error) {
    if (error instanceof CallOutError) return error.code;
    throw error;
  }
}

function versionOf({ id, map, savedAt, savedBy, publishedAt, newestCheck }: PageMapRow): MapVersion {
  return {
    id,
    map,
    savedBy,
    savedAt: savedAt.toISOString(),
    publishedAt: publishedAt?.toISOString() ?? null,
    check: newestCheck,
  };
}

const noMap = (of: 'draft' | 'live') =>
  new ProblemError(
    'no-page-map',
    of === 'draft'
      ? 'The page map has no draft. Change it, or pick on the shop, first.'
      : 'No page map has been published yet. Publish one first.',
  );

const noPages = () =>
  new ProblemError(
    'no-pages',
    'The page map names no site and pages of the shop. Say where the shop is and which pages to look at.',
  );
