import { getGoods, patchProduct, putStock } from '#core/contract/goodsCalls.ts';
import { findProducts, getCatalogViews, putCatalogViews } from '#core/contract/findCalls.ts';
import { listProducts } from '#core/contract/shopCalls.ts';
import { decideVariants } from '#core/engine/decide.ts';
import { wordsIn } from '#core/texts/locale.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { Services } from '../services/services.ts';
import { invalid, notFound } from '../http/errors.ts';
import { reply, route } from '../http/route.ts';
import { writeRows } from '../imports/importService.ts';
import { readJson } from '../imports/rows.ts';
import { lockProducts, pageOfProducts, productAt, productsByKeys, toProduct } from '../catalog/catalogQueries.ts';
import { inviteAsStockLands } from '../waitlists/waitlistService.ts';
import { answered } from '../rehearsal/answered.ts';
import type { RehearsalServices } from '../rehearsal/rehearsalService.ts';
import { productsFound } from './findProducts.ts';
import { readViews, writeViews } from '../catalog/views.ts';
import { writeStock } from '../catalog/stockQueries.ts';
import { guestSpeaking } from '../visitors/visitor.ts';

export function productRoutes(endpoints: Endpoints, services: Services & RehearsalServices, shopper: Services): void {
  const { db, live } = services;

  route(endpoints, getGoods, async ({ query: { path, locale } }) => {
    const { rulebook } = live.current();
    const product = await productAt(shopper.db, path);
    const seen = {
      visitor: guestSpeaking(locale ?? null),
      moment: services.clock(),
      surface: 'product',
      page: null,
    } as const;
    // Hidden products are not revealed.
    const isSeen =
      product && decideVariants(rulebook, product, seen).some(({ visibility }) => visibility.state !== 'blocked');
    if (!isSeen) throw notFound('product with that address');
    const variants = product.variants.map(({ id, title }) => ({ id, title }));
    const title = wordsIn(product.title, locale ?? null, rulebook.shop.locales);
    return reply(200, { title, variants }, { 'Cache-Control': 'public, max-age=60' });
  });

  const productOf = async (id: string) => {
    const [product] = await productsByKeys(db, { ids: [id], paths: [] });
    if (!product) throw notFound(`product ${id}`);
    return product;
  };

  route(endpoints, listProducts, async ({ query: { id, ...query } }) => {
    if (id !== undefined) {
      const found = await productsByKeys(db, { ids: [id], paths: [] });
      return reply(200, { products: found.map(toProduct), total: found.length, more: false });
    }
    const { rows, ...page } = await pageOfProducts(db, query);
    return reply(200, { products: rows.map(toProduct), ...page });
  });

  route(endpoints, findProducts, ({ body }, context) => answered(context, (how) => productsFound(services, body, how)));

  route(endpoints, getCatalogViews, async () => reply(200, await readViews(db)));
  route(endpoints, putCatalogViews, async ({ body }) => {
    await writeViews(db, body);
    return reply(200, await readViews(db));
  });

  route(endpoints, putStock, async ({ body }) => {
    const variants = body.map(({ variantId }) => variantId);
    const written = await db.transaction(async (client) => {
      await lockProducts(client, variants);
      return writeStock(client, body);
    });
    await inviteAsStockLands(services, variants);
    return reply(200, written);
  });

  // Facts are written in one way: as an import's row that names just these columns.
  route(endpoints, patchProduct, async ({ params: { id }, body }) => {
    const { variants } = await productOf(id);
    const changes = Object.entries(body).filter(([, value]) => value !== undefined);
    const row = { variant_id: variants[0]?.id ?? '', ...Object.fromEntries(changes) };
    const { refused } = await db.transaction((client) => writeRows(client, readJson([row]).rows));
    if (refused.length > 0) {
      const faultAt = (column: string | null) => body[column as keyof typeof body];
      throw invalid(
        'What was sent',
        refused.map(({ column, reason }) => ({
          pointer: `/${column ?? ''}`,
          found: JSON.stringify(faultAt(column)) || 'nothing',
          allowed: reason,
        })),
      );
    }
    return reply(200, toProduct(await productOf(id)));
  });
}
