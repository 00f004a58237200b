import { afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { DecisionsAnswer } from '#core/contract/storefront.ts';
import type { ShopDetails } from '#core/contract/shopDetails.ts';
import { startDatabaseProxy, type DatabaseProxy } from '../support/databaseProxy.ts';
import { cloneDatabase } from '../support/databases.ts';
import { book, everything, make } from '../support/oneVariant.ts';
import { importCsv, preparedShop, startServer, type TestServer } from '../support/testServer.ts';

const MINUTE_MS = 60_000;
const tagged = (tag: string) => ({ fact: 'product.tags' as const, op: 'hasAny' as const, value: [tag] });

let template: string;
beforeAll(async () => {
  template = await preparedShop(async (shop) => {
    await importCsv(
      shop,
      'catalog',
      'variant_id,product_id,path,title,tags,price\nfern-1,fern,/plants/fern,Fern,rare,5.00\nmoss-1,moss,/plants/moss,Moss,,2.00',
    );
    await importCsv(shop, 'people', 'customer_id,name,email,roles\nc-1,Ada Finch,ada@quillfern.example,member');
    // The test's clock begins at 10:00 UTC, which is 10:00 in Lisbon.
    const soon = { fact: 'moment', op: 'between', value: { until: '2026-11-25T10:03' } } as const;
    const { status, body } = await shop.publish(
      book(
        make('today', { control: { kind: 'notice', text: 'Today only' } }, { all: [tagged('rare'), soon] }),
        make(
          'members',
          { control: { kind: 'quote' } },
          { all: [everything, { fact: 'visitor.roles', op: 'hasAny', value: ['member'] }] },
        ),
        make('rest', { control: { kind: 'nothing' } }, everything),
      ),
    );
    expect(status, JSON.stringify(body)).toBe(201);
  });
});

let database: DatabaseProxy;
let server: TestServer;
beforeEach(async () => {
  database = await startDatabaseProxy(await cloneDatabase(template));
  server = await startServer(database.url);
});
afterEach(async () => {
  await database.resume();
  await server.stop();
  await database.stop();
});

const ask = async (path: string, visitor?: string) => {
  const body = { surface: 'product', products: [{ path }], ...(visitor ? { visitor } : {}) };
  const { status, headers, body: answer } = await server.send('POST', '/v1/decisions', { body, asNobody: true });
  const { products, decisions } = (status === 200 ? answer : { products: [], decisions: [] }) as DecisionsAnswer;
  const kind = decisions[products[0]?.variants[0]?.decision ?? 0]?.control.kind ?? status;
  return { kind, since: headers.get('Understudy-Held-Since') };
};
const guard = async () => {
  const body = { via: 'cart', lines: [{ variantId: 'fern-1', quantity: 1 }] };
  const answer = await server.send('POST', '/v1/guard', { body, asNobody: true });
  return { status: answer.status, type: (answer.body as { type?: string }).type };
};
/** Waits until the server knows that its database is gone. */
const isAway = () => expect.poll(async () => (await ask('/plants/fern')).since, { interval: 50 }).not.toBeNull();

describe.each(['stop', 'freeze'] as const)('while the database cannot be asked (%s)', (cut) => {
  it('pages get what is held, marked as such, and the guard judges nothing', async () => {
    const [member, other] = [await server.token('c-1'), await server.token('c-9')];
    expect(await ask('/plants/fern')).toEqual({ kind: 'notice', since: null });
    expect((await ask('/plants/moss', member)).kind).toBe('quote');
    const before = server.now;
    await database[cut]();
    await isAway();
    expect(await ask('/plants/fern')).toEqual({ kind: 'notice', since: new Date(before).toISOString() });
    expect((await ask('/plants/moss', member)).kind).toBe('quote');
    // Nothing is cached for these.
    expect((await ask('/plants/ivy')).kind).toBe(503);
    expect((await ask('/plants/fern', other)).kind).toBe(503);
    expect(await guard()).toEqual({ status: 503, type: 'urn:understudy:problem:database-away' });
    const query = 'surface=product&path=/plants/fern';
    const { headers } = await server.send('GET', `/v1/decisions?${query}`, { asNobody: true });
    expect(headers.get('Cache-Control')).toBe('no-store');

    // Rules with dates still take effect.
    server.now += 4 * MINUTE_MS;
    expect((await ask('/plants/fern')).kind).toBe('nothing');
    server.now += 2 * MINUTE_MS;
    expect((await ask('/plants/fern')).kind).toBe(503);

    await database.resume();
    await expect.poll(async () => (await ask('/plants/fern')).since, { interval: 50 }).toBeNull();
    await expect.poll(async () => (await guard()).status, { interval: 50 }).toBe(200);
  });

  it('is for as long as the owner says, and not past an edition that was to open', async () => {
    const details = (await server.send('GET', '/api/shop/details')).body as ShopDetails;
    expect(details.outageMinutes).toBe(5);
    await server.send('PUT', '/api/shop/details', { body: { ...details, outageMinutes: 60 } });
    const at = new Date(server.now + 30 * MINUTE_MS).toISOString();
    expect((await server.send('POST', '/api/openings', { body: { at } })).status).toBe(201);
    await ask('/plants/fern');
    await database[cut]();
    await isAway();
    server.now += 29 * MINUTE_MS;
    expect((await ask('/plants/fern')).kind).toBe('nothing');
    server.now += 2 * MINUTE_MS;
    expect((await ask('/plants/fern')).kind).toBe(503);
  });

  it('is not at all where the owner wants nothing held', async () => {
    const details = (await server.send('GET', '/api/shop/details')).body as ShopDetails;
    await server.send('PUT', '/api/shop/details', { body: { ...details, outageMinutes: 0 } });
    await ask('/plants/fern');
    await database[cut]();
    await expect.poll(async () => (await ask('/plants/fern')).kind, { interval: 50 }).toBe(503);
  });
});
