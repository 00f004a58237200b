import express, { type Express } from 'express';
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { buyingRoutes } from './buyingRoutes.ts';
import { goodsRoutes } from './goodsRoutes.ts';
import { html } from './html.ts';
import { membershipRoutes } from './membershipRoutes.ts';
import type { Shop } from './shop.ts';
import { sender, visitOf } from './send.ts';
import { visitRoutes } from './visitRoutes.ts';
import { visits } from './visits.ts';
import { translate } from './words.ts';

/** The sample shop. It knows Understudy as every shop would: its script, its public calls, its guard. */
export function createShop(shop: Shop): Express {
  const { understudyUrl } = shop;
  const app = express();
  const send = sender(shop);
  app.disable('x-powered-by');
  app.get('/health', (_request, response) => void response.json({ status: 'alive' }));
  app.use('/assets', express.static(fileURLToPath(new URL('./assets', import.meta.url))));
  app.use(
    '/fonts/alegreya',
    express.static(folderOf(import.meta.resolve('@fontsource-variable/alegreya')), { maxAge: '1d' }),
  );
  app.use(
    '/fonts/alegreya-sans',
    express.static(folderOf(import.meta.resolve('@fontsource/alegreya-sans')), { maxAge: '1d' }),
  );
  app.use((_request, response, next) => {
    const policy = `default-src 'self'; script-src 'self' ${understudyUrl}; connect-src 'self' ${understudyUrl}; style-src 'self'`;
    response.set('Content-Security-Policy', policy);
    next();
  });
  app.use(express.urlencoded({ extended: false }), visits());

  buyingRoutes(app, shop, send);
  membershipRoutes(app, shop, send);
  visitRoutes(app, shop, send);
  goodsRoutes(app, shop, send);
  app.use(async (request, response) => {
    response.status(404);
    const { language } = visitOf(response);
    await send(
      request,
      response,
      '404',
      html`<main class="narrow"><h1>${translate(language, 'noSuchPage')}</h1></main>`,
    );
  });
  return app;
}

const folderOf = (address: string) => dirname(fileURLToPath(address));
