import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { z } from 'zod';
import type { findProducts } from '#core/contract/findCalls.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { book, make } from '../support/oneVariant.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

type Found = z.infer<(typeof findProducts)['replies'][200]>;

let server: TestServer;
beforeAll(async () => {
  server = await startShop();
  await importCsv(
    server,
    'catalog',
    [
      'variant_id,product_id,title,tags,categories,price,seller,grams,stock_tracked,stock_quantity,options,dates',
      'dahlia-1,dahlia,Dahlia,ships-spring,Plants > Tubers,4.50,Fen & Daughter,120,true,0,Size=1 tuber,ships=2027-03-15',
      'dahlia-3,dahlia,Dahlia,ships-spring,Plants > Tubers,14.50,Fen & Daughter,120,true,7,Size=3 tubers,ships=2027-03-15',
      'aster-1,aster,Áster,late,Plants,6.00,,850,true,4,,',
      'spade-1,spade,Border spade,,Tools,39.00,,1900,false,0,,',
      'fern-1,fern,Fern,rare,Plants,9.00,Fen & Daughter,,true,0,,',
    ].join('\n'),
  );
});
afterAll(() => server.stop());

const ask = (body: object) => server.send('POST', '/api/products/find', { body: { settled: true, ...body } });
const find = async (body: object) => {
  const { status, body: found } = await ask(body);
  expect(status).toBe(200);
  const { products, total, variants } = found as Found;
  return { ids: products.map(({ id }) => id), total, variants };
};
const saveDraft = (...rules: Rule[]) =>
  server.send('PUT', '/api/rulebook', { body: book(...rules), headers: { 'If-Match': '*' } });

describe('products are found', () => {
  it('by phrases of rules; a product fits where one of its variants does', async () => {
    const out = { fact: 'stock.status', op: 'in', value: ['outOfStock'] };
    expect(await find({ where: out })).toEqual({ ids: ['dahlia', 'fern'], total: 2, variants: 2 });
    const plants = { fact: 'product.categories', op: 'within', value: ['plants'] };
    const dear = { fact: 'variant.price', op: 'gte', value: 900 };
    expect(await find({ where: { all: [plants, { any: [dear, { none: [out] }] }] } })).toMatchObject({
      ids: ['aster', 'dahlia', 'fern'],
      variants: 3,
    });
    const soon = { fact: 'moment', op: 'around', value: { date: 'ships', from: '-P120D', until: 'P0D' } };
    expect((await find({ where: soon })).ids).toEqual(['dahlia']);
    expect((await find({ where: soon, at: '2027-06-01T00:00:00Z' })).ids).toEqual([]);
    expect((await find({ where: { fact: 'product.weight', op: 'gt', value: 120 } })).ids).toEqual(['aster', 'spade']);
    expect((await find({ where: { fact: 'product.seller', op: 'in', value: ['fen & daughter'] } })).total).toBe(2);
  });

  it('by words, put in order, page by page', async () => {
    expect((await find({})).ids).toEqual(['aster', 'spade', 'dahlia', 'fern']);
    expect((await find({ sort: 'price', descending: true })).ids).toEqual(['spade', 'fern', 'aster', 'dahlia']);
    expect((await find({ sort: 'stock' })).ids).toEqual(['fern', 'aster', 'dahlia', 'spade']);
    expect((await find({ sort: 'seller' })).ids.slice(0, 2).sort()).toEqual(['dahlia', 'fern']);
    expect((await find({ sort: 'grams' })).ids).toEqual(['dahlia', 'aster', 'spade', 'fern']);
    expect(await find({ skip: 1, limit: 2 })).toEqual({ ids: ['spade', 'dahlia'], total: 4, variants: 5 });
    expect((await find({ search: 'DAHLIA-3' })).ids).toEqual(['dahlia']);
    expect((await find({ search: 'spad', where: { fact: 'product', op: 'every', value: true } })).ids).toEqual([
      'spade',
    ]);
  });

  it('by the rule that decides them, and by what somebody is shown', async () => {
    const tubers: Rule['when'] = { fact: 'product.tags', op: 'hasAny', value: ['ships-spring', 'rare'] };
    await saveDraft(
      make(
        'fern',
        { control: { kind: 'waitlist', per: 'product' } },
        { fact: 'product.id', op: 'in', value: ['fern'] },
      ),
      make('tubers', { control: { kind: 'preorder' } }, tubers),
    );
    expect((await find({ decidedBy: 'tubers' })).ids).toEqual(['dahlia']);
    expect((await find({ decidedBy: 'tubers', source: 'live' })).ids).toEqual([]);
    expect((await find({ decidedBy: 'no-such-rule' })).total).toBe(0);
    const shown = (kind: string) => find({ shown: { kind, audience: 'Guest' } });
    expect((await shown('waitlist')).ids).toEqual(['fern']);
    expect(await shown('preorder')).toEqual({ ids: ['dahlia'], total: 1, variants: 2 });
    expect((await shown('buy')).ids).toEqual(['aster', 'spade']);
    expect((await ask({ shown: { kind: 'buy', audience: 'Nobody' } })).status).toBe(404);
  });

  it('as they are now, whatever changed them', async () => {
    const late = { fact: 'product.tags', op: 'hasAny', value: ['late'] };
    expect((await find({ where: late })).ids).toEqual(['aster']);
    await server.send('PATCH', '/api/products/fern', { body: { tags: ['late'] } });
    await server.send('PUT', '/api/stock', { body: [{ variantId: 'aster-1', quantity: 0 }] });
    expect((await find({ where: late })).ids).toEqual(['aster', 'fern']);
    expect((await find({ where: { fact: 'stock.quantity', op: 'eq', value: 0 } })).ids).toEqual([
      'aster',
      'dahlia',
      'fern',
    ]);
    await importCsv(server, 'catalog', 'variant_id,product_id,title,price\nivy-1,ivy,Ivy,3.00');
    expect((await find({ sort: 'id' })).ids).toEqual(['aster', 'dahlia', 'fern', 'ivy', 'spade']);
  });

  it('not by what asks about people, nor by groups that ask nothing', async () => {
    const refused = async (where: object) => {
      const { status, body } = await ask({ where });
      return [status, (body as { errors: { pointer: string }[] }).errors[0]?.pointer];
    };
    expect(await refused({ fact: 'visitor.signedIn', op: 'is', value: true })).toEqual([422, '/where']);
    expect(await refused({ fact: 'visitor.invited', op: 'is', value: true })).toEqual([422, '/where']);
    expect(await refused({ all: [] })).toEqual([422, '/where']);
  });
});
