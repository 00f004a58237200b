import type { Request } from 'express';
import { deleteFeed, fetchFeed, listFeeds, postFeed } from '#core/contract/feedCalls.ts';
import type { Services } from '../services/services.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { notFound } from '../http/errors.ts';
import { demandAlso, mayAlso, whoIs } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';
import { allFeeds, createFeed, dropFeed, feedById, hurryFeed, type FeedRow } from './feedQueries.ts';
import { shownAddress, withoutCredentials, type FeedFetcher } from './feeds.ts';
import { importOf } from './importService.ts';

export interface FeedServices {
  readonly feeds: FeedFetcher;
}

export function feedRoutes(endpoints: Endpoints, services: Services & FeedServices): void {
  const { db, clock, log, feeds } = services;
  const now = () => new Date(clock());
  const known = async (id: number, request: Request): Promise<FeedRow> => {
    const feed = await feedById(db, id);
    if (!feed) throw notFound(`feed ${id}`);
    demandAlso(request, feed.target);
    return feed;
  };
  const look = () => {
    feeds.look().catch((error: unknown) => {
      log.warn({ err: error }, 'feeds could not be fetched');
    });
  };

  route(endpoints, listFeeds, async ({}, { request }) => {
    const all = (await allFeeds(db)).filter(({ target }) => mayAlso(request, 'read') || mayAlso(request, target));
    const listed = all.map(async ({ id, target, address, secret, everyMinutes, mode, error, ...feed }) => ({
      id,
      target,
      address: shownAddress(address),
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
    const feed = withoutCredentials({ ...body, secret: secret ?? null });
    const id = await createFeed(db, { ...feed, madeBy: whoIs(request), nextAt: now() });
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
