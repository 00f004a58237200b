import type { z } from 'zod';
import type { postEnquiry } from '#core/contract/askingCalls.ts';
import type { CompiledRulebook } from '#core/engine/compile.ts';
import { enquiry, type EnquiryState } from '#core/requests/enquiry.ts';
import { commandBetween } from '#core/requests/machine.ts';
import type { ProductFacts, ViewContext } from '#core/model/subject.ts';
import { productAt } from '../catalog/catalogQueries.ts';
import { notFound, ProblemError } from '../http/errors.ts';
import { askerOf } from '../forms/asker.ts';
import { answersTo, readForm } from '../forms/formQueries.ts';
import { countOutcomes } from '../insights/countService.ts';
import { holdReasonFor } from '../messages/letterLimits.ts';
import { sellerNamed, type Scope } from '../scope/scope.ts';
import type { JobServices } from '../services/services.ts';
import { visitorOf } from '../visitors/visitor.ts';
import { visitorReader } from '../visitors/visitorCache.ts';
import { titleOf } from '../catalog/titles.ts';
import { appendMessage } from '../conversations/threadMessages.ts';
import { actorOf, carryOut, effectsOfBeginning, giveCommand, moveRequests } from '../requests/command.ts';
import { offersOf, type Offered } from '../requests/offered.ts';
import { enquiryById, insertEnquiry } from './enquiryQueries.ts';

/**
 * Takes a question about a product, by the form that the rule names; only where one is shown. The letter to whoever asks
 * holds nothing that they wrote, since anybody may have typed their address.
 * @returns the form
 * @throws {ProblemError}
 */
export async function ask(
  services: JobServices,
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
  const offer = formOffered(rulebook, product, { visitor, moment }, body.variantId);
  const form = offer ? await readForm(db, offer.code) : null;
  if (!offer || !form) throw noForm();
  const answers = answersTo(form.fields, body.answers, shop.locales);
  const variantTitle = product.variants.find(({ id }) => id === body.variantId)?.title ?? null;
  const title = (language: string | null) => titleOf({ title: product.title, variantTitle }, language, shop.locales);
  const words = answers.map(({ label, value }) => `${label}: ${value}`).join('\n');
  const { email, name } = await askerOf(db, visitor.customerId, body);
  const site = live.current().pageMap?.site;
  const page =
    site !== undefined && product.path !== null
      ? new URL(product.path, site).href
      : `${config.publicUrl}/catalog/${encodeURIComponent(product.id)}`;
  const seller = sellerNamed(live.current(), product.seller);
  const holdReason = await holdReasonFor(db, email, { network, customer: visitor.customerId });
  const { surface, decision } = offer;
  await db.transaction(async (client) => {
    const outcome = {
      event: 'finished',
      product: product.id,
      variant: body.variantId ?? null,
      surface,
      decision,
    } as const;
    const id = await insertEnquiry(client, {
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
    await carryOut(client, services, effectsOfBeginning(enquiry, 'ask'), {
      count: () => countOutcomes(client, services, [{ ...outcome, visitor }]),
      letters: {
        'enquiry.asked': () => [
          {
            event: 'enquiry.asked',
            to: email,
            locale,
            values: { name: '', product: title(locale), words: '' },
            held: holdReason,
            seller,
          },
        ],
        'enquiry.new': () => [
          {
            event: 'enquiry.new',
            about: email,
            locale: null,
            values: {
              who: name ?? email,
              email,
              product: title(null),
              page,
              words,
              link: `${config.publicUrl}/enquiries?enquiry=${id}`,
            },
            seller,
          },
        ],
      },
    });
  });
  return form;
}

/** Answers an enquiry. @throws {ProblemError} 404 where there is none within the scope */
export async function answer(services: JobServices, id: number, words: string, scope: Scope): Promise<void> {
  const { db, live, clock } = services;
  const at = new Date(clock());
  await db.transaction(async (client) => {
    const row = await enquiryById(client, id, scope);
    if (!row) throw notFound(`enquiry ${id}`);
    const { title, variantTitle, email: to, locale, name, soldBy } = row;
    const { locales } = live.current().rulebook.shop;
    const product = title ? titleOf({ title, variantTitle }, locale, locales) : '';
    const values = { name: name ?? '', product, words };
    const seller = sellerNamed(live.current(), soldBy);
    await giveCommand(client, services, { ...commandOf(scope, at), command: 'answer' }, [id], () =>
      Promise.resolve(() => ({
        conversation: () => appendMessage(client, { enquiry: id }, { byOwner: true, seller: scope.seller, words, at }),
        letters: { 'enquiry.answered': () => [{ event: 'enquiry.answered', to, locale, values, seller }] },
      })),
    );
  });
}

/**
 * Closes or reopens an enquiry. One that is in that state already stays as it is.
 * @throws {ProblemError} 404 where there is none within the scope; 409 where no command leads to that state
 */
export async function moveTo(services: JobServices, id: number, to: EnquiryState, scope: Scope): Promise<void> {
  const { db, clock } = services;
  await db.transaction(async (client) => {
    const row = await enquiryById(client, id, scope);
    if (!row) throw notFound(`enquiry ${id}`);
    if (row.state === to) return;
    const command = commandBetween(enquiry, row.state, to, actorOf(scope));
    // An answer needs words, which this call does not take.
    if (command === null || command === 'answer') throw answerFirst();
    await moveRequests(client, { ...commandOf(scope, new Date(clock())), command }, [id]);
  });
}

const commandOf = (scope: Scope, at: Date) => ({ kind: 'enquiry', actor: actorOf(scope), at, scope }) as const;

/** Finds the form of ours by which a product is asked about now; an enquiry may lead to a page of the shop instead. */
export function formOffered(
  rulebook: CompiledRulebook,
  product: ProductFacts,
  seen: Pick<ViewContext, 'visitor' | 'moment'>,
  variant: string | undefined,
): (Offered<'enquiry'> & { readonly code: string }) | undefined {
  const [first] = offersOf(rulebook, product, seen, { kind: 'enquiry', variant }).flatMap((offer) =>
    typeof offer.control.form === 'string' ? [{ ...offer, code: offer.control.form }] : [],
  );
  return first;
}

const answerFirst = () =>
  new ProblemError('not-answered', 'An enquiry is answered by sending an answer. Send one, or close the enquiry.');
const noForm = () => new ProblemError('no-form', 'No contact form stands for these goods now. Look at the page again.');
