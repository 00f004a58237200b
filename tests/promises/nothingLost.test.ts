import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Import, ImportReport, Job } from '#core/contract/importCalls.ts';
import type { Product } from '#core/contract/shopCalls.ts';
import { endInterrupted, stageRows } from '../../server/imports/importQueries.ts';
import { cloneDatabase } from '../support/databases.ts';
import { forProduct } from '../support/noted.ts';
import { OWNER_KEY as KEY, SETUP_TOKEN, startUnderstudy, type Program } from '../support/programs.ts';
import { sampled } from '../support/sampling.ts';
import { shopToken } from '../support/shopToken.ts';
import { importCsv, OWNER, OWNER_KEY, SHOP, startServer, startShop, type TestServer } from '../support/testServer.ts';

/** Nothing is lost, and nothing that is older overwrites what is newer. */

/** More rows than are written at once, and enough that a kill comes in their middle. */
const LONG = sampled(20_000, 2.5);
const HEADER = 'variant_id,product_id,path,title,price,stock_quantity';
const rows = (count: number, { price, name = 'Many' }: { price: number; name?: string }) =>
  [
    HEADER,
    ...Array.from(
      { length: count },
      (_, index) => `v-${index},p-${index},/plants/p-${index},${name} ${index},${price}.00,5`,
    ),
  ].join('\n');
const everyProduct = async (send: TestServer['send'], search: string) =>
  ((await send('GET', `/api/products?limit=500&search=${search}`)).body as { products: Product[] }).products;
const imports = async ({ send }: Pick<TestServer, 'send'>) =>
  ((await send('GET', '/api/imports')).body as { imports: Import[] }).imports;

describe('a server that is killed in the middle of an import', () => {
  const call = async (program: Program, method: string, path: string, body?: string, type = 'application/json') => {
    const response = await fetch(program.url + path, {
      method,
      headers: { Authorization: `Bearer ${KEY}`, 'Content-Type': type, 'If-Match': '*' },
      ...(body === undefined ? {} : { body }),
    });
    const text = await response.text();
    return {
      status: response.status,
      headers: response.headers,
      body: text === '' ? null : (JSON.parse(text) as unknown),
    };
  };

  it('has it taken up again, and what came in meanwhile is kept', async () => {
    const url = await cloneDatabase();
    let program = await startUnderstudy(url);
    await call(program, 'POST', '/api/setup', JSON.stringify({ token: SETUP_TOKEN, shop: SHOP, owner: OWNER }));
    expect((await call(program, 'POST', '/api/catalog/import', rows(3, { price: 1 }), 'text/csv')).status).toBe(200);
    const long = await call(program, 'POST', '/api/catalog/import', rows(LONG, { price: 2 }), 'text/csv');
    expect(long.status).toBe(202);
    const address = long.headers.get('Location') ?? '';
    const job = async () => (await call(program, 'GET', address)).body as Job;
    await expect.poll(async () => (await job()).rowsDone, { interval: 20 }).toBeGreaterThan(0);
    await program.stop('SIGKILL');

    program = await startUnderstudy(url);
    const { rowsDone } = await job();
    expect(rowsDone).toBeLessThan(LONG);
    // Newer than the import, in rows that it has written and in rows that it has yet to write.
    const lately = (index: number) => `v-${index},p-${index},/plants/p-${index},Newer,9.00,7`;
    const newer = [HEADER, lately(1), lately(LONG - 1)].join('\n');
    expect((await call(program, 'POST', '/api/catalog/import', newer, 'text/csv')).status).toBe(200);
    await call(program, 'PUT', '/api/stock', JSON.stringify([{ variantId: `v-${LONG - 2}`, quantity: 40 }]));
    await expect.poll(async () => (await job()).state).toBe('done');
    const { report } = await job();
    expect(report).toMatchObject({ rows: LONG, refused: [] });
    expect(report?.kept).toBeGreaterThanOrEqual(1);
    const found = (await call(program, 'GET', '/api/products?limit=500&search=Newer')).body as { products: Product[] };
    expect(found.products.map(({ id, variants }) => [id, variants[0]?.price])).toEqual([
      ['p-1', 900],
      [`p-${LONG - 1}`, 900],
    ]);
    const all = (await call(program, 'GET', '/api/products?limit=1')).body as { total: number };
    expect(all.total).toBe(LONG);
    await program.stop();
  });

  it('says where the owner sees it that what was still being read is gone', async () => {
    const server = await startShop({ lookEveryMs: { imports: 100 } });
    try {
      await server.db.query(
        "INSERT INTO imports (target, mode, bad_rows, heartbeat_at) VALUES ('catalog', 'merge', 'skip', now() - interval '1 minute')",
      );
      await expect.poll(async () => (await imports(server))[0]?.state).toBe('interrupted');
      expect((await server.send('GET', '/api/attention')).body).toMatchObject({ imports: 1 });
      await importCsv(server, 'catalog', rows(1, { price: 1 }));
      expect((await server.send('GET', '/api/attention')).body).toMatchObject({ imports: 0 });
    } finally {
      await server.stop();
    }
  });
});

describe('a server that stands still while it reads a file', () => {
  it.each([
    { what: 'before its rows', rowsBefore: 0 },
    { what: 'amid its rows', rowsBefore: 1 },
  ])('has nothing of it written, and says so: $what', async ({ rowsBefore }) => {
    const server = await startShop();
    const { db } = server;
    try {
      let finish!: () => void;
      const finished = new Promise<void>((resolve) => (finish = resolve));
      const body = async function* () {
        const encoder = new TextEncoder();
        yield encoder.encode(rows(6000, { price: 1 }));
        await finished;
        yield encoder.encode('\nv-last,p-last,/plants/p-last,Last,1.00,5');
      };
      const answer = fetch(`${server.url}/api/catalog/import`, {
        method: 'POST',
        headers: { Authorization: `Bearer ${OWNER_KEY}`, 'Content-Type': 'text/csv' },
        body: body() as unknown as BodyInit,
        duplex: 'half',
      } as RequestInit);
      await expect.poll(async () => (await imports(server))[0]?.state).toBe('reading');
      const [{ id } = { id: '' }] = await imports(server);
      if (rowsBefore > 0) {
        const row = { line: 2, cells: { variant_id: 'v-0' } };
        await stageRows(db, id, { rows: [row], from: 900_000, keyColumn: 'variant_id' });
      }
      // Another copy of the server has not heard of this one for too long.
      await db.query("UPDATE imports SET heartbeat_at = now() - interval '1 minute' WHERE id = $1", [id]);
      await endInterrupted(db);
      finish();
      const { status } = await answer;
      expect(status).toBe(409);
      expect((await imports(server))[0]).toMatchObject({ state: 'interrupted', rows: 0 });
      expect((await db.query('SELECT FROM import_rows')).rowCount).toBe(0);
      expect((await server.send('GET', '/api/products?limit=1')).body).toMatchObject({ total: 0 });
    } finally {
      await server.stop();
    }
  });
});

describe('an import', () => {
  let server: TestServer;
  beforeAll(async () => {
    server = await startShop({ lookEveryMs: { imports: 200 } });
  });
  afterAll(() => server.stop());
  const newest = async () => (await imports(server))[0];
  const ended = (state: Import['state']) =>
    expect.poll(async () => (await newest())?.state, { interval: 20 }).toBe(state);

  it('that is undone leaves everything as it was, but what was changed since', async () => {
    await importCsv(
      server,
      'catalog',
      `${HEADER},tags\nv-0,p-0,/plants/p-0,First,1.00,5,rare\nv-1,p-1,/plants/p-1,Second,1.00,5,`,
    );
    const before = await everyProduct(server.send, '');
    const report = (await importCsv(server, 'catalog', `${rows(3, { price: 8 })}\n`, '?mode=replace&archive=true'))
      .body as ImportReport;
    expect(report).toMatchObject({ created: 1, changed: 2 });
    await server.send('PATCH', '/api/products/p-1', { body: { title: 'Changed since' } });
    const { id, canUndo } = (await newest())!;
    expect(canUndo).toBe(true);
    expect((await server.send('POST', `/api/imports/${id}/undoing`)).status).toBe(202);
    await ended('undone');
    const after = await everyProduct(server.send, '');
    expect(after.map((product) => product.id)).toEqual(['p-0', 'p-1']);
    expect(after[0]).toEqual(before[0]);
    expect(after[1]).toMatchObject({ title: { en: 'Changed since' }, variants: [{ price: 100 }] });
    expect((await server.send('POST', `/api/imports/${id}/undoing`)).status).toBe(409);
  });

  it('that replaced is undone too: what it archived comes back', async () => {
    await importCsv(server, 'catalog', `${HEADER}\nlone,lone,/plants/lone,Lone,3.00,1`, '?mode=replace&archive=true');
    expect((await everyProduct(server.send, '')).map(({ id }) => id)).toEqual(['lone']);
    await server.send('POST', `/api/imports/${(await newest())?.id ?? ''}/undoing`);
    await ended('undone');
    expect((await everyProduct(server.send, '')).map(({ id, path }) => [id, path])).toEqual([
      ['p-0', '/plants/p-0'],
      ['p-1', '/plants/p-1'],
    ]);
  });

  it('of people is undone too', async () => {
    await importCsv(server, 'people', 'customer_id,email,name,roles\nc-1,ada@quillfern.example,Ada,member');
    await importCsv(server, 'people', 'customer_id,email,name,roles\nc-1,ada@quillfern.example,Eve,staff\nc-2,,Bram,');
    await server.send('POST', `/api/imports/${(await newest())?.id ?? ''}/undoing`);
    await ended('undone');
    const { people } = (await server.send('GET', '/api/people')).body as { people: { id: string }[] };
    expect(people).toMatchObject([{ id: 'c-1', name: 'Ada', roles: [{ code: 'member' }] }]);
  });

  it('is stopped on request, keeps what is in, and can be undone', async () => {
    const count = async () => ((await server.send('GET', '/api/products?limit=1')).body as { total: number }).total;
    const before = await count();
    const { body } = await importCsv(server, 'catalog', rows(LONG, { price: 3, name: 'Stopped' }));
    const { id } = body as Job;
    await expect.poll(async () => (await newest())?.rowsDone, { interval: 10 }).toBeGreaterThan(0);
    expect((await server.send('POST', `/api/imports/${id}/cancellation`)).status).toBe(202);
    await ended('cancelled');
    expect((await newest())!.rowsDone).toBeLessThan(LONG);
    await server.send('POST', `/api/imports/${id}/undoing`);
    await ended('undone');
    expect(await count()).toBe(before);
  });

  it('of many rows with one bad one, when none may be, leaves nothing behind', async () => {
    const bad = `${rows(6000, { price: 4, name: 'Refused' })}\nbad,bad,/plants/bad,Bad,dear,1`;
    expect((await importCsv(server, 'catalog', bad, '?badRows=refuseAll')).status).toBe(202);
    await ended('failed');
    expect(await newest()).toMatchObject({ error: 'Rows were refused, so none is in', refused: 1 });
    expect(await everyProduct(server.send, 'Refused')).toEqual([]);
  });

  it('that is older never overwrites what is newer, though the newer changed nothing', async () => {
    await importCsv(server, 'catalog', `${HEADER}\nv-0,p-0,/plants/p-0,As it is,6.00,5`);
    // An older one that waits: its rows say otherwise.
    const older = await server.db.query<{ id: string }>(
      `INSERT INTO imports (target, mode, bad_rows, state, columns, row_count)
       VALUES ('catalog', 'merge', 'skip', 'reading', '{variant_id,price,stock_quantity}', 1) RETURNING id`,
    );
    const { id } = older.rows[0]!;
    await server.db.query('INSERT INTO import_rows VALUES ($1, 0, 2, $2, $3)', [
      id,
      'v-0',
      JSON.stringify({ variant_id: 'v-0', price: '1.00', stock_quantity: '1' }),
    ]);
    expect((await importCsv(server, 'catalog', `${HEADER}\nv-0,p-0,/plants/p-0,As it is,6.00,5`)).body).toMatchObject({
      changed: 0,
    });
    await server.db.query("UPDATE imports SET state = 'waiting' WHERE id = $1", [id]);
    const job = async () => (await server.send('GET', `/api/jobs/${id}`)).body as Job;
    await expect.poll(async () => (await job()).state).toBe('done');
    expect((await job()).report).toMatchObject({ changed: 0, kept: 1 });
    expect((await everyProduct(server.send, 'p-0'))[0]).toMatchObject({
      variants: [{ price: 600, stock: { quantity: 5 } }],
    });
  });
});

describe('an order', () => {
  let server: TestServer;
  let bearer: Record<string, string>;
  beforeAll(async () => {
    server = await startShop();
    await importCsv(server, 'catalog', `${HEADER}\nf-1,fern,/plants/fern,Fern,3.00,5\nt-1,tea,/plants/tea,Tea,4.00,5`);
    bearer = { Authorization: `Bearer ${await shopToken(server)}` };
    await publish('It ships in May.');
  });
  afterAll(() => server.stop());
  const publish = (note: string, from = '2027-05-20') =>
    server.publish({
      format: 'understudy-rulebook',
      version: 1,
      rules: [
        {
          ...forProduct('fern', {
            control: { kind: 'preorder', label: 'Reserve', ships: { from } },
            notes: [{ place: 'belowControl', text: `${note} {preorder.left, plural, other {# left}}` }],
          }),
        },
      ],
    });
  const order = (number: string, lines: object[], more: object = {}) =>
    server.send('POST', '/v1/preorders', {
      body: { order: number, lines, email: 'w@quillfern.example', ...more },
      headers: bearer,
    });
  const reserved = async () => (await server.send('GET', '/api/preorders?variant=f-1')).body;

  it('with one variant in two lines reserves them together', async () => {
    const { status, body } = await order('two-lines', [
      { variantId: 'f-1', quantity: 1 },
      { variantId: 'f-1', quantity: 2 },
    ]);
    expect(status).toBe(200);
    expect(body).toMatchObject({ ok: true, lines: [{ reserved: 1 }, { reserved: 2 }] });
    expect(await reserved()).toMatchObject({ preorders: [{ order: 'two-lines', units: 3 }], total: 1 });
  });

  it('sent again is answered as before, however its lines are ordered; with other content it is a conflict', async () => {
    const lines = [
      { variantId: 'f-1', quantity: 1 },
      { variantId: 't-1', quantity: 1 },
    ];
    const first = await order('again', lines);
    expect(await order('again', [...lines].reverse())).toMatchObject({ status: 200, body: first.body });
    for (const other of [
      order('again', [{ variantId: 'f-1', quantity: 2 }]),
      order('again', lines, { email: 'eve@quillfern.example' }),
    ]) {
      expect(await other).toMatchObject({ status: 409, body: { type: 'urn:understudy:problem:key-in-use' } });
    }
    expect(await reserved()).toMatchObject({ total: 2 });
  });

  it('agrees to the terms and the date that were shown, and to no others; how many are left changes nothing', async () => {
    const terms = async () => {
      const guard = { via: 'cart', lines: [{ variantId: 'f-1', quantity: 1 }] };
      const { body } = await server.send('POST', '/v1/guard', { body: guard, asNobody: true });
      return (body as { lines: { preorder: { terms: string } }[] }).lines[0]?.preorder.terms ?? '';
    };
    const seen = await terms();
    const line = { variantId: 'f-1', quantity: 1, terms: seen };
    expect((await order('as-seen', [line])).body).toMatchObject({ ok: true });
    expect(await terms()).toBe(seen);
    await publish('It ships in May, perhaps.');
    expect((await order('other-words', [line])).body).toMatchObject({ ok: false, lines: [{ code: 'termsChanged' }] });
    await publish('It ships in May.', '2027-09-01');
    expect((await order('other-date', [line])).body).toMatchObject({ ok: false, lines: [{ code: 'termsChanged' }] });
    await publish('It ships in May.');
    expect((await order('as-before', [line])).body).toMatchObject({ ok: true });
    // A line that was sold when seen and is reserved now was not agreed to either.
    expect((await order('nothing-seen', [{ ...line, terms: '' }])).body).toMatchObject({ ok: false });
  });
});

describe('a file of 5,000 rows', () => {
  it('keeps shoppers waiting for no longer than a moment', async () => {
    const server = await startServer();
    try {
      await server.send('POST', '/api/setup', {
        body: { token: 'one-time-link-of-the-test', shop: SHOP, owner: OWNER },
        asNobody: true,
      });
      await importCsv(server, 'catalog', rows(10, { price: 1 }));
      const coming = importCsv(server, 'catalog', rows(5000, { price: 2 }));
      const over = new AbortController();
      void coming.finally(() => {
        over.abort();
      });
      let count = 0;
      while (!over.signal.aborted) {
        const answer = await server.send('POST', '/v1/decisions', {
          body: { surface: 'product', products: [{ id: 'p-1' }] },
          asNobody: true,
        });
        expect(answer.status).toBe(200);
        count += 1;
      }
      expect(count).toBeGreaterThan(5);
      expect((await coming).status).toBe(200);
    } finally {
      await server.stop();
    }
  });
});
