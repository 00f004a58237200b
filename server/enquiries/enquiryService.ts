import type { z } from 'zod';
import type { postEnquiry } from '#core/contract/askingCalls.ts';
import { decideVariants } from '#core/engine/decide.ts';
import { productAt } from '../catalog/catalogQueries.ts';
import { notFound, ProblemError } from '../http/errors.ts';
import { askerOf } from '../forms/asker.ts';
import { answersTo, readForm } from '../forms/formQueries.ts';
import { countOutcomes } from '../insights/countService.ts';
import { holdReasonFor } from '../messages/letterLimits.ts';
import { enqueueNotifications } from '../messages/outbox.ts';
import { sellerNamed } from '../base/scope.ts';
import type { Services } from '../base/services.ts';
import { visitorOf } from '../visitors/visitor.ts';
import { visitorReader } from '../visitors/visitorCache.ts';
import { titleOf } from '../catalog/titles.ts';
import { insertEnquiry } from './enquiryQueries.ts';

/**
 * Takes a question about a product, by the form that the rule names; only where one is shown. The letter to whoever asks
 * holds nothing that they wrote, since anybody may have typed their address.
 * @returns the form
 * @throws {ProblemError}
 */
export async function ask(
  services: Services,
  body: z.infer<(typeof postEnquiry)['body']>,
  network: string,
): Promise<NonNullable<Awaited<ReturnType<typeof readForm>>>> {
  const { db, live, clock, config } = services;
  const { rulebook, visitorSecrets: secrets } = live.current();
  const { shop } = rulebook;
  const moment = clock();
  const locale = body.locale ?? null;
  const [product, visitor] = await Promise.all([
    productAt(db, body.path),
    visitorOf({ ...services, visitors: visitorReader(db) }, { token: body.visitor, locale, secrets, moment }),
  ]);
  if (!product) throw notFound('product with that address');
  const [offered] = (['product', 'listing'] as const)
    .flatMap((surface) =>
      decideVariants(rulebook, product, { visitor, moment, surface, page: null }).map((decision) => ({
        surface,
        decision,
      })),
    )
    .filter(({ decision: { variantId } }) => body.variantId === undefined || variantId === body.variantId)
    .flatMap(({ surface, decision }) => {
      const { control } = decision;
      return control.kind === 'enquiry' && typeof control.form === 'string'
        ? { surface, decision, code: control.form }
        : [];
    });
  const form = offered ? await readForm(db, offered.code) : null;
  if (!offered || !form) throw noForm();
  const answers = answersTo(form.fields, body.answers, shop.locales);
  const variantTitle = product.variants.find(({ id }) => id === body.variantId)?.title ?? null;
  const title = (language: string | null) => titleOf({ title: product.title, variantTitle }, language, shop.locales);
  const words = answers.map(({ label, value }) => `${label}: ${value}`).join('; ');
  const { email, name } = await askerOf(db, visitor.customerId, body);
  const site = live.current().pageMap?.site;
  const page =
    site !== undefined && product.path !== null
      ? new URL(product.path, site).href
      : `${config.publicUrl}/catalog/${encodeURIComponent(product.id)}`;
  const seller = sellerNamed(live.current(), product.seller);
  const holdReason = await holdReasonFor(db, email, { network, customer: visitor.customerId });
  const { surface, decision } = offered;
  await db.transaction(async (client) => {
    const outcome = {
      event: 'finished',
      product: product.id,
      variant: body.variantId ?? null,
      surface,
      decision,
    } as const;
    await countOutcomes(client, services, visitor, [outcome]);
    await insertEnquiry(client, {
      form: form.code,
      product: product.id,
      variant: body.variantId ?? null,
      customer: visitor.customerId,
      email,
      name,
      locale,
      answers,
      at: new Date(moment),
    });
    await enqueueNotifications(client, services, shop, [
      {
        event: 'enquiry.asked',
        to: email,
        locale,
        values: { name: '', product: title(locale), words: '' },
        held: holdReason,
        seller,
      },
      {
        event: 'enquiry.new',
        about: email,
        locale: null,
        values: { who: name ?? email, email, product: title(null), page, words, link: `${config.publicUrl}/enquiries` },
        seller,
      },
    ]);
  });
  return form;
}

const noForm = () =>
  new ProblemError(409, 'no-form', 'No form', 'No contact form stands for these goods now. Look at the page again.');
