import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Feed } from '#core/contract/feedCalls.ts';
import type { Product } from '#core/contract/shopCalls.ts';
import { startShop, type TestServer } from '../support/testServer.ts';

const MINUTE = 60_000;
const GERMAN = 'Artikel;Preis;Bestand\nFarn;5,90;3\nMoos;2,10;0\n';

/** The shop's own program, which makes the file. */
let file = GERMAN;
let status = 200;
/** The answer waits for this. */
let waitFor: Promise<void> | null = null;
let release: () => void = () => undefined;
const asked: IncomingMessage['headers'][] = [];
const answer = (request: IncomingMessage, response: ServerResponse) => {
  asked.push(request.headers);
  if (request.url === '/elsewhere.csv') {
    response.writeHead(302, { Location: 'http://127.0.0.2:1/stock.csv' }).end();
    return;
  }
  if (waitFor && request.url === '/slow.csv') {
    const waited = waitFor;
    waitFor = null;
    void waited.then(() => response.writeHead(200, { 'Content-Type': 'text/csv' }).end(file));
    return;
  }
  const etag = `"${file.length}"`;
  if (status === 200 && request.headers['if-none-match'] === etag) response.writeHead(304, { ETag: etag }).end();
  else response.writeHead(status, { 'Content-Type': 'text/csv', ETag: etag }).end(status === 200 ? file : '');
};

let shop: Server;
let host = '';
let server: TestServer;
beforeAll(async () => {
  shop = createServer(answer).listen(0, '127.0.0.1');
  await new Promise((resolve) => shop.once('listening', resolve));
  host = `127.0.0.1:${(shop.address() as AddressInfo).port}`;
  server = await startShop({ privateHosts: [host] });
});
afterAll(async () => {
  await server.stop();
  shop.close();
});

const feeds = async () => (await server.send('GET', '/api/feeds')).body as Feed[];
const add = async (path: string, more: object = {}) =>
  server.send('POST', '/api/feeds', {
    body: { target: 'catalog', address: `http://${host}${path}`, everyMinutes: 60, mode: 'merge', ...more },
  });
const fetchDue = async () => {
  await server.needs.feeds.look();
  await server.needs.feeds.settled();
};
const products = async () => ((await server.send('GET', '/api/products')).body as { products: Product[] }).products;
const priceOf = async (id: string) => (await products()).find((product) => product.id === id)?.variants[0]?.price;
/** Waits until the last call's background work has ended. */
const settled = () =>
  expect
    .poll(async () => (await feeds()).every(({ fetchedAt, error }) => fetchedAt !== null || error !== null))
    .toBe(true);

describe('a feed', () => {
  it('is fetched at once, read by its headings, and says what came of it', async () => {
    expect((await add('/stock.csv', { secret: 'Bearer of-the-shop' })).status).toBe(201);
    await settled();
    expect(await feeds()).toMatchObject([
      { address: `http://${host}/stock.csv`, hasSecret: true, error: null, newest: { state: 'done', created: 2 } },
    ]);
    expect(JSON.stringify(await feeds())).not.toContain('of-the-shop');
    expect(asked.at(-1)?.authorization).toBe('Bearer of-the-shop');
    expect(await priceOf('farn')).toBe(590);
  });

  it('is fetched again when it is due, and not before; the same file is not read twice', async () => {
    const count = asked.length;
    server.now += 59 * MINUTE;
    await fetchDue();
    expect(asked).toHaveLength(count);
    server.now += MINUTE;
    await fetchDue();
    expect(asked).toHaveLength(count + 1);
    expect(asked.at(-1)?.['if-none-match']).toBe(`"${GERMAN.length}"`);
    const [feed] = await feeds();
    expect(feed).toMatchObject({ error: null, newest: { created: 2 } });
    expect(Date.parse(feed!.fetchedAt!)).toBe(server.now);
  });

  it('is fetched by one copy of the server alone, however many look', async () => {
    const count = asked.length;
    server.now += 60 * MINUTE;
    await Promise.all([fetchDue(), fetchDue(), fetchDue()]);
    expect(asked).toHaveLength(count + 1);
  });

  it('brings in what has changed', async () => {
    file = GERMAN.replace('5,90', '16,40');
    server.now += 60 * MINUTE;
    await fetchDue();
    expect(await priceOf('farn')).toBe(1640);
    expect(await feeds()).toMatchObject([{ newest: { created: 0, changed: 1 } }]);
  });

  it('that fails says why, waits for a person, is tried again, and is well when it comes in', async () => {
    status = 503;
    server.now += 60 * MINUTE;
    await fetchDue();
    expect(await feeds()).toMatchObject([{ error: 'The address answered with 503.', newest: { changed: 1 } }]);
    expect((await server.send('GET', '/api/attention')).body).toMatchObject({ feeds: ['catalog'] });
    status = 200;
    server.now += 60 * MINUTE;
    await fetchDue();
    expect(await feeds()).toMatchObject([{ error: null }]);
    expect((await server.send('GET', '/api/attention')).body).toMatchObject({ feeds: [] });
  });

  it('whose file cannot be told apart changes nothing, and says what to do', async () => {
    file = 'Kolonne A;Kolonne B\n1;2\n';
    const before = await products();
    server.now += 60 * MINUTE;
    await fetchDue();
    expect((await feeds())[0]?.error).toContain('import it once by hand');
    expect(await products()).toEqual(before);
    file = '';
    server.now += 60 * MINUTE;
    await fetchDue();
    expect((await feeds())[0]?.error).toBe('The file has no rows below a header.');
    file = GERMAN;
  });

  it('whose import fails is fetched again, though the file is the same, and waits for a person meanwhile', async () => {
    server.now += 60 * MINUTE;
    await fetchDue();
    const [{ newest }] = (await feeds()) as [Feed];
    await server.db.query("UPDATE imports SET state = 'interrupted' WHERE id = $1", [newest?.id]);
    expect((await server.send('GET', '/api/attention')).body).toMatchObject({ feeds: ['catalog'] });
    server.now += 60 * MINUTE;
    await fetchDue();
    const [again] = (await feeds()) as [Feed];
    expect(again.newest).toMatchObject({ state: 'done' });
    expect(again.newest?.id).not.toBe(newest?.id);
  });

  it('never asks an address inside the network, nor is led there', async () => {
    await add('/x', { address: 'http://127.0.0.1:1/stock.csv' });
    await add('/elsewhere.csv');
    await settled();
    const [, inside, elsewhere] = await feeds();
    expect(inside?.error).toContain('inside a private network');
    expect(elsewhere?.error).toBe('The address answered with 302.');
  });

  it('that would archive more than a tenth waits to be confirmed, and is reported until then', async () => {
    for (const feed of await feeds()) await server.send('DELETE', `/api/feeds/${feed.id}`);
    const rows = Array.from({ length: 20 }, (_, index) => `Baum${index};5,00;3`);
    const before = 'Artikel;Preis;Bestand\n';
    file = `${before}Farn;5,90;3\nMoos;2,10;0\n${rows.join('\n')}\n`;
    await add('/trees.csv', { mode: 'replace' });
    await fetchDue();
    expect(await feeds()).toMatchObject([{ error: null, newest: { state: 'done' } }]);
    // The shop's program broke off after a few rows.
    file = `${before}Farn;5,90;3\n${rows.slice(0, 3).join('\n')}\n`;
    server.now += 60 * MINUTE;
    await fetchDue();
    const [feed] = (await feeds()) as [Feed];
    expect(feed).toMatchObject({
      error: expect.stringContaining('more than a tenth') as string,
      newest: { state: 'previewed' },
    });
    expect(await priceOf('baum19')).toBe(500);
    server.now += 60 * MINUTE;
    await fetchDue();
    expect((await feeds())[0]).toMatchObject({ error: feed.error, newest: { id: feed.newest?.id } });
    expect((await server.send('POST', `/api/imports/${feed.newest!.id}/start?archive=true`)).status).toBe(202);
    await expect.poll(async () => (await feeds())[0]?.newest?.state).toBe('done');
    expect(await priceOf('baum19')).toBeUndefined();
    server.now += 60 * MINUTE;
    await fetchDue();
    expect((await feeds())[0]?.error).toBeNull();
    for (const { id } of await feeds()) await server.send('DELETE', `/api/feeds/${id}`);
    file = GERMAN;
  });

  it('that is slow holds up no other, and is downloaded once however often it is wanted', async () => {
    const slow = new Promise<void>((resolve) => (release = resolve));
    waitFor = slow;
    await add('/slow.csv');
    await expect.poll(() => waitFor === null).toBe(true);
    const count = asked.length;
    const [{ id }] = (await feeds()) as [Feed];
    await add('/quick.csv');
    await expect.poll(async () => (await feeds())[1]?.newest?.state).toBe('done');
    expect((await server.send('POST', `/api/feeds/${id}/fetch`)).status).toBe(202);
    await server.needs.feeds.look();
    expect(asked).toHaveLength(count + 1);
    expect((await feeds())[0]?.fetchedAt).toBeNull();
    release();
    await server.needs.feeds.settled();
    expect((await feeds())[0]).toMatchObject({ error: null, newest: { state: 'done' } });
  });

  it('that a server left is taken over once its time is over, and says so until it is in', async () => {
    const [{ id }] = (await feeds()) as [Feed];
    // The state that a killed server leaves behind.
    await server.db.query(
      "UPDATE feeds SET fetching_since = $2, next_at = $2::timestamptz + interval '30 minutes' WHERE id = $1",
      [id, new Date(server.now)],
    );
    const count = asked.length;
    await fetchDue();
    expect(asked).toHaveLength(count);
    server.now += 31 * MINUTE;
    const slow = new Promise<void>((resolve) => (release = resolve));
    waitFor = slow;
    await server.needs.feeds.look();
    expect((await feeds()).find((one) => one.id === id)?.error).toContain('interrupted');
    release();
    await server.needs.feeds.settled();
    expect((await feeds()).find((one) => one.id === id)?.error).toBeNull();
  });

  it('that does not answer is asked again within minutes', async () => {
    for (const feed of await feeds()) await server.send('DELETE', `/api/feeds/${feed.id}`);
    status = 503;
    await add('/stock.csv');
    await settled();
    await server.needs.feeds.settled();
    status = 200;
    server.now += 5 * MINUTE;
    await fetchDue();
    expect(await feeds()).toMatchObject([{ error: null }]);
  });

  it('shows nobody the credentials in its address', async () => {
    for (const feed of await feeds()) await server.send('DELETE', `/api/feeds/${feed.id}`);
    await add('/', { address: `http://wren:se%40cret@${host}/stock.csv?key=hidden-1&v=2` });
    await settled();
    await server.needs.feeds.settled();
    expect(await feeds()).toMatchObject([
      { address: `http://${host}/stock.csv?key=…&v=…`, hasSecret: true, error: null },
    ]);
    expect(asked.at(-1)?.authorization).toBe(`Basic ${Buffer.from('wren:se@cret').toString('base64')}`);
    const imports = await server.send('GET', '/api/imports');
    const record = await server.send('GET', '/api/record');
    expect(JSON.stringify([imports.body, record.body])).not.toMatch(/se%40cret|se@cret|hidden-1/);
  });

  it('is fetched now when somebody wants it, and no more when it is removed', async () => {
    const [{ id }] = (await feeds()) as [Feed];
    const count = asked.length;
    expect((await server.send('POST', `/api/feeds/${id}/fetch`)).status).toBe(202);
    await expect.poll(() => asked.length).toBe(count + 1);
    for (const feed of await feeds()) await server.send('DELETE', `/api/feeds/${feed.id}`);
    expect(await feeds()).toEqual([]);
    server.now += 600 * MINUTE;
    await fetchDue();
    expect(asked).toHaveLength(count + 1);
    expect((await server.send('POST', `/api/feeds/${id}/fetch`)).status).toBe(404);
  });
});
