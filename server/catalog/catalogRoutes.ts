import type { IRouter } from 'express';
import { listProducts } from '#core/contract/shopCalls.ts';
import type { Services } from '../services.ts';
import { reply, route } from '../http/route.ts';
import { pageOfProducts, toProduct } from './catalogQueries.ts';

export function catalogRoutes(router: IRouter, { db }: Services): void {
  route(router, listProducts, async ({ query }) => {
    const { limit } = query;
    const { products, total } = await pageOfProducts(db, { ...query, limit: limit + 1 });
    const page = products.slice(0, limit).map(toProduct);
    return reply(200, { products: page, total, more: products.length > limit });
  });
}
