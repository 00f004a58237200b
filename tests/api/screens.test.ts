import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Person, Product } from '#core/contract/shopCalls.ts';
import { startNursery } from '../support/demo.ts';
import { importCsv, type TestServer } from '../support/testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startNursery();
});
afterAll(() => server.stop());

const products = async (query: string) =>
  (await server.send('GET', `/api/products?${query}`)).body as { products: Product[]; total: number; more: boolean };
const people = async (query: string) =>
  (await server.send('GET', `/api/people?${query}`)).body as { people: Person[]; total: number; more: boolean };
const ids = (list: readonly { id: string }[]) => list.map(({ id }) => id);

describe('products for the catalog’s screen', () => {
  it('are found by words, tag, category with all below, and stock, and by all of them together', async () => {
    expect(ids((await products('search=paper+lantern')).products)).toEqual(['paper-lantern']);
    expect((await products('search=100%25')).total).toBe(0);
    expect(ids((await products('tag=voucher')).products)).toEqual(['gift-voucher']);
    const within = await products('category=plants/perennials');
    expect(ids(within.products)).toEqual(expect.arrayContaining(['inkwell', 'big-umbrella', 'last-bus']));
    expect(within.total).toBe(within.products.length);
    expect((await products('category=plants/perennial')).total).toBe(0);
    const out = await products('category=plants/perennials&stock=out&tag=rare');
    expect(ids(out.products)).toEqual(['inkwell', 'slipper-room']);
  });
  it('come page by page, each once', async () => {
    const seen: string[] = [];
    for (let after = ''; ;) {
      const page = await products(`limit=20${after === '' ? '' : `&after=${after}`}`);
      expect(page.total).toBe(46);
      seen.push(...ids(page.products));
      if (!page.more) break;
      after = seen.at(-1) ?? '';
    }
    expect(new Set(seen).size).toBe(46);
    expect(seen).toEqual([...seen].sort());
  });
  it('are read one by one by their ids, whatever those look like', async () => {
    await importCsv(
      server,
      'catalog',
      'variant_id,product_id,path,title,price\n4711-1,4711,/plants/4711,Sedge 4711,4.50',
    );
    const read = async (id: string) => ids((await products(`id=${id}`)).products);
    expect(await read('4711')).toEqual(['4711']);
    expect(await read('last-bus')).toEqual(['last-bus']);
    expect(await read('last')).toEqual([]);
    const rows = await server.send('POST', '/api/rehearsal/rows', { body: { source: 'live' } });
    const shown = (rows.body as { rows: { product: string }[] }).rows.map(({ product }) => product);
    for (const id of shown) expect(await read(id)).toEqual([id]);
  });
});

describe('people', () => {
  it('are found by name, address or id, and by role, with the dates of what they hold', async () => {
    expect(await people('search=finch')).toMatchObject({ total: 1, people: [{ id: 'c-01', name: 'Ada Finch' }] });
    expect(ids((await people('search=hugo.vale%40quillfern')).people)).toEqual(['c-08']);
    expect(ids((await people('role=trade')).people)).toEqual(['c-02', 'c-06', 'c-10']);
    const [jonas] = (await people('search=c-10')).people;
    expect(jonas?.roles).toEqual([
      { code: 'trade', from: expect.any(String) as string, until: expect.any(String) as string },
    ]);
    expect((await people('limit=5')).more).toBe(true);
  });
  it('who were archived are not among them', async () => {
    await importCsv(server, 'people', 'customer_id,name\nc-50,Wren Alder');
    expect((await people('search=wren')).total).toBe(1);
    const replaced = 'customer_id,email,name,roles\nc-01,ada.finch@quillfern.example,Ada Finch,';
    await importCsv(server, 'people', replaced, '?mode=replace&archive=true');
    expect((await people('')).total).toBe(1);
  });
  it('are for the owner alone', async () => {
    expect((await server.send('GET', '/api/people', { asNobody: true })).status).toBe(401);
  });
});
