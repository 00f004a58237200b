import { parse } from 'csv-parse/sync';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { z } from 'zod';
import type { FactChange, getProductFacts, postFactImpact } from '#core/contract/ownFactsCalls.ts';
import type { listProducts } from '#core/contract/shopCalls.ts';
import { changedOwn, withOwn, type OwnChanges, type OwnFacts } from '#core/model/ownFacts.ts';
import { doSome } from '../../server/products/ownFactsQueries.ts';
import { book, make } from '../support/oneVariant.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';
import { runs } from '../support/sampling.ts';

const CSV = [
  'variant_id,product_id,title,tags,attributes,dates,price,stock_tracked,stock_quantity',
  'dahlia-1,dahlia,Dahlia,ships-spring|Rare,hardiness=H3,ships=2027-03-15,4.50,true,3',
  'aster-1,aster,Aster,late,hardiness=H5,,6.00,true,4',
  'fern-1,fern,Fern,,,,9.00,false,0',
].join('\n');

let server: TestServer;
beforeAll(async () => {
  server = await startShop();
  await importCsv(server, 'catalog', CSV);
});
afterAll(() => server.stop());

const productOf = async (id: string) => {
  const { body } = await server.send('GET', `/api/products?id=${id}`);
  const [product] = (body as z.infer<(typeof listProducts)['replies'][200]>).products;
  const { tags, attributes, dates } = product!;
  return { tags, attributes, dates };
};
const factsOf = async (id: string) =>
  (await server.send('GET', `/api/products/${id}/facts`)).body as z.infer<(typeof getProductFacts)['replies'][200]>;

/** Changes facts, and waits until that is done. */
async function change(goods: object, changes: OwnChanges): Promise<FactChange> {
  const { status, body } = await server.send('POST', '/api/products/fact-changes', { body: { goods, changes } });
  expect(status).toBe(202);
  await finish((body as FactChange).id);
  return (await changeOf((body as FactChange).id))!;
}
const changeOf = async (id: number) =>
  ((await server.send('GET', '/api/products/fact-changes')).body as FactChange[]).find((one) => one.id === id);
/** Runs the job now: two may run, and neither repeats work. */
async function finish(id: number): Promise<void> {
  while ((await server.db.transaction((client) => doSome(client, id, 2))) > 0);
}
const undo = async (id: number) => {
  expect((await server.send('POST', `/api/products/fact-changes/${id}/undoing`)).status).toBe(202);
  await finish(id);
};

describe('facts of Understudy’s own', () => {
  it('count beside what the file says, and the next file leaves them', async () => {
    const done = await change(
      { ids: ['dahlia', 'aster'] },
      { addTags: ['spring sale', 'RARE'], dates: { ships: '2027-04-01' }, attributes: { hardiness: null } },
    );
    expect(done).toMatchObject({ products: 2, done: 2, isUndoing: false });
    const dahlia = { tags: ['ships-spring', 'Rare', 'spring sale'], attributes: {}, dates: { ships: '2027-04-01' } };
    expect(await productOf('dahlia')).toEqual(dahlia);
    expect(await productOf('aster')).toMatchObject({ tags: ['late', 'spring sale', 'Rare'], attributes: {} });
    await importCsv(server, 'catalog', CSV.replace('2027-03-15', '2027-05-05'));
    expect(await productOf('dahlia')).toEqual(dahlia);
    expect(await factsOf('dahlia')).toMatchObject({
      file: { tags: ['ships-spring', 'Rare'], dates: { ships: '2027-05-05' } },
      own: { addTags: ['spring sale', 'Rare'], dates: { ships: '2027-04-01' }, attributes: { hardiness: null } },
    });
    await undo(done.id);
    expect(await productOf('dahlia')).toEqual({
      tags: ['ships-spring', 'Rare'],
      attributes: { hardiness: 'H3' },
      dates: { ships: '2027-05-05' },
    });
    expect((await factsOf('aster')).own).toBeNull();
    expect(await changeOf(done.id)).toMatchObject({ done: 0, isUndoing: true });
  });

  it('are for all that fit a filter but some; what was changed anew since is not taken back', async () => {
    const tracked = { filter: { where: { fact: 'stock.status', op: 'in', value: ['inStock'] } }, except: ['aster'] };
    const first = await change(tracked, { removeTags: ['rare', 'no such tag'] });
    expect(first.products).toBe(1);
    expect((await productOf('dahlia')).tags).toEqual(['ships-spring']);
    await importCsv(server, 'catalog', CSV);
    expect((await productOf('dahlia')).tags).toEqual(['ships-spring']);
    await change({ ids: ['dahlia'] }, { addTags: ['border'] });
    await undo(first.id);
    expect((await productOf('dahlia')).tags).toEqual(['ships-spring', 'border']);
    await change({ ids: ['dahlia'] }, { asFile: { tags: ['Rare', 'border'] } });
    expect(await factsOf('dahlia')).toMatchObject({ own: null });
  });

  it('are told what they change for shoppers before, by the live rules', async () => {
    await server.publish(
      book(
        make(
          'spring',
          { control: { kind: 'preorder' } },
          { fact: 'product.tags', op: 'hasAny', value: ['ships-spring'] },
        ),
      ),
    );
    const impact = async (changes: OwnChanges) => {
      const body = { goods: { filter: {} }, changes };
      const answer = await server.send('POST', '/api/products/fact-changes/impact', { body });
      return answer.body as z.infer<(typeof postFactImpact)['replies'][200]>;
    };
    expect(await impact({ addTags: ['Ships-Spring'] })).toMatchObject({
      products: 3,
      changed: 2,
      groups: [{ before: { kind: 'buy' }, after: { kind: 'preorder' }, count: 2 }],
    });
    expect(await impact({ removeTags: ['ships-spring'] })).toMatchObject({ changed: 1 });
    expect(await impact({ addTags: ['border'] })).toEqual({ products: 3, changed: 0, groups: [] });
    expect((await productOf('fern')).tags).toEqual([]);
  });

  it('are refused where they say nothing, or what is no date', async () => {
    for (const changes of [{}, { addTags: [] }, { dates: { ships: 'soon' } }, { addTags: ['a|b'] }, { tags: ['x'] }]) {
      const body = { goods: { ids: ['fern'] }, changes };
      expect((await server.send('POST', '/api/products/fact-changes', { body })).status).toBe(422);
    }
    expect((await server.send('POST', '/api/products/fact-changes/999/undoing')).status).toBe(404);
  });

  it('are in the file that is taken away, which can be brought in again', async () => {
    await change({ ids: ['fern'] }, { addTags: ['shade'], dates: { releases: '2027-01-02T09:00' } });
    const body = { goods: { ids: ['fern', 'dahlia'] } };
    const { body: file } = await server.send('POST', '/api/products/export', { body });
    const rows: Record<string, string>[] = parse(String(file), { columns: true, bom: true });
    expect(rows.map(({ variant_id }) => variant_id)).toEqual(['fern-1', 'dahlia-1']);
    expect(rows[0]).toMatchObject({
      tags: 'shade',
      dates: 'releases=2027-01-02T09:00',
      price: '9.00',
      currency: 'EUR',
    });
    const again = await importCsv(server, 'catalog', String(file));
    expect(again).toMatchObject({ body: { refused: [] } });
  });

  it('hold nothing that a spreadsheet takes for a formula, and come back as they were', async () => {
    const titles = ['=1+1', '@sum', "'tis plain", '-5 °C', "''=quoted"];
    const rows = titles.map((title, index) => `odd-${index},odd-${index},"${title}",1`);
    await importCsv(server, 'catalog', ['variant_id,product_id,title,price', ...rows].join('\n'));
    const ids = titles.map((_title, index) => `odd-${index}`);
    const exported = async () =>
      String((await server.send('POST', '/api/products/export', { body: { goods: { ids } } })).body);
    const file = await exported();
    const records: Record<string, string>[] = parse(file, { columns: true, bom: true });
    expect(records.map(({ title }) => title)).toEqual(["'=1+1", "'@sum", "'tis plain", "'-5 °C", "''=quoted"]);
    await importCsv(server, 'catalog', file);
    expect(await exported()).toBe(file);
  });

  it('are put together in the database as the core says it', async () => {
    const tags = fc.uniqueArray(fc.constantFrom('a', 'b', 'c', 'd'), { maxLength: 4 });
    const pairs = <T>(value: fc.Arbitrary<T>) => fc.dictionary(fc.constantFrom('x', 'y', 'z'), value, { maxKeys: 3 });
    const said = fc.option(fc.constantFrom('1', '2'), { nil: null });
    const changes: fc.Arbitrary<OwnChanges> = fc.record(
      { addTags: tags, removeTags: tags, attributes: pairs(said), dates: pairs(said) },
      { requiredKeys: [] },
    );
    const file = fc.record({ tags, attributes: pairs(fc.constant('f')), dates: pairs(fc.constant('f')) });
    const SQL = `
      SELECT tags_with_own($1, $4) AS tags, pairs_with_own($2, $4 -> 'attributes') AS attributes,
        pairs_with_own($3, $4 -> 'dates') AS dates`;
    await fc.assert(
      fc.asyncProperty(file, fc.array(changes, { maxLength: 4 }), async (facts, all) => {
        const own = all.reduce<OwnFacts | null>((before, one) => changedOwn(before, facts.tags, one), null);
        const values = [facts.tags, facts.attributes, facts.dates, JSON.stringify(own ?? {})];
        const { rows } = await server.db.query<object>(SQL, values);
        expect(rows[0]).toEqual(withOwn(facts, own));
      }),
      runs(150),
    );
  });
});
