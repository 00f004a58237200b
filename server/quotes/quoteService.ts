import type { z } from 'zod';
import type { postQuote, priceQuote, turnDownQuote } from '#core/contract/askingCalls.ts';
import { isAllowed, type Actor } from '#core/requests/machine.ts';
import { quote, stepQuote, type QuoteCommand } from '#core/requests/quote.ts';
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
import { answerTo, contentOf, keepAnswer, lockKey } from '../idempotency/idempotencyQueries.ts';
import { countOutcomes, type VisitorOutcome } from '../insights/countService.ts';
import { holdReasonFor } from '../messages/letterLimits.ts';
import { actorOf, carryOut, effectsOfBeginning } from '../requests/command.ts';
import { offersOf } from '../requests/offered.ts';
import { visitorOf } from '../visitors/visitor.ts';
import { visitorReader } from '../visitors/visitorCache.ts';
import type { JobServices } from '../services/services.ts';
import {
  lapsedLetter,
  moneyOf,
  notifyPricers,
  onlySeller,
  pricedLetter,
  quoteLink,
  requestValues,
  turnedDownLetter,
} from './quoteLetters.ts';
import {
  insertQuote,
  lockQuote,
  noteReply,
  pricePart,
  quoteById,
  quotesDue,
  unpricePart,
  wordsSent,
  writeStep,
  type QuotePart,
  type QuoteRow,
} from './quoteQueries.ts';
import { versionOf } from './quoteTotals.ts';

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
    const asked = (await quoteById(client, id, WHOLE_SHOP))!;
    const link = await quoteLink(services, id);
    await carryOut(client, services, effectsOfBeginning(quote, 'ask'), {
      count: () => countOutcomes(client, services, outcomes),
      letters: {
        // Anybody may have typed this address: the letter holds nothing that they wrote.
        'quote.asked': () => [
          {
            event: 'quote.asked',
            to: email,
            locale,
            values: { name: '', lines: lines.length, link },
            held: holdReason,
            seller: onlySeller(asked),
          },
        ],
        'quote.new': () => notifyPricers(client, services, asked, 'quote.new', asked.parts, requestValues(services)),
      },
    });
  });
}

/** Finds the part of a quote that the caller may price or decline. @throws {ProblemError} 404 */
function partFor(whole: QuoteRow, scope: Scope, seller: string | null | undefined): QuotePart {
  const [only] = whole.parts.length === 1 ? whole.parts : [];
  const part =
    scope.seller === null && seller === undefined && only
      ? only
      : whole.parts.find((one) => one.seller === (seller === undefined ? scope.seller : seller));
  if (!part) throw notFound(`part of quote ${whole.id}`);
  return part;
}

/** A step of a quote whose row is locked, and who takes it. */
interface Taking {
  readonly whole: QuoteRow;
  readonly command: QuoteCommand;
  readonly actor: Actor;
  readonly at: Date;
  /** Words with it, or none. */
  readonly words: string;
}

/**
 * Takes a step of a quote, stores it and carries out its effects.
 * @returns whether the step could be taken
 */
async function take(
  client: Queryable,
  services: JobServices,
  { whole, command, actor, at, words }: Taking,
): Promise<boolean> {
  const taken = stepQuote(whole, command, actor, { at, sending: (await sellerTerms(client)).quotes });
  if ('refusal' in taken) return false;
  const { id } = whole;
  if (command.name === 'reply') await noteReply(client, id, at);
  else await writeStep(client, id, taken.quote, { at, isReplyOpen: command.name === 'lapse' });
  const now = (await quoteById(client, id, WHOLE_SHOP))!;
  const written = now.parts.filter((part) => part.words !== '');
  const about = (parts: readonly number[] | undefined) =>
    parts ? now.parts.filter((part) => parts.includes(part.id)) : now.parts;
  for (const effect of taken.effects)
    await carryOut(client, services, [effect], {
      conversation: async () => {
        if (actor === 'customer') {
          if (words !== '') await appendMessage(client, { quote: id }, { byOwner: false, words, at });
          return;
        }
        for (const part of written)
          await appendMessage(client, { quote: id }, { byOwner: true, seller: part.seller, words: part.words, at });
        await wordsSent(client, id);
      },
      letters: {
        'quote.new': () =>
          notifyPricers(client, services, now, 'quote.new', about(effect.parts), requestValues(services)),
        'quote.priced': async () => [await pricedLetter(services, now, written)],
        'quote.turnedDown': () => [turnedDownLetter(services, now, written)],
        'quote.lapsed': () => [lapsedLetter(services, now)],
        'quote.answered': () =>
          notifyPricers(client, services, now, 'quote.answered', about(effect.parts), (quoted) => ({
            who: now.name ?? now.email,
            total: moneyOf(quoted, services),
            answer: ANSWERS[command.name] ?? '',
            words,
          })),
      },
    });
  return true;
}

/** Words for the customer's answers in the letter about them. */
const ANSWERS: Partial<Record<QuoteCommand['name'], string>> = {
  accept: 'accepted',
  decline: 'declined',
  reply: 'replied about',
};

/** Works on the part of a quote that the caller may price or turn down. @throws {ProblemError} 404, 409 */
async function changePart(
  services: JobServices,
  { id, scope, seller }: { id: number; scope: Scope; seller: string | null | undefined },
  change: (client: Queryable, whole: QuoteRow, part: QuotePart, at: Date) => Promise<QuoteCommand>,
): Promise<void> {
  const { db, clock } = services;
  const at = new Date(clock());
  await db.transaction(async (client) => {
    await lockQuote(client, id);
    const seen = await quoteById(client, id, scope);
    if (!seen) throw notFound(`quote ${id}`);
    const part = partFor(seen, scope, seller);
    const whole = (await quoteById(client, id, WHOLE_SHOP))!;
    const command = await change(client, whole, part, at);
    if (!(await take(client, services, { whole, command, actor: actorOf(scope), at, words: '' }))) throw isOver();
  });
}

/** Prices a part of a quote; the quote is sent once it is complete, or at once where the shop sends parts. */
export async function price(
  services: JobServices,
  { id, scope }: { id: number; scope: Scope },
  { lines, delivery, days, words, seller }: z.infer<(typeof priceQuote)['body']>,
): Promise<void> {
  await changePart(services, { id, scope, seller }, async (client, whole, part, at) => {
    const goods = await productVariants(
      client,
      lines.map(({ variant }) => ({ variantId: variant })),
    );
    const unknown = lines.find(({ variant }) => !scopeHas(scope, goods.get(variant)?.product));
    if (unknown) throw notFound(`variant ${unknown.variant}`);
    const elsewhere = whole.lines.find(
      (line) => line.seller !== part.seller && lines.some(({ variant }) => variant === line.variant),
    );
    if (elsewhere) throw inAnotherPart(elsewhere.variant);
    const validUntil = new Date(at.getTime() + days * DAY_MS);
    await pricePart(client, whole, part, { lines, delivery, validUntil, words });
    return { name: 'price', part: part.id, delivery, validUntil };
  });
}

/** Turns a part of a quote down; the quote, when all of it was. */
export async function turnDown(
  services: JobServices,
  { id, scope }: { id: number; scope: Scope },
  { words, seller }: z.infer<(typeof turnDownQuote)['body']>,
): Promise<void> {
  await changePart(services, { id, scope, seller }, async (client, _whole, part) => {
    await unpricePart(client, part.id, words);
    return { name: 'turnDown', part: part.id };
  });
}

/**
 * Takes a customer's answer to a quote.
 * @param version identifies the offer they saw, see `versionOf`
 * @returns `changed` when the offer is another by now, `over` when it can no longer be answered
 */
export async function answer(
  services: JobServices,
  id: number,
  { command, words, version }: { command: CustomerCommand; words: string; version: string },
): Promise<'done' | 'changed' | 'over'> {
  const { db, clock } = services;
  const at = new Date(clock());
  return db.transaction(async (client) => {
    await lockQuote(client, id);
    const whole = await quoteById(client, id, WHOLE_SHOP);
    if (!whole) return 'over';
    if (command === 'accept' || command === 'decline') {
      const isSame = versionOf(whole) === version;
      // Pressed again, it answers as before.
      if (quote.transitions[command].to.some((state) => state === whole.state) && isSame) return 'done';
      if (isAllowed(quote, whole.state, command, 'customer') && !isSame) return 'changed';
    }
    const taken = await take(client, services, { whole, command: { name: command }, actor: 'customer', at, words });
    return taken ? 'done' : 'over';
  });
}

/** Commands that customers give on a quote's page. `askAgain` asks for a new price once the last has expired. */
export type CustomerCommand = 'accept' | 'decline' | 'reply' | 'askAgain';

/** Lets quotes lapse whose time is over. @returns how many did */
export async function expireQuotes(services: JobServices): Promise<number> {
  const { db, clock } = services;
  const at = new Date(clock());
  return db.transaction(async (client) => {
    const due = await quotesDue(client, at);
    for (const id of due) {
      const whole = (await quoteById(client, id, WHOLE_SHOP))!;
      await take(client, services, { whole, command: { name: 'lapse' }, actor: 'system', at, words: '' });
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
