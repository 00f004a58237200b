import { reservationOf } from '#core/controls/controls.ts';
import { shopText } from '#core/texts/shopTexts.ts';
import { createHash } from 'node:crypto';
import type { z } from 'zod';
import type { AskGuard, GuardAnswer } from '#core/contract/storefront.ts';
import { guardLines, guardOrder, type LineVerdict } from '#core/engine/guard.ts';
import type { Decision } from '#core/engine/decision.ts';
import { rulesAbout, type CompiledRule, type CompiledRulebook } from '#core/engine/compile.ts';
import type { ShopFacts, VisitorFacts } from '#core/model/subject.ts';
import type { ProductVariant } from '#core/engine/visit.ts';
import { shipDates } from '#core/fulfilment/shipping.ts';
import { shipsText, type RefusalCode } from '#core/texts/defaultTexts.ts';
import type { Services } from '../services/services.ts';
import type { CatalogServices } from '../catalog/productCache.ts';
import { acceptedQuote } from '../visitors/acceptedQuote.ts';
import { visitorOf, type VisitorNeeds } from '../visitors/visitor.ts';

type Ask = z.infer<typeof AskGuard>;
type Answer = z.infer<typeof GuardAnswer>;
type Needs = Pick<Services, 'live' | 'clock'> & Pick<CatalogServices, 'products'> & VisitorNeeds;

/** Whether a cart's lines may be sold to this visitor now, asked of the same facts and the same core as the page. */
export async function guard(services: Needs, ask: Ask): Promise<Answer> {
  const { answer, verdicts } = await judge(services, ask);
  // Anybody may ask, so hidden prices are left out.
  const lines = answer.lines.map((line, index) =>
    verdicts[index]?.isPriceHidden ? { ...line, unitPrice: null } : line,
  );
  return { ...answer, lines };
}

/** The same, with the visitor and the decision for each line. */
export async function judge(
  services: Needs,
  ask: Ask,
): Promise<{
  answer: Answer;
  visitor: VisitorFacts;
  goods: ReadonlyMap<string, ProductVariant>;
  verdicts: readonly LineVerdict[];
}> {
  const { products, live, clock } = services;
  const { edition, rulebook, visitorSecrets: secrets } = live.current();
  const { shop } = rulebook;
  const moment = clock();
  const locale = ask.locale ?? null;
  const [goods, quote, visitor] = await Promise.all([
    products.byVariants(ask.lines),
    acceptedQuote(services, ask.quote),
    visitorOf(services, { token: ask.visitor, locale, invitations: ask.invitations, secrets, moment }),
  ]);
  const context = { visitor, moment, ...(quote ? { quoted: quote.lines } : {}) };
  const goodsOf = (id: string) => goods.get(id);
  const { via, method } = ask;
  const message =
    via === 'order'
      ? guardOrder(rulebook, { ...context, method }, ask.lines, goodsOf)
      : { refusal: null, ...guardLines(rulebook, { ...context, via }, ask.lines, goodsOf) };
  const { lines: verdicts, visit } = message;
  const wordsOf = (code: RefusalCode) => shopText(`refusal.${code}`, locale, shop);
  const lines = verdicts.map(({ refusal: refused, unitPrice, decision }, index) => {
    const { variantId, quantity, terms } = ask.lines[index]!;
    const preorder = decision && reservation(rulebook, decision, goods.get(variantId), { moment, locale, shop });
    const isChanged = terms !== undefined && terms !== (preorder?.terms ?? '');
    const refusal = refused ?? (isChanged ? 'termsChanged' : null);
    return {
      variantId,
      quantity,
      ok: refusal === null,
      code: refusal,
      text: refusal && wordsOf(refusal),
      unitPrice,
      preorder,
      afterOrder: decision?.afterOrder?.html ?? null,
    };
  });
  const { cart, checkout } = visit;
  const refusal = message.refusal && { code: message.refusal, text: wordsOf(message.refusal) };
  const ok = refusal === null && lines.every(({ ok }) => ok) && cart.open;
  const isQuoted = ask.lines.some(({ variantId }) => quote?.lines.has(variantId));
  const delivery = isQuoted && quote ? quote.delivery : null;
  const answer = { ok, edition, refusal, lines, delivery, cart, checkout };
  return { answer, visitor, goods, verdicts };
}

/** Ship date, notes and terms of a reserved line; null for a line that is sold. */
function reservation(
  rulebook: CompiledRulebook,
  { control, notes, reasons }: Decision,
  goods: ProductVariant | undefined,
  { moment, locale, shop }: { moment: number; locale: string | null; shop: ShopFacts },
) {
  const reservation = control.beside ? null : reservationOf(control);
  if (!reservation || !goods) return null;
  const dates = shipDates(reservation.ships, goods.product, { moment, shop });
  return {
    ships: shipsText(dates, locale, shop),
    notes: notes.filter(({ place }) => place !== 'badge').map(({ html }) => html),
    terms: termsOf(rulesAbout(rulebook, goods.product), { rules: reasons.notes, dates: [dates, goods.product.dates] }),
  };
}

/** Identifies the promised terms by the notes of the rules: numbers such as units left do not change them. */
function termsOf(
  about: readonly CompiledRule[],
  { rules, dates }: { rules: readonly string[]; dates: unknown },
): string {
  const notes = about.filter(({ rule }) => rules.includes(rule.id)).map(({ rule }) => rule.then.notes);
  return createHash('sha256')
    .update(JSON.stringify([notes, dates]))
    .digest('base64url')
    .slice(0, 16);
}
