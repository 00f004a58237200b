import { randomUUID } from 'node:crypto';
import express, { Router } from 'express';
import { escaped, page } from './page.ts';

type State = 'open' | 'paid' | 'refused' | 'refunded';

interface Payment {
  readonly id: string;
  /** In the currency's smallest unit. */
  readonly amount: number;
  readonly currency: string;
  readonly reference: string;
  readonly returnTo: string;
  state: State;
}

/** Simulates a card payment service: the shop requests a payment, and the shopper pays here and is sent back. */
export function payments(): Router {
  const router = Router();
  const all = new Map<string, Payment>();
  const byReference = new Map<string, Payment>();

  router.post('/payments', express.json(), (request, response) => {
    const { amount, currency, reference, returnTo } = (request.body ?? {}) as Partial<Payment>;
    const isWhole = Number.isSafeInteger(amount) && currency && reference && /^https?:/.test(returnTo ?? '');
    if (!isWhole || amount === undefined || !returnTo) {
      response.status(422).end();
      return;
    }
    // A repeated request for an order returns the same payment.
    const payment = byReference.get(reference) ?? {
      id: randomUUID(),
      amount,
      currency,
      reference,
      returnTo,
      state: 'open',
    };
    all.set(payment.id, payment);
    byReference.set(reference, payment);
    response.status(201).json({ id: payment.id, page: `/payments/${payment.id}` });
  });

  router.param('id', (_request, response, next, id: string) => {
    response.locals.payment = all.get(id);
    next(response.locals.payment ? undefined : 'route');
  });
  const of = (locals: unknown) => (locals as { payment: Payment }).payment;

  router.get('/payments/:id.json', (_request, response) => void response.json(of(response.locals)));
  router.get('/payments/:id', (_request, response) => {
    const { id, amount, currency, reference, state } = of(response.locals);
    const sum = new Intl.NumberFormat('en-GB', { style: 'currency', currency }).format(amount / 100);
    const act = (to: State, words: string) =>
      `<button name="state" value="${to}"${to === 'paid' ? '' : ' class="quiet"'}>${words}</button>`;
    response.send(
      page(
        `Pay ${sum}`,
        `<p>Order ${escaped(reference)}. No card is asked for, and nothing is paid.</p>
        ${state === 'open' ? `<form method="post" action="/payments/${id}">${act('paid', `Pay ${sum}`)} ${act('refused', 'Refuse the card')}</form>` : `<p>This payment is ${state}.</p>`}`,
      ),
    );
  });
  router.post('/payments/:id', express.urlencoded({ extended: false }), (request, response) => {
    const payment = of(response.locals);
    const { state } = (request.body ?? {}) as { state?: unknown };
    if (payment.state === 'open' && (state === 'paid' || state === 'refused')) payment.state = state;
    response.redirect(303, payment.returnTo);
  });
  router.post('/payments/:id/refund', (_request, response) => {
    const payment = of(response.locals);
    if (payment.state === 'paid') payment.state = 'refunded';
    response.status(204).end();
  });
  return router;
}
