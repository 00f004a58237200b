import type { z } from 'zod';
import type { postQuote, priceQuote } from '#core/contract/askingCalls.ts';
import { decide } from '#core/engine/decide.ts';
import { quoteTotal } from '#core/fulfilment/quoteTotal.ts';
import { formatPrice } from '#core/texts/prices.ts';
import { instantWords } from '#core/texts/messages.ts';
import { goodsByVariants } from '../catalog/catalogQueries.ts';
import { inTurn } from '../db/database.ts';
import { appendMessage } from '../conversations/threadMessages.ts';
import { notFound, ProblemError } from '../http/errors.ts';
import { visitorClaims } from '../http/shopToken.ts';
import { askerOf } from '../forms/asker.ts';
import { answersTo, readForm } from '../forms/formQueries.ts';
import { enqueueNotifications } from '../messages/outbox.ts';
import { answerTo, contentOf, keepAnswer, lockKey } from '../idempotency/idempotencyQueries.ts';
import { holdReasonFor } from '../messages/letterLimits.ts';
import { visitorOf } from '../visitors/visitor.ts';
import { visitorReader } from '../visitors/visitorCache.ts';
import type { JobServices } from '../base/services.ts';
import { QUOTE } from '../visitors/acceptedQuote.ts';
import { insertQuote, lockQuote, moveQuote, priceLines, quoteById, quotesDue, type QuoteRow } from './quoteQueries.ts';

const DAY_MS = 86_400_000;
/** A quote's page can be looked at for so long. */
const LINK_MS = 400 * DAY_MS;

export async function quoteLink({ links, clock, config }: JobServices, id: number): Promise<string> {
  const token = await links.sign(QUOTE, clock() + LINK_MS, { quote: id });
  return `${config.publicUrl}/quote?token=${token}`;
}

/**
 * Takes a request for a price. Only for goods that are offered so to this visitor now; the same key again is the same
 * request.
 * @throws {ProblemError}
 */
export async function askPrice(
  services: JobServices,
  request: z.infer<(typeof postQuote)['body']>,
  network: string,
): Promise<void> {
  const { db, live, clock, config } = services;
  const { rulebook, visitorSecrets: secrets } = live.current();
  const { shop } = rulebook;
  const moment = clock();
  const locale = request.locale ?? null;
  const key = `quote ${request.key}`;
  const claims = request.visitor ? await visitorClaims(request.visitor, secrets, moment) : null;
  const { email, name } = await askerOf(db, claims?.sub ?? null, request);
  const content = contentOf({ email, lines: request.lines });
  const holdReason = await holdReasonFor(db, email, { network, customer: claims?.sub ?? null });
  await db.transaction(async (connection) => {
    const client = inTurn(connection);
    await lockKey(client, key);
    if ((await answerTo(client, key, content)) !== undefined) return;
    const goods = await goodsByVariants(client, request.lines);
    const needs = { ...services, db: client, visitors: visitorReader(client) };
    const visitor = await visitorOf(needs, { token: request.visitor, locale, secrets, moment });
    for (const { variantId } of request.lines) {
      const known = goods.get(variantId);
      const isOffered =
        known &&
        (['product', 'listing'] as const).some((surface) => {
          const { control } = decide(rulebook, { ...known, visitor, moment, surface, page: null });
          return control.kind === 'quote';
        });
      if (!isOffered) throw notOffered(variantId);
    }
    const answers = answersTo((await readForm(client, 'quote'))?.fields ?? [], request.answers, shop.locales);
    const { lines } = request;
    const at = new Date(moment);
    const id = await insertQuote(client, { customer: visitor.customerId, email, name, locale, answers, lines, at });
    await keepAnswer(client, { key, content, answer: { id }, at });
    const link = await quoteLink(services, id);
    const toOwner = `${config.publicUrl}/quotes?quote=${id}`;
    await enqueueNotifications(client, services, shop, [
      // Anybody may have typed this address: the letter holds nothing that they wrote.
      { event: 'quote.asked', to: email, locale, values: { name: '', lines: lines.length, link }, held: holdReason },
      {
        event: 'quote.new',
        about: email,
        locale: null,
        values: { who: name ?? email, email, lines: lines.length, link: toOwner },
      },
    ]);
  });
}

/** Prices a quote and sends it; one that was sent may be sent again otherwise. */
export async function price(
  services: JobServices,
  id: number,
  { lines, delivery, days, words }: z.infer<(typeof priceQuote)['body']>,
): Promise<void> {
  const { db, live, clock } = services;
  const { shop } = live.current().rulebook;
  const at = new Date(clock());
  const validUntil = new Date(at.getTime() + days * DAY_MS);
  await db.transaction(async (client) => {
    const goods = await goodsByVariants(
      client,
      lines.map(({ variant }) => ({ variantId: variant })),
    );
    const unknown = lines.find(({ variant }) => !goods.has(variant));
    if (unknown) throw notFound(`variant ${unknown.variant}`);
    if (!(await quoteById(client, id))) throw notFound(`quote ${id}`);
    const from = ['asked', 'priced', 'lapsed', 'declined'] as const;
    if (!(await moveQuote(client, id, { to: 'priced', from, at, delivery, validUntil }))) throw isOver();
    await priceLines(client, id, lines);
    if (words !== '') await appendMessage(client, { quote: id }, { byOwner: true, words, at });
    const quote = (await quoteById(client, id))!;
    const values = {
      name: quote.name ?? '',
      total: totalOf(quote, services),
      until: instantWords(validUntil.getTime(), shop, quote.locale),
      words,
      link: await quoteLink(services, id),
    };
    await enqueueNotifications(client, services, shop, [
      { event: 'quote.priced', to: quote.email, locale: quote.locale, values },
    ]);
  });
}

export async function turnDown(services: JobServices, id: number, words: string): Promise<void> {
  const { db, live, clock } = services;
  const at = new Date(clock());
  await db.transaction(async (client) => {
    const quote = await quoteById(client, id);
    if (!quote) throw notFound(`quote ${id}`);
    if (!(await moveQuote(client, id, { to: 'turnedDown', from: ['asked', 'priced'], at }))) throw isOver();
    await appendMessage(client, { quote: id }, { byOwner: true, words, at });
    const values = { name: quote.name ?? '', words };
    const { email: to, locale } = quote;
    await enqueueNotifications(client, services, live.current().rulebook.shop, [
      { event: 'quote.turnedDown', to, locale, values },
    ]);
  });
}

/**
 * What the customer answers to a priced quote: to the version of it that they saw.
 * @returns `changed` when it was priced anew since, `over` when it is no longer theirs to answer
 */
export async function answer(
  services: JobServices,
  id: number,
  { as, words, version }: { as: 'accepted' | 'declined' | 'reply'; words: string; version: number },
): Promise<'done' | 'changed' | 'over'> {
  const { db, live, clock, config } = services;
  const at = new Date(clock());
  return db.transaction(async (client) => {
    await lockQuote(client, id);
    const quote = await quoteById(client, id);
    if (!quote) return 'over';
    if (as !== 'reply') {
      if (quote.state === as && quote.version === version) return 'done';
      if (quote.state === 'priced' && quote.version !== version) return 'changed';
      if (quote.validUntil === null || quote.validUntil <= at) return 'over';
      if (!(await moveQuote(client, id, { to: as, from: ['priced'], at }))) return 'over';
    }
    if (words !== '') await appendMessage(client, { quote: id }, { byOwner: false, words, at });
    const values = {
      who: quote.name ?? quote.email,
      total: totalOf(quote, services),
      answer: as === 'reply' ? 'replied about' : as,
      words,
      link: `${config.publicUrl}/quotes?quote=${id}`,
    };
    await enqueueNotifications(client, services, live.current().rulebook.shop, [
      { event: 'quote.answered', about: quote.email, locale: null, values },
    ]);
    return 'done';
  });
}

/** Lets quotes lapse whose time is over. @returns how many did */
export async function expireQuotes(services: JobServices): Promise<number> {
  const { db, live, clock } = services;
  const at = new Date(clock());
  return db.transaction(async (client) => {
    const due = await quotesDue(client, at);
    for (const id of due) {
      await moveQuote(client, id, { to: 'lapsed', from: ['priced'], at });
      const quote = await quoteById(client, id);
      if (!quote) continue;
      const values = { name: quote.name ?? '', total: totalOf(quote, services) };
      const { email: to, locale } = quote;
      await enqueueNotifications(client, services, live.current().rulebook.shop, [
        { event: 'quote.lapsed', to, locale, values },
      ]);
    }
    return due.length;
  });
}

const totalOf = ({ lines, delivery, locale }: QuoteRow, { live }: Pick<JobServices, 'live'>): string =>
  formatPrice(quoteTotal(lines, delivery), live.current().rulebook.shop, locale);

const notOffered = (variant: string) =>
  new ProblemError(
    409,
    'not-offered',
    'No price to ask for',
    `${variant} is not offered by quote any more. Take it off the sheet and send it again.`,
  );
const isOver = () =>
  new ProblemError(409, 'quote-over', 'The quote is over', 'This quote was accepted or turned down. Look at it again.');
