import type { z } from 'zod';
import type { postQuote, priceQuote, turnDownQuote } from '#core/contract/askingCalls.ts';
import { countedLines, partsOver, stateByParts, validUntilOf } from '#core/fulfilment/quoteParts.ts';
import { instantWords } from '#core/texts/messages.ts';
import { shopText } from '#core/texts/shopTexts.ts';
import { scopeHas, sellerNamed, WHOLE_SHOP, type Scope } from '../scope/scope.ts';
import { sellerTerms } from '../rules/sellerQueries.ts';
import { productVariants } from '../catalog/catalogQueries.ts';
import type { Queryable } from '../db/database.ts';
import { inTurn } from '../db/inTurn.ts';
import { appendMessage } from '../conversations/threadMessages.ts';
import { notFound, ProblemError } from '../http/errors.ts';
import { visitorClaims } from '../http/shopToken.ts';
import { askerOf } from '../forms/asker.ts';
import { answersTo, readForm } from '../forms/formQueries.ts';
import { enqueueNotifications } from '../messages/outbox.ts';
import { answerTo, contentOf, keepAnswer, lockKey } from '../idempotency/idempotencyQueries.ts';
import { countOutcomes, type VisitorOutcome } from '../insights/countService.ts';
import { holdReasonFor } from '../messages/letterLimits.ts';
import { offersOf } from '../requests/offered.ts';
import { visitorOf } from '../visitors/visitor.ts';
import { visitorReader } from '../visitors/visitorCache.ts';
import type { JobServices } from '../services/services.ts';
import { moneyOf, namedLines, notifyPricers, onlySeller, quoteLink, requestValues } from './quoteLetters.ts';
import {
  askAgain,
  insertQuote,
  lockQuote,
  moveQuote,
  noteReply,
  pricePart,
  quoteById,
  quotesDue,
  turnDownPart,
  wordsSent,
  type QuotePart,
  type QuoteRow,
} from './quoteQueries.ts';
import { hasExpired, versionOf } from './quoteTotals.ts';

const DAY_MS = 86_400_000;
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
  const { db, live, clock } = services;
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
    const goods = await productVariants(client, request.lines);
    const needs = { ...services, db: client, visitors: visitorReader(client) };
    const visitor = await visitorOf(needs, { token: request.visitor, locale, secrets, moment });
    const outcomes = request.lines.map(({ variantId: variant }): VisitorOutcome => {
      const known = goods.get(variant);
      const [offer] = known ? offersOf(rulebook, known.product, { visitor, moment }, { kind: 'quote', variant }) : [];
      if (!known || !offer) throw notOffered(variant);
      const { surface, decision } = offer;
      return { event: 'finished', visitor, product: known.product.id, variant, surface, decision };
    });
    const answers = answersTo((await readForm(client, 'quote'))?.fields ?? [], request.answers, shop.locales);
    const at = new Date(moment);
    const lines = request.lines.map((line) => ({
      ...line,
      seller: sellerNamed(live.current(), goods.get(line.variantId)?.product.seller ?? null),
    }));
    const id = await insertQuote(client, { customer: visitor.customerId, email, name, locale, answers, lines, at });
    await keepAnswer(client, { key, content, answer: { id }, at });
    await countOutcomes(client, services, outcomes);
    const quote = (await quoteById(client, id, WHOLE_SHOP))!;
    const link = await quoteLink(services, id);
    await enqueueNotifications(client, services, shop, [
      // Anybody may have typed this address: the letter holds nothing that they wrote.
      {
        event: 'quote.asked',
        to: email,
        locale,
        values: { name: '', lines: lines.length, link },
        held: holdReason,
        seller: onlySeller(quote),
      },
      ...(await notifyPricers(client, services, quote, 'quote.new', quote.parts, requestValues(services))),
    ]);
  });
}

/** Finds the part of a quote that the caller may price or decline. @throws {ProblemError} 404 */
function partFor(quote: QuoteRow, scope: Scope, seller: string | null | undefined): QuotePart {
  const [only] = quote.parts.length === 1 ? quote.parts : [];
  const part =
    scope.seller === null && seller === undefined && only
      ? only
      : quote.parts.find((one) => one.seller === (seller === undefined ? scope.seller : seller));
  if (!part) throw notFound(`part of quote ${quote.id}`);
  return part;
}

/** Works on a quote that nobody else changes meanwhile. @throws {ProblemError} 404 where nothing of it is in the scope */
async function changeQuote(
  services: JobServices,
  { id, scope }: { id: number; scope: Scope },
  change: (client: Queryable, quote: QuoteRow, at: Date) => Promise<void>,
): Promise<void> {
  const { db, clock } = services;
  const at = new Date(clock());
  await db.transaction(async (client) => {
    await lockQuote(client, id);
    const quote = await quoteById(client, id, scope);
    if (!quote) throw notFound(`quote ${id}`);
    await change(client, quote, at);
    await settle(client, services, id, at);
  });
}

/** Prices a part of a quote; the quote is sent once it is complete, or at once where the shop sends parts. */
export async function price(
  services: JobServices,
  of: { id: number; scope: Scope },
  { lines, delivery, days, words, seller }: z.infer<(typeof priceQuote)['body']>,
): Promise<void> {
  await changeQuote(services, of, async (client, quote, at) => {
    const part = partFor(quote, of.scope, seller);
    const whole = (await quoteById(client, of.id, WHOLE_SHOP))!;
    if (whole.state === 'accepted' || whole.state === 'turnedDown') throw isOver();
    const goods = await productVariants(
      client,
      lines.map(({ variant }) => ({ variantId: variant })),
    );
    const unknown = lines.find(({ variant }) => !scopeHas(of.scope, goods.get(variant)?.product));
    if (unknown) throw notFound(`variant ${unknown.variant}`);
    const elsewhere = whole.lines.find(
      (line) => line.seller !== part.seller && lines.some(({ variant }) => variant === line.variant),
    );
    if (elsewhere) throw inAnotherPart(elsewhere.variant);
    const validUntil = new Date(at.getTime() + days * DAY_MS);
    await pricePart(client, whole, part, { lines, delivery, validUntil, words });
    // Asks the other sellers again if their prices have expired.
    const over = partsOver(whole.parts, at).filter(({ id }) => id !== part.id);
    await askAgain(
      client,
      over.map(({ id }) => id),
    );
    const again = await notifyPricers(client, services, whole, 'quote.new', over, requestValues(services));
    await enqueueNotifications(client, services, services.live.current().rulebook.shop, again);
  });
}

/** Turns a part of a quote down; the quote, when all of it was. */
export async function turnDown(
  services: JobServices,
  of: { id: number; scope: Scope },
  { words, seller }: z.infer<(typeof turnDownQuote)['body']>,
): Promise<void> {
  await changeQuote(services, of, async (client, quote) => {
    const part = partFor(quote, of.scope, seller);
    if (part.state === 'turnedDown' || (quote.state !== 'asked' && quote.state !== 'priced')) throw isOver();
    await turnDownPart(client, part.id, words);
  });
}

/** Derives a quote's state from its parts, and notifies the customer if it changed. */
async function settle(client: Queryable, services: JobServices, id: number, at: Date): Promise<void> {
  const { shop } = services.live.current().rulebook;
  const { parts, ...quote } = (await quoteById(client, id, WHOLE_SHOP))!;
  const to = stateByParts(parts, (await sellerTerms(client)).quotes);
  const from = ['asked', 'priced', 'lapsed', 'declined'] as const;
  const validUntil = validUntilOf(parts);
  if (!(await moveQuote(client, id, { to, from, at, validUntil }))) throw isOver();
  if (to === 'asked') return;
  const written = parts.filter(({ words }) => words !== '');
  for (const { seller, words } of written)
    await appendMessage(client, { quote: id }, { byOwner: true, seller, words, at });
  await wordsSent(client, id);
  const { name, email, locale } = quote;
  const rest = parts.some(({ state }) => state === 'asked') ? [shopText('quotePage.rest', locale, shop)] : [];
  // Where several sellers price a quote, the letter names the author of each message.
  const by = (part: QuotePart) => (parts.length > 1 ? `${part.name ?? shop.name}: ${part.words}` : part.words);
  const words = [...written.map(by), ...rest].join('\n\n');
  const values =
    to === 'turnedDown' || validUntil === null
      ? { name: name ?? '', words }
      : {
          name: name ?? '',
          total: moneyOf({ ...quote, parts, state: to }, services),
          products: namedLines(countedLines(quote.lines, parts, true), locale, shop),
          until: instantWords(validUntil.getTime(), shop, locale),
          words,
          link: await quoteLink(services, id),
        };
  const event = to === 'turnedDown' ? 'quote.turnedDown' : 'quote.priced';
  await enqueueNotifications(client, services, shop, [
    { event, to: email, locale, values, seller: onlySeller({ parts }) },
  ]);
}

/**
 * Takes a customer's answer to a quote.
 * @param version identifies the offer they saw, see `versionOf`
 * @returns `changed` when the offer is another by now, `over` when it can no longer be answered
 */
export async function answer(
  services: JobServices,
  id: number,
  { as, words, version }: { as: 'accepted' | 'declined' | 'reply'; words: string; version: string },
): Promise<'done' | 'changed' | 'over'> {
  const { db, live, clock } = services;
  const at = new Date(clock());
  return db.transaction(async (client) => {
    await lockQuote(client, id);
    const quote = await quoteById(client, id, WHOLE_SHOP);
    if (!quote) return 'over';
    if (as !== 'reply') {
      const isSame = versionOf(quote) === version;
      if (quote.state === as && isSame) return 'done';
      if (quote.state === 'priced' && !isSame) return 'changed';
      if (quote.validUntil === null || quote.validUntil <= at) return 'over';
      if (!(await moveQuote(client, id, { to: as, from: ['priced'], at }))) return 'over';
    }
    if (words !== '') await appendMessage(client, { quote: id }, { byOwner: false, words, at });
    if (as === 'reply') await noteReply(client, id, at);
    const answered = (await quoteById(client, id, WHOLE_SHOP))!;
    const valuesOf = (about: QuoteRow) => ({
      who: quote.name ?? quote.email,
      total: moneyOf(about, services),
      answer: as === 'reply' ? 'replied about' : as,
      words,
    });
    await enqueueNotifications(
      client,
      services,
      live.current().rulebook.shop,
      // The answer is not about parts that were declined, so their sellers are not notified.
      await notifyPricers(
        client,
        services,
        answered,
        'quote.answered',
        answered.parts.filter(({ state }) => state !== 'turnedDown'),
        valuesOf,
      ),
    );
    return 'done';
  });
}

/**
 * Asks for a new price once the last has expired: all parts but those that were turned down are open again, and those who
 * price them are notified.
 * @param words of the customer with it, or none
 * @returns whether the quote had expired
 */
export async function askAnew(services: JobServices, id: number, words: string): Promise<boolean> {
  const { db, live, clock } = services;
  const at = new Date(clock());
  return db.transaction(async (client) => {
    await lockQuote(client, id);
    const quote = await quoteById(client, id, WHOLE_SHOP);
    if (!quote || !hasExpired(quote, at)) return false;
    await askAgain(
      client,
      quote.parts.flatMap((part) => (part.state === 'turnedDown' ? [] : part.id)),
    );
    await moveQuote(client, id, { to: 'asked', from: ['priced', 'lapsed'], at });
    if (words !== '') await appendMessage(client, { quote: id }, { byOwner: false, words, at });
    const values = requestValues(services);
    const notifications = await notifyPricers(client, services, quote, 'quote.new', quote.parts, values);
    await enqueueNotifications(client, services, live.current().rulebook.shop, notifications);
    return true;
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
      const quote = await quoteById(client, id, WHOLE_SHOP);
      if (!quote) continue;
      const values = { name: quote.name ?? '', total: moneyOf(quote, services) };
      const { email: to, locale } = quote;
      await enqueueNotifications(client, services, live.current().rulebook.shop, [
        { event: 'quote.lapsed', to, locale, values, seller: onlySeller(quote) },
      ]);
    }
    return due.length;
  });
}

const notOffered = (variant: string) =>
  new ProblemError(
    'not-offered',
    `${variant} is not offered by quote any more. Take it off the sheet and send it again.`,
  );
const isOver = () => new ProblemError('quote-over', 'This quote was accepted or turned down. Look at it again.');
const inAnotherPart = (variant: string) =>
  new ProblemError(
    'in-another-part',
    `${variant} is in another part of this quote. Remove it here, or price it there.`,
  );
