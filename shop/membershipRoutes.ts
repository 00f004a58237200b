import type { Express } from 'express';
import type { Shop } from './shop.ts';
import type { Payment } from './cardPayments.ts';
import { circlePage } from './pages/visiting.ts';
import { backOf, visitOf, type Send } from './send.ts';
import { grantMembership } from './understudy.ts';
import { translate } from './words.ts';

const A_YEAR_COSTS = 2400;

/** Sells a year in the Frond Circle: once paid, Understudy learns of it, and members’ products can be bought. */
export function membershipRoutes(app: Express, shop: Shop, send: Send): void {
  const { understudy, cards } = shop;
  const pending = new Map<string, { readonly payment: Payment; readonly back: string }>();

  app.get('/circle', async (request, response) => {
    const { language, customer } = visitOf(response);
    const body = circlePage({ customer, back: backOf(request.query.back), price: A_YEAR_COSTS }, language);
    await send(request, response, translate(language, 'circle'), body);
  });

  app.post('/circle', async (request, response) => {
    const visit = visitOf(response);
    const back = backOf((request.body as { back?: unknown } | undefined)?.back);
    if (!visit.customer) {
      response.redirect(303, `/sign-in?${new URLSearchParams({ back: `/circle?${query(back)}` }).toString()}`);
      return;
    }
    const reference = `circle-${visit.customer.id}-${Date.now()}`;
    const payment = await cards.ask(A_YEAR_COSTS, reference, `/circle/${reference}`);
    if (payment) pending.set(reference, { payment, back });
    else visit.message = translate(visit.language, 'noCards');
    response.redirect(303, payment?.page ?? `/circle?${query(back)}`);
  });

  app.get('/circle/:reference', async (request, response, next) => {
    const visit = visitOf(response);
    const found = pending.get(request.params.reference);
    if (!found || !visit.customer) {
      next();
      return;
    }
    const { payment, back } = found;
    const isPaid = (await cards.stateOf(payment)) === 'paid';
    const isGranted = isPaid && (await grantMembership(understudy, visit.customer.id));
    // Refund memberships that were not granted.
    if (isPaid && !isGranted) await cards.refund(payment);
    visit.message = translate(visit.language, isGranted ? 'nowMember' : isPaid ? 'notGranted' : 'cardRefused');
    pending.delete(request.params.reference);
    response.redirect(303, isGranted ? back : `/circle?${query(back)}`);
  });
}

const query = (back: string) => new URLSearchParams({ back }).toString();
