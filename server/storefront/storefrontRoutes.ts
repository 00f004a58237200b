import { createHash } from 'node:crypto';
import type { RequestHandler } from 'express';
import { getDecisions, postDecisions, postGuard } from '#core/contract/storefront.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { Services } from '../base/services.ts';
import { reply, route } from '../http/route.ts';
import type { StatusReader } from '../visitors/visitorStatuses.ts';
import type { CatalogServices } from '../catalog/productCache.ts';
import { decisionsFor } from './decisionsService.ts';
import { guard } from './guardService.ts';

/** How long a guest's answer may be kept by caches on the way. */
const CACHE_SECONDS = 5;

/** @param readers what is asked of what a visitor did already */
export function storefrontRoutes(
  endpoints: Endpoints,
  services: Services & CatalogServices,
  readers: readonly StatusReader[],
): void {
  route(endpoints, postDecisions, async ({ body }) => {
    const { answer } = await decisionsFor(services, body, readers);
    return reply(200, answer, { 'Cache-Control': 'no-store' });
  });

  route(endpoints, getDecisions, async ({ query: { surface, page, locale, path, id } }) => {
    const products = [...listOf(path).map((path) => ({ path })), ...listOf(id).map((id) => ({ id }))];
    const ask = {
      surface,
      products,
      ...(page === undefined ? {} : { page }),
      ...(locale === undefined ? {} : { locale }),
    };
    const { answer, etagSource } = await decisionsFor(services, ask, readers);
    const left = answer.validUntil === null ? CACHE_SECONDS : (Date.parse(answer.validUntil) - services.clock()) / 1000;
    const seconds = Math.max(0, Math.min(CACHE_SECONDS, Math.floor(left)));
    const tag = createHash('sha256').update(etagSource()).digest('base64url').slice(0, 22);
    return reply(200, answer, {
      'Cache-Control': `public, max-age=${seconds}`,
      ETag: `W/"${tag}"`,
      // An answer that still stands says no other time than when it was made: this is when it was asked for.
      Date: new Date(services.clock()).toUTCString(),
      'Access-Control-Expose-Headers': 'Date',
    });
  });

  route(endpoints, postGuard, async ({ body }) =>
    reply(200, await guard(services, body), { 'Cache-Control': 'no-store' }),
  );
}

/** Any shop's pages may ask: nothing here hangs on a cookie. */
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
