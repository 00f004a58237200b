import type { IRouter } from 'express';
import { answerEnquiry, listEnquiries, moveEnquiry, postEnquiry, type Enquiry } from '#core/contract/askingCalls.ts';
import { decideVariants } from '#core/decide/decide.ts';
import { wordsIn } from '#core/texts/locale.ts';
import { productsByKeys } from '../catalog/catalogQueries.ts';
import { notFound, ProblemError } from '../errors.ts';
import { answersTo, onceSent, readForm } from '../forms/formQueries.ts';
import { limitTo } from '../http/limit.ts';
import { reply, route } from '../http/route.ts';
import { tell } from '../messages/outbox.ts';
import type { Services } from '../services.ts';
import { visitorOf } from '../storefront/visitor.ts';
import { titleOf } from '../waitlists/waitlistService.ts';
import * as queries from './enquiryQueries.ts';

const A_MINUTE = 20;

/** Questions about goods, by the form that the rule names; only where one stands. */
export function enquiryRoutes(shopCalls: IRouter, ownerCalls: IRouter, services: Services): void {
  const { db, live, clock, config } = services;

  shopCalls.post(postEnquiry.path, limitTo(A_MINUTE, db, 'enquiry:'));
  route(shopCalls, postEnquiry, async ({ body }) => {
    const { rulebook, visitorSecrets: secrets } = live.current();
    const { shop } = rulebook;
    const moment = clock();
    const locale = body.locale ?? null;
    const [[product], visitor] = await Promise.all([
      productsByKeys(db, { ids: [], paths: [body.path] }),
      visitorOf(services, { token: body.visitor, locale, secrets, moment }),
    ]);
    if (!product) throw notFound('product with that address');
    const [code] = (['product', 'listing'] as const)
      .flatMap((surface) => decideVariants(rulebook, product, { visitor, moment, surface, page: null }))
      .filter(({ variantId }) => body.variantId === undefined || variantId === body.variantId)
      .flatMap(({ control }) => (control.kind === 'enquiry' && typeof control.form === 'string' ? control.form : []));
    const form = code === undefined ? null : await readForm(db, code);
    if (!form) throw noForm();
    const answers = answersTo(form.fields, body.answers, shop.locales);
    const variantTitle = product.variants.find(({ id }) => id === body.variantId)?.title ?? null;
    const title = (spoken: string | null) => titleOf({ title: product.title, variantTitle }, spoken, shop.locales);
    const words = answers.map(({ label, value }) => `${label}: ${value}`).join('; ');
    const name = body.name ?? null;
    await db.transaction(async (client) => {
      await queries.insertEnquiry(client, {
        form: form.code,
        product: product.id,
        variant: body.variantId ?? null,
        customer: visitor.customerId,
        email: body.email,
        name,
        locale,
        answers,
        at: new Date(moment),
      });
      const link = `${config.publicUrl}/enquiries`;
      await tell(client, services, shop, [
        { event: 'enquiry.asked', to: body.email, locale, values: { name: name ?? '', product: title(locale), words } },
        {
          event: 'enquiry.new',
          about: body.email,
          locale: null,
          values: { who: name ?? body.email, product: title(null), words, link },
        },
      ]);
    });
    return reply(201, onceSent(form, 'asked', { locale, locales: shop.locales }), { 'Cache-Control': 'no-store' });
  });

  route(ownerCalls, listEnquiries, async ({ query }) => {
    const { limit } = query;
    const { locales } = live.current().rulebook.shop;
    const [{ enquiries, total }, counted] = await Promise.all([
      queries.pageOfEnquiries(db, { ...query, limit: limit + 1 }),
      queries.countedProducts(db),
    ]);
    return reply(200, {
      enquiries: enquiries.slice(0, limit).map((row) => toEnquiry(row, locales)),
      total,
      more: enquiries.length > limit,
      products: counted.map(({ title, ...one }) => ({ ...one, title: wordsIn(title, null, locales) })),
    });
  });

  route(ownerCalls, answerEnquiry, async ({ params: { id }, body: { words } }) => {
    const { shop } = live.current().rulebook;
    const at = new Date(clock());
    await db.transaction(async (client) => {
      const row = await queries.enquiryById(client, id);
      if (!row) throw notFound(`enquiry ${id}`);
      await queries.say(client, { enquiry: id }, { byOwner: true, words, at });
      await queries.setEnquiryState(client, id, 'answered', at);
      const product = row.title
        ? titleOf({ title: row.title, variantTitle: row.variantTitle }, row.locale, shop.locales)
        : '';
      const { email: to, locale, name } = row;
      const values = { name: name ?? '', product, words };
      await tell(client, services, shop, [{ event: 'enquiry.answered', to, locale, values }]);
    });
    return reply(204, undefined);
  });

  route(ownerCalls, moveEnquiry, async ({ params: { id }, body: { state } }) => {
    if (!(await queries.setEnquiryState(db, id, state, new Date(clock())))) throw notFound(`enquiry ${id}`);
    return reply(204, undefined);
  });
}

const toEnquiry = ({ title, variantTitle, ...row }: queries.EnquiryRow, locales: readonly string[]): Enquiry => ({
  ...row,
  id: String(row.id),
  title: title && titleOf({ title, variantTitle }, null, locales),
  createdAt: row.createdAt.toISOString(),
  changedAt: row.changedAt.toISOString(),
});

const noForm = () =>
  new ProblemError(409, 'no-form', 'No form', 'No contact form stands for these goods now. Look at the page again.');
