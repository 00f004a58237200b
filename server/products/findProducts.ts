import type { z } from 'zod';
import type { findProducts, GoodsFilter } from '#core/contract/findCalls.ts';
import { readAudiences } from '../visitors/audiences.ts';
import { rulesOf } from '../services/rulesOf.ts';
import type { Services } from '../services/services.ts';
import { productsByKeys, toProduct } from '../catalog/catalogQueries.ts';
import { notFound } from '../http/errors.ts';
import type { Waiting } from '../rehearsal/analyst.ts';
import type { MatchingProducts, ProductsPage } from '../rehearsal/productQuestion.ts';
import { minuteOf, type RehearsalServices } from '../rehearsal/rehearsalService.ts';

export type FindServices = Pick<Services, 'db' | 'live' | 'clock'> & RehearsalServices;

/** Finds the ids of products that match a filter, sorted. @throws {ProblemError} 404 if the audience does not exist */
export async function findProductIds(
  services: FindServices,
  { search = '', where, decidedBy, shown, source, at }: GoodsFilter,
  page: ProductsPage,
  how: Waiting = {},
): Promise<MatchingProducts> {
  const { db, live, analyst } = services;
  const [rulebook, audiences] = await Promise.all([rulesOf(services, source), readAudiences(db)]);
  const audience = audiences.find(({ name }) => name === shown?.audience);
  if (shown && !audience) throw notFound(`audience “${shown.audience}”`);
  // Filters that do not depend on rules ignore the rulebook.
  const isOfRules = shown !== undefined || decidedBy !== undefined;
  return analyst.ask<'products'>(
    {
      kind: 'products',
      shop: live.current().rulebook.shop,
      rulebook: isOfRules ? rulebook : { ...rulebook, rules: [] },
      audiences: isOfRules ? audiences : [],
      moment: minuteOf(services, at),
      search,
      where: where ?? null,
      decidedBy: decidedBy ?? null,
      shown: shown && audience ? { kind: shown.kind, audience } : null,
      page,
    },
    { ...how, isNow: at === undefined },
  );
}

/** A page of matching products, with all their facts. */
export async function productsFound(
  services: FindServices,
  { sort, descending, skip, limit, settled, ...filter }: z.infer<(typeof findProducts)['body']>,
  how: Waiting,
): Promise<z.infer<(typeof findProducts)['replies'][200]>> {
  const { ids, total, variants } = await findProductIds(
    services,
    filter,
    { sort, descending, skip, limit, settled },
    how,
  );
  const rows = new Map((await productsByKeys(services.db, { ids, paths: [] })).map((row) => [row.id, row]));
  return { products: ids.flatMap((id) => (rows.has(id) ? [toProduct(rows.get(id)!)] : [])), total, variants };
}
