import type { Request } from 'express';
import { deleteFeed, fetchFeed, listFeeds, postFeed } from '#core/contract/feedCalls.ts';
import type { Services } from '../base/services.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { notFound } from '../http/errors.ts';
import { demandAlso, mayAlso, whoIs } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';
import { allFeeds, createFeed, dropFeed, feedById, hurryFeed, type FeedRow } from './feedQueries.ts';
import { fetchDueFeeds } from './feeds.ts';
import { importOf, type ImportServices } from './importService.ts';

export function feedRoutes(endpoints: Endpoints, services: Services & ImportServices): void {
  const { db, clock, log } = services;
  const now = () => new Date(clock());
  const known = async (id: number, request: Request): Promise<FeedRow> => {
    const feed = await feedById(db, id);
    if (!feed) throw notFound(`feed ${id}`);
    demandAlso(request, feed.target);
    return feed;
  };
  const look = () => {
    fetchDueFeeds(services).catch((error: unknown) => {
      log.warn({ err: error }, 'feeds could not be fetched');
    });
  };

  route(endpoints, listFeeds, async ({}, { request }) => {
    const feeds = (await allFeeds(db)).filter(({ target }) => mayAlso(request, 'read') || mayAlso(request, target));
    const listed = feeds.map(async ({ id, target, address, secret, everyMinutes, mode, error, ...feed }) => ({
      id,
      target,
      address,
      everyMinutes,
      mode,
      error,
      hasSecret: secret !== null,
      nextAt: feed.nextAt.toISOString(),
      fetchedAt: feed.fetchedAt?.toISOString() ?? null,
      newest: feed.importId === null ? null : await importOf(db, feed.importId),
    }));
    return reply(200, await Promise.all(listed), { 'Cache-Control': 'no-store' });
  });

  route(endpoints, postFeed, async ({ body: { secret, ...body } }, { request }) => {
    demandAlso(request, body.target);
    const id = await createFeed(db, { ...body, secret: secret ?? null, madeBy: whoIs(request), nextAt: now() });
    look();
    return reply(201, { id });
  });

  route(endpoints, fetchFeed, async ({ params: { id } }, { request }) => {
    await known(id, request);
    await hurryFeed(db, id, now());
    look();
    return reply(202, undefined);
  });

  route(endpoints, deleteFeed, async ({ params: { id } }, { request }) => {
    await known(id, request);
    await dropFeed(db, id);
    return reply(204, undefined);
  });
}
