import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Problem } from '#core/contract/call.ts';
import type { ImportReport, Job } from '#core/contract/importCalls.ts';
import type { Product } from '#core/contract/shopCalls.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startShop();
});
afterAll(() => server.stop());

const HEADER =
  'variant_id,product_id,path,title,categories,tags,dates,options,price,price_before,stock_tracked,stock_quantity,sell_past_zero';
const LANTERN =
  'pl-1,paper-lantern,/plants/paper-lantern,Dahlia ‘Paper Lantern’,Plants > Bulbs > Tubers > Dahlias > Dinnerplate,ships-spring|Rare,ships=2027-02-28,Pack=1 tuber,14.50,16,true,12,false';
const bring = async (csv: string, query = '') => (await importCsv(server, 'catalog', csv, query)).body as ImportReport;
const products = async () => {
  const { body } = await server.send('GET', '/api/products');
  return (body as { products: Product[] }).products;
};
const product = async (id: string) => (await products()).find((candidate) => candidate.id === id);

describe('a catalog file', () => {
  it('brings everything in that its columns say', async () => {
    const report = await bring(`\uFEFF${HEADER},colour\r\n${LANTERN},red\r\n`);
    expect(report).toEqual({
      mode: 'merge',
      rows: 1,
      created: 1,
      changed: 0,
      archived: 0,
      kept: 0,
      refused: [],
      refusedRows: 0,
      notices: ['The column “colour” is not one of ours and was left out.'],
    });
    expect(await product('paper-lantern')).toEqual({
      id: 'paper-lantern',
      title: { en: 'Dahlia ‘Paper Lantern’' },
      path: '/plants/paper-lantern',
      brand: null,
      kind: null,
      seller: null,
      grams: null,
      attributes: {},
      tags: ['ships-spring', 'Rare'],
      categories: ['plants/bulbs/tubers/dahlias/dinnerplate'],
      dates: { ships: '2027-02-28' },
      image: null,
      waiting: 0,
      variants: [
        {
          id: 'pl-1',
          title: '1 tuber',
          options: { Pack: '1 tuber' },
          price: 1450,
          priceBefore: 1600,
          stock: { tracked: true, quantity: 12, sellPastZero: false },
          reserved: 0,
          waiting: 0,
        },
      ],
    });
  });

  it('sent again changes nothing, and says so', async () => {
    expect(await bring(`${HEADER}\n${LANTERN}`)).toMatchObject({ created: 0, changed: 0, refused: [] });
  });

  it('changes what it names: an empty cell clears, an absent column keeps', async () => {
    await bring('variant_id,tags,stock_quantity\npl-1,,3');
    expect(await product('paper-lantern')).toMatchObject({
      tags: [],
      dates: { ships: '2027-02-28' },
      variants: [{ price: 1450, stock: { quantity: 3 } }],
    });
  });

  it('takes weights as whole grams', async () => {
    await bring('variant_id,grams\npl-1,850');
    expect(await product('paper-lantern')).toMatchObject({ grams: 850 });
    const { refused } = await bring('variant_id,grams\npl-1,-5\npl-1,1.5\npl-1,1000000000');
    expect(refused).toEqual([
      { line: 2, column: 'grams', reason: '“-5” is below 0' },
      { line: 3, column: 'grams', reason: '“1.5” is not a whole number' },
      { line: 4, column: 'grams', reason: '“1000000000” is not a whole number' },
    ]);
    const change = (grams: unknown) => server.send('PATCH', '/api/products/paper-lantern', { body: { grams } });
    expect((await change(-1)).status).toBe(422);
    expect((await change(120)).body).toMatchObject({ grams: 120 });
    const { body: file } = await server.send('POST', '/api/products/export', {
      body: { goods: { ids: ['paper-lantern'] } },
    });
    expect(file).toContain('120');
    await change(null);
    expect(await product('paper-lantern')).toMatchObject({ grams: null });
  });

  it('reports bad rows with line, column and reason, and brings the others in', async () => {
    const report = await bring(
      [
        'variant_id,product_id,title,price,dates,categories,stock_tracked,currency,path',
        'ok-1,ok,Fine,3.20,,Seeds > Ferns,,,/seeds/ok',
        ',no-id,No id,1,,,,,',
        'bad-price,p,P,"3,20",,,,,',
        'bad-fraction,p,P,3.205,,,,,',
        'bad-date,p,P,1,ships=soon,,,,',
        'bad-truth,p,P,1,,,perhaps,,',
        'bad-money,p,P,1,,,,USD,',
        'bad-path,p,P,1,,,,,seeds/p',
        'bad-category,p,P,1,,***,,,',
        'two-names,p,P,1,,seeds > férns,,,',
        'same-path,p,P,1,,,,,/seeds/ok/',
        'no-title,p,,1,,,,,',
        'ok-1,other,Other,1,,,,,',
        'short,row',
      ].join('\n'),
    );
    expect(report).toMatchObject({ rows: 14, created: 1 });
    expect(report.refused.map(({ line, column }) => [line, column])).toEqual([
      [3, 'variant_id'],
      [4, 'price'],
      [5, 'price'],
      [6, 'dates'],
      [7, 'stock_tracked'],
      [8, 'currency'],
      [9, 'path'],
      [10, 'categories'],
      [11, 'categories'],
      [12, 'path'],
      [13, 'title'],
      [14, 'product_id'],
      [15, null],
    ]);
    expect((await product('ok'))?.categories).toEqual(['seeds/ferns']);
  });

  it('with one bad row brings nothing in, when that is asked', async () => {
    const csv = 'variant_id,product_id,title,price\nfirst,first,First,1\nsecond,second,Second,dear';
    const answer = await importCsv(server, 'catalog', csv, '?badRows=refuseAll');
    expect(answer.status).toBe(422);
    expect((answer.body as Problem).errors?.map(({ pointer }) => pointer)).toEqual(['/3/price']);
    expect(await product('first')).toBeUndefined();
  });

  it('takes tags that are equal for one tag, as first spelt', async () => {
    await bring('variant_id,product_id,title,price,tags\nt-1,t1,T,1,Cut Flower\nt-2,t2,T,1, CUT FLOWER |cut flower');
    expect((await product('t2'))?.tags).toEqual(['Cut Flower']);
    const { body } = await server.send('GET', '/api/vocabulary');
    expect(body).toMatchObject({ tags: expect.arrayContaining([{ name: 'Cut Flower', count: 2 }]) as unknown });
  });

  it('keeps titles that look like markup as the words they are', async () => {
    await bring('variant_id,product_id,title,price\nm-1,m,<b>Bold</b> & “quoted”,1');
    expect((await product('m'))?.title).toEqual({ en: '<b>Bold</b> & “quoted”' });
  });

  it('comes as JSON too', async () => {
    const body = [
      {
        variant_id: 'j-1',
        product_id: 'j',
        title: 'From JSON',
        price: 2.5,
        tags: ['a', 'b'],
        options: { Size: '9 cm' },
        stock_tracked: true,
        stock_quantity: 4,
      },
    ];
    const answer = await server.send('POST', '/api/catalog/import', { body });
    expect(answer.body).toMatchObject({ created: 1, refused: [] });
    expect(await product('j')).toMatchObject({
      tags: ['a', 'b'],
      variants: [{ title: '9 cm', price: 250, stock: { tracked: true, quantity: 4 } }],
    });
  });

  it('that replaces archives what it lacks, and what comes back is as it was', async () => {
    const report = await bring(`${HEADER}\n${LANTERN}`, '?mode=replace&archive=true');
    expect(report.archived).toBeGreaterThan(3);
    expect((await products()).map(({ id }) => id)).toEqual(['paper-lantern']);
    await bring('variant_id,stock_quantity\nok-1,7');
    expect(await product('ok')).toMatchObject({ title: { en: 'Fine' }, path: '/seeds/ok' });
  });

  it('of more than 5,000 rows is brought in by a job', async () => {
    const rows = Array.from({ length: 5001 }, (_, index) => `big-${index},big,Big,${index}.00`);
    const answer = await importCsv(server, 'catalog', ['variant_id,product_id,title,price', ...rows].join('\n'));
    expect(answer.status).toBe(202);
    const address = answer.headers.get('Location') ?? '';
    const job = async () => (await server.send('GET', address)).body as Job;
    await expect.poll(async () => (await job()).state).toBe('done');
    expect(await job()).toMatchObject({ rows: 5001, rowsDone: 5001, report: { created: 5001, refused: [] } });
    expect((await product('big'))?.variants).toHaveLength(5001);
  });

  it('that is no CSV, or has no rows, is answered plainly', async () => {
    expect((await importCsv(server, 'catalog', 'a,b\n"broken')).status).toBe(400);
    expect((await importCsv(server, 'catalog', '')).body).toMatchObject({ rows: 0, created: 0 });
    expect((await importCsv(server, 'catalog', 'variant_id\nx', '?mode=wipe')).status).toBe(422);
    const anonymous = { raw: 'variant_id\nx', headers: { 'Content-Type': 'text/csv' }, asNobody: true } as const;
    expect((await server.send('POST', '/api/catalog/import', anonymous)).status).toBe(401);
  });
});

describe('a file of people', () => {
  it('brings in customers with dated roles, in the shop’s zone', async () => {
    const csv = [
      'customer_id,email,name,roles',
      'c-1,ada@quillfern.example,Ada Finch,member@2026-06-01/2027-06-01|trade',
      'c-2,not an address,Bram,',
      'c-3,,Cleo,member@2027-01-01/2026-01-01',
      'c-4,dov@quillfern.example,Dov,member@/2026-11-30T12:00',
    ].join('\n');
    const report = (await importCsv(server, 'people', csv)).body as ImportReport;
    expect(report).toMatchObject({ created: 2 });
    expect(report.refused.map(({ line, column }) => [line, column])).toEqual([
      [3, 'email'],
      [4, 'roles'],
    ]);
    const { rows } = await server.db.query<{ from: Date | null }>(
      'SELECT held_from AS "from" FROM customer_roles WHERE role = \'member\' ORDER BY held_from',
    );
    // Midnight in Lisbon in summer is eleven in the evening, UTC.
    expect(rows.map(({ from }) => from?.toISOString() ?? null)).toEqual(['2026-05-31T23:00:00.000Z', null]);
    expect((await importCsv(server, 'people', csv)).body).toMatchObject({ created: 0, changed: 0 });
  });

  it('that replaces archives the others', async () => {
    const report = (await importCsv(server, 'people', 'customer_id,name\nc-9,Inês', '?mode=replace&archive=true')).body;
    expect(report).toMatchObject({ created: 1, archived: 2 });
  });
});
