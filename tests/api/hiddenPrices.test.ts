import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { Understudy } from '../../client/understudy.ts';
import { createShop } from '../../shop/app.ts';
import { CardPayments } from '../../shop/cardPayments.ts';
import { Catalog } from '../../shop/catalog.ts';
import { DRESSINGS } from '../../shop/dressings/dressings.ts';
import { book, everything, make } from '../support/oneVariant.ts';
import { importCsv, startShop, type TestServer } from '../support/testServer.ts';

const CATALOG = `variant_id,product_id,path,title,kind,seller,image,categories,options,price,price_before,attributes,stock_tracked,stock_quantity
hedge-s,hedge,/plants/hedge,Hornbeam,,,/pictures/hedge.svg,Plants,size=small,20.86,27.31,,true,9
hedge-l,hedge,/plants/hedge,Hornbeam,,,/pictures/hedge.svg,Plants,size=large,43.57,,,true,9
moss-1,moss,/plants/moss,Moss,,,/pictures/moss.svg,Plants,,12.34,,,true,9`;
/** Amounts of the hedge however they are written, alone or several of them; and that of the moss. */
const HEDGE = /20[.,]86|2086|27[.,]31|43[.,]57|4357|41[.,]72|54[.,]06/;
const MOSS = /12[.,]34/;

let server: TestServer;
let understudy: Understudy;
beforeAll(async () => {
  server = await startShop();
  // The client's tokens are valid by the machine's clock.
  server.now = Date.now();
  await importCsv(server, 'catalog', CATALOG);
  const { body } = await server.send('GET', '/api/connection');
  const { visitorSecret } = body as { visitorSecret: string };
  understudy = new Understudy({ url: server.url, visitorSecret });
});
afterAll(() => server.stop());

const hedge = { fact: 'product.id', op: 'in', value: ['hedge'] } as const;
const hide = (...surfaces: ('product' | 'listing' | 'quickView' | 'cart')[]) =>
  server.publish(
    book(
      make(
        'asked',
        { price: { show: false, text: 'Price on request' } },
        surfaces.length > 0
          ? {
              all: [
                { ...hedge, value: [...hedge.value] },
                { fact: 'surface', op: 'in', value: surfaces },
              ],
            }
          : { ...hedge, value: [...hedge.value] },
      ),
    ),
  );

describe.each(Object.entries(DRESSINGS))('the sample shop dressed in %s', (_name, dressing) => {
  let shop: Server;
  let url: string;
  let cookie: string;
  beforeEach(() => {
    cookie = '';
  });
  beforeAll(async () => {
    const app = createShop({
      catalog: new Catalog(CATALOG),
      customers: [],
      understudy,
      understudyUrl: server.url,
      dressing,
      cards: new CardPayments('http://127.0.0.1:9', 'http://127.0.0.1:9'),
      site: 'http://shop.test',
    });
    shop = createServer(app).listen(0, '127.0.0.1');
    await new Promise((resolve) => shop.once('listening', resolve));
    url = `http://127.0.0.1:${(shop.address() as AddressInfo).port}`;
  });
  afterAll(() => void shop.close());

  const page = async (path: string, body?: Record<string, string>): Promise<string> => {
    const response = await fetch(url + path, {
      method: body ? 'POST' : 'GET',
      headers: { cookie },
      redirect: 'manual',
      ...(body ? { body: new URLSearchParams(body) } : {}),
    });
    cookie = response.headers.getSetCookie()[0]?.split(';', 1)[0] ?? cookie;
    const next = response.headers.get('Location');
    return next === null ? response.text() : page(next);
  };
  const ADDED = { variant: 'hedge-s', quantity: '2' };

  it('leaves a hidden price out of the source of every page, and no other', async () => {
    await hide();
    for (const path of ['/', '/range/plants', '/search?q=o', '/plants/hedge', '/plants/moss', '/glance/plants/hedge']) {
      const html = await page(path);
      expect(html, path).not.toMatch(HEDGE);
      if (path !== '/glance/plants/hedge') expect(html, path).toContain(path === '/plants/hedge' ? 'Hornbeam' : 'Moss');
    }
    expect(await page('/')).toMatch(MOSS);
  });

  it('leaves it out of basket, checkout and order, with the totals that would tell it', async () => {
    await hide();
    await page('/basket/add', ADDED);
    await page('/basket/add', { variant: 'moss-1', quantity: '1' });
    for (const path of ['/basket', '/checkout']) {
      const html = await page(path);
      expect(html, path).toContain('Hornbeam');
      expect(html, path).toContain('Price on request');
      expect(html, path).toMatch(MOSS);
      expect(html, path).not.toMatch(HEDGE);
    }
    const order = await page('/checkout', { method: 'invoice', name: 'Ada', email: 'ada@quillfern.example' });
    expect(order).toContain('Thank you');
    expect(order).toMatch(MOSS);
    expect(order).not.toMatch(HEDGE);
    // Prices of lines added before the rule are left out too.
    await server.publish(book(make('none', { express: 'show' }, everything)));
    await page('/basket/add', ADDED);
    expect(await page('/basket')).toMatch(HEDGE);
    await hide();
    expect(await page('/basket')).not.toMatch(HEDGE);
  });

  it('shows it where it is not hidden', async () => {
    await hide('listing');
    expect(await page('/')).not.toMatch(HEDGE);
    expect(await page('/plants/hedge')).toMatch(HEDGE);
  });
});
