import type { Express, Request, Response } from 'express';
import type { Shop } from './app.ts';
import { accountPage, basketPage, checkoutPage, linesOf, orderPage, type Order } from './pages/buying.ts';
import { productPage, shelf } from './pages/goods.ts';
import { field, fields, styleOf, visitOf, type Send } from './send.ts';
import { askGuard, type Line, type Verdict } from './understudy.ts';
import type { Visit } from './visits.ts';
import { say } from './words.ts';

/** Basket, checkout and orders. Nothing is put in or sold before the guard has said yes, at the price that it names. */
export function buyingRoutes(app: Express, shop: Shop, send: Send): void {
  const { catalog, understudy } = shop;
  const orders = new Map<number, Order>();

  const guard = (visit: Visit, via: 'cart' | 'express', lines: readonly Line[]): Promise<Verdict> =>
    askGuard(understudy, { via, lines, visit });
  const priceIn = ({ lines }: Verdict, variantId: string) =>
    lines.find((line) => line.variantId === variantId)?.unitPrice ?? catalog.variant(variantId)?.variant.price ?? 0;

  /** A purchase that is refused: the shopper is told why, on the page they came from. */
  const refuse = async (request: Request, response: Response, { lines }: Verdict) => {
    const visit = visitOf(response);
    const refused = lines.find(({ ok }) => !ok);
    visit.message = refused?.text ?? null;
    const product = catalog.variant(refused?.variantId ?? '')?.product;
    const style = styleOf(shop, response);
    const body = product ? productPage(product, catalog, style) : shelf([], style);
    response.status(409);
    await send(request, response, product?.title ?? say(visit.language, 'basket'), body);
  };

  const putIn = async (request: Request, response: Response, wanted: readonly Line[]) => {
    const visit = visitOf(response);
    const lines = wanted.map(({ variantId, quantity }) => ({
      variantId,
      quantity: quantity + (visit.lines.find((line) => line.variantId === variantId)?.quantity ?? 0),
    }));
    const verdict = await guard(visit, 'cart', lines);
    if (!verdict.ok) {
      await refuse(request, response, verdict);
      return;
    }
    const others = visit.lines.filter(({ variantId }) => !lines.some((line) => line.variantId === variantId));
    visit.lines = [...others, ...lines.map((line) => ({ ...line, unitPrice: priceIn(verdict, line.variantId) }))];
    visit.message = say(visit.language, 'added');
    response.redirect(303, '/basket');
  };
  app.post('/basket/add', (request, response) => {
    const quantity = Number(field(request, 'quantity') || 1);
    return putIn(request, response, [{ variantId: field(request, 'variant'), quantity }]);
  });
  app.post('/basket/add-several', async (request, response) => {
    const quantities = fields(request, 'quantity').map(Number);
    const wanted = fields(request, 'variant').map((variantId, index) => ({
      variantId,
      quantity: quantities[index] ?? 0,
    }));
    const some = wanted.filter(({ quantity }) => quantity !== 0);
    if (some.length === 0) response.redirect(303, '/border');
    else await putIn(request, response, some);
  });
  app.post('/basket/take-out', (request, response) => {
    const visit = visitOf(response);
    visit.lines = visit.lines.filter(({ variantId }) => variantId !== field(request, 'variant'));
    response.redirect(303, '/basket');
  });

  const placeOrder = (visit: Visit, lines: Visit['lines'], method: string, response: Response) => {
    const number = 1001 + orders.size;
    const customerId = visit.customer?.id ?? null;
    orders.set(number, { number, method, customerId, lines: linesOf(catalog, lines) });
    response.redirect(303, `/order/${number}`);
  };
  app.post('/swift-pay', async (request, response) => {
    const visit = visitOf(response);
    const line = { variantId: field(request, 'variant'), quantity: Number(field(request, 'quantity') || 1) };
    const verdict = await guard(visit, 'express', [line]);
    if (!verdict.ok) await refuse(request, response, verdict);
    else placeOrder(visit, [{ ...line, unitPrice: priceIn(verdict, line.variantId) }], 'express', response);
  });

  /** Why lines of the basket cannot be sold now. A price that has changed is taken over, and said. */
  const refusalsOf = async (visit: Visit): Promise<ReadonlyMap<string, string>> => {
    if (visit.lines.length === 0) return new Map();
    const { lines } = await guard(visit, 'cart', visit.lines);
    const refused = lines.filter(({ ok }) => !ok);
    const changed = refused.filter(({ code, unitPrice }) => code === 'priceChanged' && unitPrice !== null);
    if (changed.length > 0) {
      const prices = new Map(changed.map(({ variantId, unitPrice }) => [variantId, unitPrice]));
      visit.lines = visit.lines.map((line) => ({ ...line, unitPrice: prices.get(line.variantId) ?? line.unitPrice }));
      visit.message = say(visit.language, 'newPrice');
    }
    return new Map(refused.map(({ variantId, text }) => [variantId, text ?? '']));
  };
  const basketOf = (visit: Visit, refusals: ReadonlyMap<string, string>) =>
    basketPage(linesOf(catalog, visit.lines), visit.language, refusals);

  app.get('/basket', async (request, response) => {
    const visit = visitOf(response);
    const refusals = await refusalsOf(visit);
    await send(request, response, say(visit.language, 'basket'), basketOf(visit, refusals));
  });
  app.get('/checkout', async (request, response) => {
    const visit = visitOf(response);
    const refusals = await refusalsOf(visit);
    const body = checkoutPage(linesOf(catalog, visit.lines), styleOf(shop, response), refusals);
    await send(request, response, say(visit.language, 'checkout'), body);
  });
  app.post('/checkout', async (request, response) => {
    const visit = visitOf(response);
    const refusals = await refusalsOf(visit);
    if (refusals.size > 0 || visit.lines.length === 0) {
      response.status(409);
      await send(request, response, say(visit.language, 'basket'), basketOf(visit, refusals));
      return;
    }
    const { lines } = visit;
    visit.lines = [];
    placeOrder(visit, lines, field(request, 'method') === 'invoice' ? 'invoice' : 'card', response);
  });

  const isTheirs = ({ customerId }: Order, { customer }: Visit) => customerId === null || customerId === customer?.id;
  app.get('/order/:number', async (request, response, next) => {
    const order = orders.get(Number(request.params.number));
    const visit = visitOf(response);
    if (order && isTheirs(order, visit)) await send(request, response, 'Order', orderPage(order, visit.language));
    else next();
  });
  app.get('/account', async (request, response) => {
    const { customer, language } = visitOf(response);
    if (!customer) {
      response.redirect(303, '/sign-in');
      return;
    }
    const own = [...orders.values()].filter(({ customerId }) => customerId === customer.id);
    await send(request, response, say(language, 'account'), accountPage(customer, own, language));
  });
}
