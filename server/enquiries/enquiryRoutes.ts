import { answerEnquiry, listEnquiries, moveEnquiry, postEnquiry, type Enquiry } from '#core/contract/askingCalls.ts';
import { wordsIn } from '#core/texts/locale.ts';
import { onceSent } from '../forms/formQueries.ts';
import { limitTo } from '../limits/limit.ts';
import { networkOf } from '../http/network.ts';
import { reply, route } from '../http/route.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { scopeOf } from '../scope/scope.ts';
import type { Services } from '../services/services.ts';
import { titleOf } from '../catalog/titles.ts';
import * as queries from './enquiryQueries.ts';
import { answer, ask, moveTo } from './enquiryService.ts';

const A_MINUTE = 20;

/** Questions about goods, by the form that the rule names; only where one stands. */
export function enquiryRoutes(endpoints: Endpoints, services: Services, shopper: Services): void {
  const { db, live } = services;

  route(
    endpoints,
    postEnquiry,
    async ({ body }, { request }) => {
      const form = await ask(shopper, body, networkOf(request));
      const { shop } = live.current().rulebook;
      const sent = onceSent(form, 'asked', { locale: body.locale ?? null, shop });
      return reply(201, sent, { 'Cache-Control': 'no-store' });
    },
    [limitTo(A_MINUTE, shopper.db, 'enquiry:')],
  );

  route(endpoints, listEnquiries, async ({ query }, { request }) => {
    const scope = await scopeOf(services, request);
    const { locales } = live.current().rulebook.shop;
    const [{ rows, ...page }, counted] = await Promise.all([
      queries.pageOfEnquiries(db, query, scope),
      queries.countedProducts(db, scope),
    ]);
    return reply(200, {
      enquiries: rows.map((row) => toEnquiry(row, locales)),
      ...page,
      products: counted.map(({ title, ...one }) => ({ ...one, title: wordsIn(title, null, locales) })),
    });
  });

  route(endpoints, answerEnquiry, async ({ params: { id }, body: { words } }, { request }) => {
    await answer(services, id, words, await scopeOf(services, request));
    return reply(204, undefined);
  });

  route(endpoints, moveEnquiry, async ({ params: { id }, body: { state } }, { request }) => {
    await moveTo(services, id, state, await scopeOf(services, request));
    return reply(204, undefined);
  });
}

const toEnquiry = (
  { title, variantTitle, soldBy: _soldBy, ...row }: queries.EnquiryRow,
  locales: readonly string[],
): Enquiry => ({
  ...row,
  id: String(row.id),
  title: title && titleOf({ title, variantTitle }, null, locales),
  createdAt: row.createdAt.toISOString(),
  changedAt: row.changedAt.toISOString(),
});
