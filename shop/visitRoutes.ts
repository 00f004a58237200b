import type { Express } from 'express';
import type { Shop } from './shop.ts';
import { signInPage } from './pages/visiting.ts';
import { backOf, field, visitOf, type Send } from './send.ts';
import { LANGUAGES } from './visits.ts';

/** Routes about the visitor and the language. */
export function visitRoutes(app: Express, { customers }: Shop, send: Send): void {
  app.get('/sign-in', (request, response) =>
    send(request, response, 'Sign in', signInPage(customers, visitOf(response).language, backOf(request.query.back))),
  );
  app.post('/sign-in', (request, response) => {
    visitOf(response).customer = customers.find(({ id }) => id === field(request, 'customer')) ?? null;
    response.redirect(303, backOf(field(request, 'back')));
  });
  app.post('/sign-out', (_request, response) => {
    visitOf(response).customer = null;
    response.redirect(303, '/');
  });
  app.post('/language', (request, response) => {
    visitOf(response).language = LANGUAGES.find((known) => known === field(request, 'language')) ?? 'en';
    response.redirect(303, backOf(field(request, 'back')));
  });
}
