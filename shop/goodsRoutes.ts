import type { Express, Request, Response } from 'express';
import type { Product } from './catalog.ts';
import type { Shop } from './shop.ts';
import { html } from './html.ts';
import { borderPage, frontPage, glance, othersBeside, productPage, rangePage, shelf } from './pages/goods.ts';
import { picture } from './pictures.ts';
import { styleOf, visitOf, type Send } from './send.ts';
import { translate } from './words.ts';

/** Goods that make a border together. */
const BORDER = [
  '/plants/last-bus',
  '/plants/saffron-hill',
  '/plants/harts-tongue',
  '/plants/inkwell',
  '/plants/pin-cushion',
];

/** Listings, search, products, quick looks, and several products at once. */
export function goodsRoutes(app: Express, shop: Shop, send: Send): void {
  const { catalog } = shop;
  app.get('/pictures/:file', (request, response, next) => {
    const product = catalog.products.find((candidate) => candidate.picture === request.path);
    if (product) response.type('svg').set('Cache-Control', 'max-age=3600').send(picture(product));
    else next();
  });
  app.get('/', async (request, response) => {
    const style = await styleOf(shop, { path: '/', response }, { listing: catalog.products });
    await send(request, response, 'Quillfern', frontPage(catalog, style));
  });
  app.get('/range/{*slugs}', async (request, response, next) => {
    const slugs = request.path.slice('/range/'.length);
    const names = catalog.namesOf(slugs);
    if (!names) {
      next();
      return;
    }
    const style = await styleOf(shop, { path: request.path, response }, { listing: catalog.within(slugs) });
    await send(request, response, names.at(-1) ?? '', rangePage(catalog, slugs, style));
  });
  app.get('/search', async (request, response) => {
    const words = typeof request.query.q === 'string' ? request.query.q : '';
    const found = catalog.search(words);
    const style = await styleOf(shop, { path: '/search', response }, { listing: found });
    const title = translate(style.language, 'search');
    const body = html`<main>
      <h1>${title}: ${words}</h1>
      ${shelf(found, style)}
      <script
        src="/assets/searched.js"
        data-to="${shop.understudyUrl}"
        data-words="${words.slice(0, 200)}"
        data-found="${found.length}"
      ></script>
    </main>`;
    await send(request, response, title, body);
  });
  app.get('/border', async (request, response) => {
    const products = BORDER.flatMap((path) => catalog.at(path) ?? []);
    const style = await styleOf(shop, { path: '/border', response }, { listing: products });
    await send(request, response, translate(style.language, 'border'), borderPage(products, style));
  });
  app.get('/collection', (request, response) => {
    const { language } = visitOf(response);
    const body = html`<main class="narrow">
      <h1>${translate(language, 'collection')}</h1>
      <p>${translate(language, 'collectionText')}</p>
    </main>`;
    return send(request, response, 'Collection', body);
  });
  app.get('/quote-sheet', (request, response) => {
    const { language } = visitOf(response);
    const body = html`<main class="narrow">
      <h1>${translate(language, 'sheet')}</h1>
      <div data-understudy-quote-sheet><p class="empty">${translate(language, 'emptySheet')}</p></div>
    </main>`;
    return send(request, response, translate(language, 'sheet'), body);
  });
  app.get('/glance/{*path}', async (request, response, next) => {
    const product = catalog.at(request.path.slice('/glance'.length));
    if (!product) {
      next();
      return;
    }
    // The quick view opens over the page that requests it.
    const from = new URL(request.get('Referer') ?? '/', shop.site);
    const style = await styleOf(shop, { path: from.pathname, response }, { quickView: [product] });
    response.type('html').send(glance(product, style).markup);
  });
  app.get('/{*path}', async (request, response, next) => {
    const product = catalog.at(request.path);
    if (!product) {
      next();
      return;
    }
    await sendProduct(shop, send, { request, response }, product);
  });
}

/** Sends a product's own page, also in answer to a form that was refused. */
export async function sendProduct(
  shop: Shop,
  send: Send,
  { request, response }: { request: Request; response: Response },
  product: Product,
  at?: string,
): Promise<void> {
  const { catalog, dressing } = shop;
  const shelves = { product: [product], listing: othersBeside(product, catalog, dressing) };
  const style = await styleOf(shop, { path: product.path, response }, shelves);
  await send(request, response, product.title, productPage(product, catalog, style), at);
}
