import type { Express, Request, Response } from 'express';
import type { Shop } from './shop.ts';
import type { Payment } from './cardPayments.ts';
import { basketPage, checkoutPage, linesOf, orderPage, totalOf, type Order } from './pages/buying.ts';
import { sendProduct } from './goodsRoutes.ts';
import { accountPage } from './pages/visiting.ts';
import { html } from './html.ts';
import { field, fields, visitOf, type Send } from './send.ts';
import type { Line, Verdict } from '../client/understudy.ts';
import { askGuard, takeOrder, type Buyer } from './understudy.ts';
import type { Visit } from './visits.ts';
import { translate } from './words.ts';

interface Ordered {
  readonly lines: readonly (Visit['lines'][number] & Line)[];
  /** Payment method, as the order page names it. */
  readonly method: string;
  /** Its code, where the shopper chose one. */
  readonly payBy?: string;
  readonly buyer: Buyer;
}

/** An order that is taken once its card payment is made. */
interface Pending extends Ordered {
  readonly payment: Payment;
  readonly visit: Visit;
}

const buyerIn = (request: Request): Buyer => ({
  email: field(request, 'email') || undefined,
  name: field(request, 'name') || undefined,
});

/** Basket, checkout and orders. Nothing is put in or sold before the guard has said yes, at the price that it names. */
export function buyingRoutes(app: Express, shop: Shop, send: Send): void {
  const { catalog, understudy, cards } = shop;
  const orders = new Map<string, Order>();
  const pending = new Map<string, Pending>();

  const guard = (visit: Visit, lines: readonly Line[]): Promise<Verdict> =>
    askGuard(understudy, { via: 'cart', lines, visit });
  const guardOrder = (visit: Visit, lines: readonly Line[], method?: string): Promise<Verdict> =>
    askGuard(understudy, { via: 'order', lines, method, visit });
  /** A line at the guard's price. Where that is hidden from the shopper it names none, and the shop's own counts. */
  const priced = <L extends Line>(line: L, { lines }: Verdict) => {
    const unitPrice = lines.find(({ variantId }) => variantId === line.variantId)?.unitPrice ?? null;
    const own = catalog.variant(line.variantId)?.variant.price ?? 0;
    return { ...line, unitPrice: unitPrice ?? own, isPriceHidden: unitPrice === null };
  };

  /** Shows the reason for a refusal on the page that the shopper came from. */
  const refuse = async (request: Request, response: Response, { lines, refusal }: Verdict) => {
    const visit = visitOf(response);
    const refused = lines.find(({ ok }) => !ok) ?? lines[0];
    visit.message = refusal?.text ?? refused?.text ?? null;
    const product = catalog.variant(refused?.variantId ?? '')?.product;
    response.status(409);
    // The address is the product page's again, for the script and for a reload.
    if (product) await sendProduct(shop, send, { request, response }, product, product.path);
    else {
      const nothing = html`<p class="empty">${translate(visit.language, 'nothingFound')}</p>`;
      await send(request, response, translate(visit.language, 'basket'), nothing);
    }
  };

  const putIn = async (request: Request, response: Response, wanted: readonly Line[]) => {
    const visit = visitOf(response);
    const lines = wanted.map(({ variantId, quantity, ...price }) => ({
      variantId,
      ...price,
      quantity: quantity + (visit.lines.find((line) => line.variantId === variantId)?.quantity ?? 0),
    }));
    const verdict = await guard(visit, lines);
    if (!verdict.ok) {
      await refuse(request, response, verdict);
      return;
    }
    const others = visit.lines.filter(({ variantId }) => !lines.some((line) => line.variantId === variantId));
    visit.lines = [...others, ...lines.map((line) => priced(line, verdict))];
    visit.message = translate(visit.language, 'added');
    response.redirect(303, '/basket');
  };
  app.post('/basket/add', (request, response) => {
    const quantity = Number(field(request, 'quantity') || 1);
    // A price that the shopper named comes with the form; the guard holds it to the least.
    const named = field(request, 'understudy-price');
    const price = named === '' ? {} : { unitPrice: Number(named) };
    return putIn(request, response, [{ variantId: field(request, 'variant'), quantity, ...price }]);
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

  /** Unlike any that was given before the shop was started again. */
  const started = Math.floor(Date.now() / 60_000) % 1_000_000;
  let numbered = 0;
  const nextNumber = () => `${started}-${++numbered}`;

  /** Places a paid order, or one to be paid by invoice. @returns the answer */
  const placeOrder = async (number: string, visit: Visit, ordered: Ordered): Promise<Verdict> => {
    const { lines, method, payBy, buyer } = ordered;
    const verdict = await takeOrder(understudy, { order: number, lines, visit, buyer, method: payBy });
    if (verdict.ok) {
      const customerId = visit.customer?.id ?? null;
      const { delivery } = verdict;
      orders.set(number, { number, method, customerId, lines: linesOf(catalog, lines, verdict), delivery });
      visit.lines = visit.lines.filter((line) => !lines.some(({ variantId }) => variantId === line.variantId));
    }
    return verdict;
  };
  app.post('/swift-pay', async (request, response) => {
    const visit = visitOf(response);
    const quantity = Number(field(request, 'quantity') || 1);
    const line = { variantId: field(request, 'variant'), quantity, via: 'express' } as const;
    const verdict = await guardOrder(visit, [line]);
    const lines = [priced(line, verdict)];
    const number = nextNumber();
    const ordered = { lines, method: 'express', buyer: buyerIn(request) };
    const placed = verdict.ok ? await placeOrder(number, visit, ordered) : verdict;
    if (placed.ok) response.redirect(303, `/order/${number}`);
    else await refuse(request, response, placed);
  });

  /** Checks the basket's lines now. Changed prices are applied and reported. */
  const checked = async (visit: Visit, ask = () => guard(visit, visit.lines)): Promise<Verdict> => {
    if (visit.lines.length === 0) return { ok: true, isAnswered: true, refusal: null, delivery: null, lines: [] };
    const verdict = await ask();
    if (verdict.isAnswered) {
      const hidden = new Set(
        verdict.lines.flatMap(({ unitPrice, variantId }) => (unitPrice === null ? variantId : [])),
      );
      visit.lines = visit.lines.map((line) => ({ ...line, isPriceHidden: hidden.has(line.variantId) }));
    }
    const changed = verdict.lines.filter(({ code, unitPrice }) => code === 'priceChanged' && unitPrice !== null);
    if (changed.length > 0) {
      const prices = new Map(changed.map(({ variantId, unitPrice }) => [variantId, unitPrice]));
      visit.lines = visit.lines.map((line) => ({ ...line, unitPrice: prices.get(line.variantId) ?? line.unitPrice }));
      visit.message = translate(visit.language, 'newPrice');
    }
    return verdict;
  };
  const sendBasket = async (request: Request, response: Response, verdict: Verdict) => {
    const visit = visitOf(response);
    const lines = linesOf(catalog, visit.lines, verdict);
    const body = basketPage({ lines, delivery: verdict.delivery }, visit.language);
    await send(request, response, translate(visit.language, 'basket'), body);
  };

  /** A quote that was accepted becomes the basket. */
  app.use(async (request, response, next) => {
    const { quote } = request.query;
    if (request.method !== 'GET' || typeof quote !== 'string') {
      next();
      return;
    }
    const visit = visitOf(response);
    const lines = await understudy.quotedCart(quote);
    if (lines.length > 0)
      Object.assign(visit, { quote, lines: lines.map((line) => ({ ...line, isPriceHidden: false })) });
    response.redirect(303, '/basket');
  });

  app.get('/basket', async (request, response) => {
    await sendBasket(request, response, await checked(visitOf(response)));
  });
  app.get('/checkout', async (request, response) => {
    const visit = visitOf(response);
    const verdict = await checked(visit);
    const lines = linesOf(catalog, visit.lines, verdict);
    const body = checkoutPage({ lines, delivery: verdict.delivery }, shop.dressing, visit);
    await send(request, response, translate(visit.language, 'checkout'), body);
  });
  const refuseBasket = async (request: Request, response: Response, verdict: Verdict) => {
    const visit = visitOf(response);
    visit.message = verdict.refusal?.text ?? visit.message;
    response.status(409);
    await sendBasket(request, response, verdict);
  };
  /** The basket's lines with the terms that the shopper agreed to, if they are pre-orders. */
  const agreedLines = (request: Request, { lines }: Visit) => {
    const agreed = fields(request, 'terms').map((term) => [term.replace(/ \S*$/, ''), term.split(' ').at(-1)] as const);
    const terms = new Map(agreed);
    return lines.map((line) => ({ ...line, terms: terms.get(line.variantId) ?? '' }));
  };
  app.post('/checkout', async (request, response) => {
    const visit = visitOf(response);
    const lines = agreedLines(request, visit);
    const payBy = field(request, 'method');
    const verdict = await checked(visit, () => guardOrder(visit, lines, payBy));
    if (!verdict.ok || lines.length === 0) {
      await refuseBasket(request, response, verdict);
      return;
    }
    const number = nextNumber();
    const buyer = buyerIn(request);
    if (payBy === 'invoice') {
      const placed = await placeOrder(number, visit, { lines, method: 'invoice', payBy, buyer });
      if (placed.ok) response.redirect(303, `/order/${number}`);
      else await refuseBasket(request, response, placed);
      return;
    }
    const total = totalOf(linesOf(catalog, lines, verdict), verdict.delivery);
    const payment = await cards.ask(total, `order-${number}`, `/paid/${number}`);
    if (payment) pending.set(number, { lines, method: 'card', payBy, buyer, payment, visit });
    else visit.message = translate(visit.language, 'noCards');
    response.redirect(303, payment?.page ?? '/checkout');
  });
  /** The shopper comes back from paying by card; however often, it is one order. */
  app.get('/paid/:number', async (request, response, next) => {
    const { number } = request.params;
    const visit = visitOf(response);
    const waiting = pending.get(number);
    if (waiting?.visit !== visit) {
      next();
      return;
    }
    const state = await cards.stateOf(waiting.payment);
    if (state !== 'paid') {
      visit.message = translate(visit.language, state === null ? 'noCards' : 'cardRefused');
      response.redirect(303, '/checkout');
      return;
    }
    const placed = orders.has(number) ? null : await placeOrder(number, visit, waiting);
    if (placed === null || placed.ok) {
      response.redirect(303, `/order/${number}`);
      return;
    }
    // Refunds a payment if the order is no longer accepted.
    await cards.refund(waiting.payment);
    pending.delete(number);
    visit.message = translate(visit.language, 'refunded');
    await refuseBasket(request, response, { ...placed, refusal: null });
  });

  const isTheirs = ({ customerId }: Order, { customer }: Visit) => customerId === null || customerId === customer?.id;
  app.get('/order/:number', async (request, response, next) => {
    const order = orders.get(request.params.number);
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
    const ofCustomer = [...orders.values()].filter(({ customerId }) => customerId === customer.id);
    await send(request, response, translate(language, 'account'), accountPage(customer, ofCustomer, language));
  });
}
