import express, { type Express, type Request, type Response } from 'express';
import { fileURLToPath } from 'node:url';
import type { Catalog } from './catalog.ts';
import { html, type Html } from './html.ts';
import { basketPage, checkoutPage, linesOf, orderPage, signInPage, type Order } from './pages/buying.ts';
import { productPage, rangePage, shelf } from './pages/goods.ts';
import { layout } from './pages/layout.ts';
import type { Customer } from './people.ts';
import { picture } from './pictures.ts';
import { askGuard, visitorToken, type UnderstudySettings, type Verdict } from './understudy.ts';
import { LANGUAGES, visits, type Visit } from './visits.ts';
import { say } from './words.ts';

export interface Shop {
  readonly catalog: Catalog;
  readonly customers: readonly Customer[];
  readonly understudy: UnderstudySettings;
}

/** The sample shop: pages rendered on the server, with plain forms. It knows Understudy as every shop would. */
export function createShop({ catalog, customers, understudy }: Shop): Express {
  const app = express();
  const orders = new Map<number, Order>();
  app.disable('x-powered-by');
  app.get('/health', (_request, response) => void response.json({ status: 'alive' }));
  app.use('/assets', express.static(fileURLToPath(new URL('./assets', import.meta.url))));
  app.get('/pictures/:file', (request, response, next) => {
    const product = catalog.products.find((candidate) => candidate.picture === request.path);
    if (product) response.type('svg').set('Cache-Control', 'max-age=3600').send(picture(product));
    else next();
  });
  app.use((_request, response, next) => {
    const policy = `default-src 'self'; script-src 'self' ${understudy.url}; connect-src 'self' ${understudy.url}; style-src 'self'`;
    response.set('Content-Security-Policy', policy);
    next();
  });
  app.use(express.urlencoded({ extended: false }), visits());

  const send = async (request: Request, response: Response, title: string, body: (visit: Visit) => Html) => {
    const visit = visitOf(response);
    const token = await visitorToken(understudy, visit.customer);
    const context = { visit, token, understudyUrl: understudy.url, path: request.originalUrl };
    response.set('Cache-Control', 'no-store').send(layout(context, title, body(visit)));
  };
  const guard = (visit: Visit, via: 'cart' | 'express', lines: Visit['lines']): Promise<Verdict> => {
    const { customer, language } = visit;
    const offered = lines.map((line) => ({ ...line, unitPrice: catalog.variant(line.variantId)?.variant.price ?? 0 }));
    return askGuard(understudy, { via, lines: offered, customer, language });
  };
  /** A purchase that is refused: the shopper is told why, on the page they came from. */
  const refuse = async (request: Request, response: Response, { refusals }: Verdict, variantId: string) => {
    const visit = visitOf(response);
    visit.message = refusals.find((refusal) => refusal.variantId === variantId)?.text ?? refusals[0]?.text ?? null;
    const product = catalog.variant(variantId)?.product;
    response.status(409);
    await send(request, response, product?.title ?? say(visit.language, 'basket'), ({ language }) =>
      product ? productPage(product, language) : shelf([], language),
    );
  };
  const placeOrder = (visit: Visit, lines: Visit['lines'], method: string, response: Response) => {
    const number = 1001 + orders.size;
    orders.set(number, { number, method, lines: linesOf(catalog, { ...visit, lines }) });
    response.redirect(303, `/order/${number}`);
  };

  app.get('/', (request, response) =>
    send(request, response, 'Quillfern', ({ language }) => rangePage(catalog, '', language)),
  );
  app.get('/range/{*slugs}', async (request, response, next) => {
    const slugs = request.path.slice('/range/'.length);
    const names = catalog.namesOf(slugs);
    if (!names) {
      next();
      return;
    }
    await send(request, response, names.at(-1) ?? '', ({ language }) => rangePage(catalog, slugs, language));
  });
  app.get('/search', async (request, response) => {
    const words = textOf(request.query.q);
    await send(
      request,
      response,
      say(visitOf(response).language, 'search'),
      ({ language }) =>
        html`<main>
          <h1>${say(language, 'search')}: ${words}</h1>
          ${shelf(catalog.search(words), language)}
        </main>`,
    );
  });
  app.get('/collection', (request, response) =>
    send(
      request,
      response,
      'Collection',
      ({ language }) =>
        html`<main class="narrow">
          <h1>${say(language, 'collection')}</h1>
          <p>${say(language, 'collectionText')}</p>
        </main>`,
    ),
  );

  app.post('/basket/add', async (request, response) => {
    const visit = visitOf(response);
    const variantId = textOf(formOf(request).variant);
    const quantity = Number(formOf(request).quantity ?? 1);
    const before = visit.lines.find((line) => line.variantId === variantId)?.quantity ?? 0;
    const others = visit.lines.filter((line) => line.variantId !== variantId);
    const line = { variantId, quantity: before + quantity };
    const verdict = await guard(visit, 'cart', [line]);
    if (!verdict.ok) {
      await refuse(request, response, verdict, variantId);
      return;
    }
    visit.lines = [...others, line];
    visit.message = say(visit.language, 'added');
    response.redirect(303, '/basket');
  });
  app.post('/basket/take-out', (request, response) => {
    const visit = visitOf(response);
    visit.lines = visit.lines.filter(({ variantId }) => variantId !== textOf(formOf(request).variant));
    response.redirect(303, '/basket');
  });
  app.post('/swift-pay', async (request, response) => {
    const visit = visitOf(response);
    const variantId = textOf(formOf(request).variant);
    const lines = [{ variantId, quantity: Number(formOf(request).quantity ?? 1) }];
    const verdict = await guard(visit, 'express', lines);
    if (verdict.ok) placeOrder(visit, lines, 'express', response);
    else await refuse(request, response, verdict, variantId);
  });

  const refusalsOf = async (visit: Visit) => {
    const { refusals } = visit.lines.length === 0 ? { refusals: [] } : await guard(visit, 'cart', visit.lines);
    return new Map(refusals.map(({ variantId, text }) => [variantId, text]));
  };
  app.get('/basket', async (request, response) => {
    const refusals = await refusalsOf(visitOf(response));
    await send(request, response, 'Basket', (visit) => basketPage(linesOf(catalog, visit), visit.language, refusals));
  });
  app.get('/checkout', async (request, response) => {
    const refusals = await refusalsOf(visitOf(response));
    await send(request, response, 'Checkout', (visit) =>
      checkoutPage(linesOf(catalog, visit), visit.language, refusals),
    );
  });
  app.post('/checkout', async (request, response) => {
    const visit = visitOf(response);
    const refusals = await refusalsOf(visit);
    if (refusals.size > 0 || visit.lines.length === 0) {
      response.status(409);
      await send(request, response, 'Basket', () => basketPage(linesOf(catalog, visit), visit.language, refusals));
      return;
    }
    const lines = visit.lines;
    visit.lines = [];
    placeOrder(visit, lines, formOf(request).method === 'invoice' ? 'invoice' : 'card', response);
  });
  app.get('/order/:number', async (request, response, next) => {
    const order = orders.get(Number(request.params.number));
    if (order) await send(request, response, 'Order', ({ language }) => orderPage(order, language));
    else next();
  });

  app.get('/sign-in', (request, response) =>
    send(request, response, 'Sign in', ({ language }) => signInPage(customers, language)),
  );
  app.post('/sign-in', (request, response) => {
    visitOf(response).customer = customers.find(({ id }) => id === formOf(request).customer) ?? null;
    response.redirect(303, '/');
  });
  app.post('/sign-out', (_request, response) => {
    visitOf(response).customer = null;
    response.redirect(303, '/');
  });
  app.post('/language', (request, response) => {
    const { language, back } = formOf(request);
    visitOf(response).language = LANGUAGES.find((known) => known === language) ?? 'en';
    const isOwn = typeof back === 'string' && /^\/(?![/\\])/.test(back);
    response.redirect(303, isOwn ? back : '/');
  });

  app.get('/{*path}', async (request, response, next) => {
    const product = catalog.at(request.path);
    if (product) await send(request, response, product.title, ({ language }) => productPage(product, language));
    else next();
  });
  app.use(async (request, response) => {
    response.status(404);
    const body = ({ language }: Visit) => html`<main class="narrow"><h1>${say(language, 'noSuchPage')}</h1></main>`;
    await send(request, response, '404', body);
  });
  return app;
}

const visitOf = (response: Response) => response.locals.visit as Visit;
const formOf = (request: Request) => (request.body ?? {}) as Record<string, unknown>;
const textOf = (value: unknown) => (typeof value === 'string' ? value : '');
