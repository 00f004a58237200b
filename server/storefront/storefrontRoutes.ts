import type { RequestHandler } from 'express';
import { getDecisions, postDecisions, postGuard } from '#core/contract/storefront.ts';
import type { Services } from '../services/services.ts';
import type { CatalogServices } from '../catalog/productCache.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { reply, route } from '../http/route.ts';
import type { VisitorServices } from '../visitors/visitorCache.ts';
import { answerFor } from './decisionsService.ts';
import { guard } from './guardService.ts';
import { HeldAnswers } from './heldAnswers.ts';

/** Maximum age of a guest's answer in shared caches. */
const CACHE_SECONDS = 5;

export function storefrontRoutes(endpoints: Endpoints, services: Services & CatalogServices & VisitorServices): void {
  const held = new HeldAnswers();
  const { clock, outageSince } = services;
  /**
   * When it was sent: what is held, here or in a cache on the way, says no other time than when it was made. During an
   * outage of the database, also when what is held was last known to be true.
   */
  const sentAt = (outage: number | null) => ({
    'Understudy-At': new Date(clock()).toISOString(),
    'Access-Control-Expose-Headers': 'Understudy-At, Understudy-Held-Since',
    ...(outage === null ? {} : { 'Understudy-Held-Since': new Date(outage).toISOString() }),
  });

  route(endpoints, postDecisions, async ({ body: ask }) => {
    const { body } = await answerFor(services, held, ask);
    return reply(200, body, { 'Cache-Control': 'no-store', ...sentAt(outageSince()) });
  });

  route(endpoints, getDecisions, async ({ query: { surface, page, locale, path, id } }) => {
    const { body, until } = await answerFor(services, held, {
      surface,
      products: [...listOf(path).map((path) => ({ path })), ...listOf(id).map((id) => ({ id }))],
      ...(page === undefined ? {} : { page }),
      ...(locale === undefined ? {} : { locale }),
    });
    const left = (until - clock()) / 1000;
    const seconds = Math.max(0, Math.min(CACHE_SECONDS, Math.floor(left)));
    const outage = outageSince();
    return reply(200, body, {
      'Cache-Control': outage === null ? `public, max-age=${seconds}` : 'no-store',
      ETag: body.etag,
      ...sentAt(outage),
    });
  });

  route(endpoints, postGuard, async ({ body }) =>
    reply(200, await guard(services, body), { 'Cache-Control': 'no-store' }),
  );
}

/** Allows requests from any shop's pages: no cookie is involved. */
export const anyShop: RequestHandler = (request, response, next) => {
  response.set({ 'Access-Control-Allow-Origin': '*', 'Cross-Origin-Resource-Policy': 'cross-origin' });
  if (request.method !== 'OPTIONS') {
    next();
    return;
  }
  response.set({
    'Access-Control-Allow-Methods': 'GET, POST, PUT',
    'Access-Control-Allow-Headers': 'Content-Type, Authorization',
    'Access-Control-Max-Age': '86400',
  });
  response.status(204).end();
};

const listOf = (value: string | string[] | undefined) => (value === undefined ? [] : [value].flat());
