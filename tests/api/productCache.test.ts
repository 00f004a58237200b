import fc from 'fast-check';
import { SignJWT } from 'jose';
import { afterAll, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import type { DecisionsAnswer } from '#core/contract/storefront.ts';
import { heldProducts } from '../../server/catalog/productCache.ts';
import { productsByKeys } from '../../server/catalog/catalogQueries.ts';
import { book, everything, make } from '../support/oneVariant.ts';
import { runs } from '../support/sampling.ts';
import { importCsv, startServer, startShop, type TestServer } from '../support/testServer.ts';

const HEAD = 'variant_id,product_id,path,title,tags,price,stock_tracked,stock_quantity';
const CATALOG = [
  HEAD,
  'fern-1,fern,/plants/fern,Shield fern,rare,950,true,4',
  'fern-2,fern,/plants/fern,Shield fern,rare,1450,true,0',
  'dahlia-3,dahlia,/plants/dahlia,Dahlia,late,1200,true,2',
  'dibber,dibber,/tools/dibber,Dibber,,1600,false,0',
].join('\n');
const PEOPLE = Array.from({ length: 100 }, (_, index) => `c-${index}`);
const IDS = ['fern', 'dahlia', 'dibber'];
const VARIANTS = ['fern-1', 'fern-2', 'dahlia-3', 'dibber'];

let server: TestServer;
let other: TestServer;
beforeAll(async () => {
  server = await startShop();
  await importCsv(server, 'catalog', CATALOG);
  await importCsv(
    server,
    'people',
    ['customer_id,name,email', ...PEOPLE.map((id) => `${id},${id},${id}@quillfern.example`)].join('\n'),
  );
  const pages = { surface: 'product', products: IDS.map((id) => ({ id })) };
  await server.publish(
    book(
      make('dahlias', { control: { kind: 'preorder' } }, { fact: 'product.tags', op: 'hasAny', value: ['late'] }),
      make(
        'ferns',
        { control: { kind: 'waitlist', per: 'variant' } },
        { fact: 'product.id', op: 'in', value: ['fern'] },
      ),
      make('all', { notes: [{ place: 'belowControl', text: 'From our own fields' }] }, everything),
    ),
  );
  other = await startServer(server.databaseUrl);
  await Promise.all([server, other].map((copy) => copy.send('POST', '/v1/decisions', { body: pages })));
});
afterAll(async () => {
  await other.stop();
  await server.stop();
});
beforeEach(() => {
  vi.restoreAllMocks();
});

/** Products in the database, and as a copy shows them. */
const stored = async () => byId(await productsByKeys(server.db, { ids: IDS, paths: [] }));
const shown = async (copy: TestServer) => byId(await copy.needs.products.byKeys({ ids: IDS, paths: [] }));
const byId = <T extends { id: string }>(rows: readonly T[]) => rows.toSorted((a, b) => (a.id < b.id ? -1 : 1));

/** Waits for a copy to hear of a change: within a second where a processor is free, as the bench of copies measures. */
const within = (look: () => Promise<void>) => vi.waitFor(look, { timeout: 60_000, interval: 5 });

const decisions = async (copy: TestServer, paths = ['/plants/fern', '/tools/dibber']) =>
  (
    await copy.send('POST', '/v1/decisions', {
      body: {
        surface: 'product',
        products: paths.map((path) => ({ path })),
        cart: [{ variantId: 'dahlia-3', quantity: 1 }],
      },
      asNobody: true,
    })
  ).body as DecisionsAnswer;

describe('products held in memory', () => {
  it('are asked of the database once', async () => {
    const first = await decisions(server);
    const query = vi.spyOn(server.needs.shopperDb, 'query');
    const lines = [{ variantId: 'fern-1', quantity: 1 }];
    // Cached data is used only after a recent check for changes. On a busy machine that check can be late.
    await within(async () => {
      query.mockClear();
      expect(await decisions(server)).toEqual(first);
      await server.send('POST', '/v1/guard', { body: { via: 'cart', lines }, asNobody: true });
      expect(query).not.toHaveBeenCalled();
      // Missing products are never cached.
      await decisions(server, ['/plants/fern', '/none']);
      expect(query).toHaveBeenCalledOnce();
    });
  });

  it('that are being read while they change are not held as they were', async () => {
    let answer: () => void = () => undefined;
    const isAsked = new Promise<void>((resolve) => (answer = resolve));
    const slow = {
      query: async (...asked: unknown[]) => {
        const rows = await (server.needs.shopperDb.query as (...asked: unknown[]) => Promise<unknown>)(...asked);
        await isAsked;
        return rows;
      },
    } as unknown as TestServer['db'];
    let notify: (keys: string) => void = () => undefined;
    const watch = {
      listen: (_channel: string, { notified }: { notified: (keys: string) => void }) => {
        notify = notified;
        return Promise.resolve();
      },
      confirmedAt: () => performance.now(),
    };
    const { products: cache } = await heldProducts(slow, watch, () => false);
    const reading = cache.byKeys({ ids: ['dibber'], paths: [] });
    // Reading has finished by now, without the answer arriving.
    await stored();
    await server.send('PATCH', '/api/products/dibber', { body: { tags: ['oak'] } });
    const [{ key } = { key: '' }] = (await stored()).filter(({ id }) => id === 'dibber');
    notify(key);
    answer();
    await reading;
    expect((await cache.byKeys({ ids: ['dibber'], paths: [] }))[0]?.tags).toEqual(['oak']);
  });

  it('that change are right at once where they were changed, and soon elsewhere', { timeout: 120_000 }, async () => {
    const { body } = await server.send('GET', '/api/connection');
    const shopToken = await new SignJWT()
      .setProtectedHeader({ alg: 'HS256' })
      .setAudience('understudy-shop')
      .setExpirationTime(Math.floor(server.now / 1000) + 600)
      .sign(new TextEncoder().encode((body as { visitorSecret: string }).visitorSecret));
    let number = 0;
    const visitors = await Promise.all(PEOPLE.map((id) => server.token(id)));
    const variant = fc.constantFrom(...VARIANTS);
    const change = fc.oneof(
      fc.record({ variantId: variant, quantity: fc.integer({ min: 0, max: 9 }) }).map((stock) => ({
        what: `stock ${JSON.stringify(stock)}`,
        on: (copy: TestServer) => copy.send('PUT', '/api/stock', { body: [stock] }),
      })),
      fc.record({ id: fc.constantFrom(...IDS), tag: fc.constantFrom('late', 'rare', 'oak') }).map(({ id, tag }) => ({
        what: `tag ${id} ${tag}`,
        on: (copy: TestServer) => copy.send('PATCH', `/api/products/${id}`, { body: { tags: [tag] } }),
      })),
      fc.constantFrom('/tools/dibber', '/tools/dibber-2').map((path) => ({
        what: `path ${path}`,
        on: (copy: TestServer) => copy.send('PATCH', '/api/products/dibber', { body: { path } }),
      })),
      fc.constant({
        what: 'order',
        on: (copy: TestServer) =>
          copy.send('POST', '/v1/preorders', {
            body: {
              order: `N-${(number += 1)}`,
              lines: [{ variantId: 'dahlia-3', quantity: 1 }],
              email: 'wren@quillfern.example',
            },
            headers: { Authorization: `Bearer ${shopToken}` },
          }),
      }),
      fc.constant({
        what: 'join',
        on: (copy: TestServer) =>
          copy.send('POST', '/v1/waitlist-entries', {
            body: { path: '/plants/fern', variantId: 'fern-2', visitor: visitors[(number += 1)] },
            asNobody: true,
          }),
      }),
      fc.constantFrom(950, 1000).map((price) => ({
        what: `import ${price}`,
        on: (copy: TestServer) =>
          importCsv(
            copy,
            'catalog',
            `${HEAD}
fern-1,fern,/plants/fern,Shield fern,rare,${price},true,4
`,
          ),
      })),
    );
    await fc.assert(
      fc.asyncProperty(change, fc.boolean(), async ({ what, on }, isFirst) => {
        const [mine, theirs] = isFirst ? [server, other] : [other, server];
        const { status } = await on(mine);
        expect([what, status]).toEqual([what, expect.toBeOneOf([200, 201, 202, 204, 409])]);
        const now = await stored();
        expect([what, await shown(mine)]).toEqual([what, now]);
        await within(async () => {
          expect([what, await shown(theirs)]).toEqual([what, now]);
        });
      }),
      runs(60),
    );
  });

  it('are right again when the connection that hears of changes is cut', async () => {
    await decisions(server);
    const { rowCount } = await server.db.query(
      `SELECT pg_terminate_backend(pid) FROM pg_stat_activity
       WHERE datname = current_database() AND pid <> pg_backend_pid() AND (query LIKE 'LISTEN%' OR query = 'SELECT 1')`,
    );
    expect(rowCount).toBeGreaterThanOrEqual(2);
    await server.db.query("UPDATE variants SET price = price + 1 WHERE external_id = 'dibber'");
    const now = await stored();
    await within(async () => {
      expect(await shown(server)).toEqual(now);
    });
    await within(async () => {
      expect(await shown(other)).toEqual(now);
    });
  });
});
