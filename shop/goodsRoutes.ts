import type { Express } from 'express';
import type { Shop } from './shop.ts';
import { html } from './html.ts';
import { borderPage, frontPage, glance, productPage, rangePage, shelf } from './pages/goods.ts';
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
  app.get('/', (request, response) =>
    send(request, response, 'Quillfern', frontPage(catalog, styleOf(shop, response))),
  );
  app.get('/range/{*slugs}', async (request, response, next) => {
    const slugs = request.path.slice('/range/'.length);
    const names = catalog.namesOf(slugs);
    if (names) await send(request, response, names.at(-1) ?? '', rangePage(catalog, slugs, styleOf(shop, response)));
    else next();
  });
  app.get('/search', async (request, response) => {
    const words = typeof request.query.q === 'string' ? request.query.q : '';
    const style = styleOf(shop, response);
    const title = translate(style.language, 'search');
    const found = catalog.search(words);
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
  app.get('/border', (request, response) => {
    const products = BORDER.flatMap((path) => catalog.at(path) ?? []);
    const style = styleOf(shop, response);
    return send(request, response, translate(style.language, 'border'), borderPage(products, style));
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
  app.get('/glance/{*path}', (request, response, next) => {
    const product = catalog.at(request.path.slice('/glance'.length));
    if (product) response.type('html').send(glance(product, styleOf(shop, response)).markup);
    else next();
  });
  app.get('/{*path}', async (request, response, next) => {
    const product = catalog.at(request.path);
    if (product) await send(request, response, product.title, productPage(product, catalog, styleOf(shop, response)));
    else next();
  });
}
