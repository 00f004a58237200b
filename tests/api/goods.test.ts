import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { DecisionsAnswer } from '#core/contract/storefront.ts';
import type { Product } from '#core/contract/shopCalls.ts';
import { book, make } from '../support/oneVariant.ts';
import { startNursery } from '../support/demo.ts';
import type { TestServer } from '../support/testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startNursery();
  const soldOut = make(
    'out',
    { control: { kind: 'notice', text: 'Sold out' } },
    {
      fact: 'stock.status',
      op: 'in',
      value: ['outOfStock'],
    },
  );
  const rare = make(
    'rare',
    { control: { kind: 'waitlist', per: 'product' } },
    {
      fact: 'product.tags',
      op: 'hasAny',
      value: ['treasure'],
    },
  );
  expect((await server.publish(book(rare, soldOut))).status).toBe(201);
});
afterAll(() => server.stop());

/** Decision for each variant of a product. */
const kinds = async (id: string) => {
  const { body } = await server.send('POST', '/v1/decisions', { body: { surface: 'product', products: [{ id }] } });
  const { decisions, products } = body as DecisionsAnswer;
  return products[0]?.variants.map(({ decision }) => decisions[decision]?.control.kind);
};

describe('stock sent in a batch', () => {
  it('is in the next answer; the last of a variant counts, what is left out stays, strangers are named', async () => {
    expect(await kinds('last-bus')).toEqual(['buy', 'buy']);
    const { status, body } = await server.send('PUT', '/api/stock', {
      body: [
        { variantId: 'last-bus-9-cm-pot', quantity: 4 },
        { variantId: 'last-bus-9-cm-pot', quantity: 0 },
        { variantId: 'last-bus-2-litre-pot', sellPastZero: true },
        { variantId: 'no-such-pot', quantity: 3 },
      ],
    });
    expect([status, body]).toEqual([200, { changed: 2, unknown: ['no-such-pot'] }]);
    expect(await kinds('last-bus')).toEqual(['notice', 'buy']);
    const again = await server.send('PUT', '/api/stock', { body: [{ variantId: 'last-bus-9-cm-pot', quantity: 0 }] });
    expect(again.body).toEqual({ changed: 0, unknown: [] });
  });
  it('that is odd changes nothing', async () => {
    for (const bad of [
      [],
      {},
      [{ variantId: '' }],
      [{ variantId: 'last-bus-9-cm-pot', quantity: 1.5 }],
      [{ quantity: 1 }],
    ]) {
      expect((await server.send('PUT', '/api/stock', { body: bad })).status).toBe(422);
    }
    const huge = [{ variantId: 'last-bus-9-cm-pot', quantity: 3_000_000_000 }];
    expect((await server.send('PUT', '/api/stock', { body: huge })).status).toBe(422);
    expect((await server.send('PUT', '/api/stock', { body: huge, asNobody: true })).status).toBe(401);
  });
});

describe('facts of one product', () => {
  it('are changed by name, and in the next answer; null clears', async () => {
    const { status, body } = await server.send('PATCH', '/api/products/last-bus', {
      body: { tags: ['treasure', 'scented'], brand: null, dates: { ships: '2027-04-01' } },
    });
    expect(status).toBe(200);
    expect(body).toMatchObject({
      id: 'last-bus',
      tags: ['treasure', 'scented'],
      brand: null,
      kind: 'plant',
      dates: { ships: '2027-04-01' },
    } satisfies Partial<Product>);
    expect(await kinds('last-bus')).toEqual(['waitlist', 'waitlist']);
  });
  it('that cannot be are refused with their place, and nothing is changed', async () => {
    const { status, body } = await server.send('PATCH', '/api/products/last-bus', {
      body: { brand: 'Other', dates: { ships: 'soon' } },
    });
    expect(status).toBe(422);
    expect((body as { errors: { pointer: string }[] }).errors.map(({ pointer }) => pointer)).toEqual(['/dates']);
    const { body: page } = await server.send('GET', '/api/products?search=last-bus');
    expect((page as { products: Product[] }).products[0]?.brand).toBeNull();
    expect((await server.send('PATCH', '/api/products/last-bus', { body: { colour: 'blue' } })).status).toBe(422);
    expect((await server.send('PATCH', '/api/products/nothing', { body: { tags: [] } })).status).toBe(404);
  });
});
