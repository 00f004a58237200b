import type { z } from 'zod';
import type { AskGuard, GuardAnswer } from '#core/contract/storefront.ts';
import { guardLines, type Goods } from '#core/decide/guard.ts';
import { OPEN_VISIT } from '#core/decide/visit.ts';
import { refusalText } from '#core/texts/ownWords.ts';
import type { Services } from '../services.ts';
import { productsByVariants } from '../catalog/catalogQueries.ts';
import { visitorOf } from './visitor.ts';

/** Whether a cart's lines may be sold to this visitor now, asked of the same facts and the same core as the page. */
export async function guard(
  { db, live, clock }: Services,
  ask: z.infer<typeof AskGuard>,
): Promise<z.infer<typeof GuardAnswer>> {
  const { edition, rulebook, visitorSecrets: secrets } = live.current();
  const moment = clock();
  const locale = ask.locale ?? null;
  const [products, visitor] = await Promise.all([
    productsByVariants(db, [...new Set(ask.lines.map(({ variantId }) => variantId))]),
    visitorOf(db, ask.visitor, locale, { secrets, moment }),
  ]);
  const goods = new Map<string, Goods>(
    products.flatMap((product) => product.variants.map((variant) => [variant.id, { product, variant }] as const)),
  );
  const verdicts = guardLines(rulebook, { via: ask.via, visitor, moment }, ask.lines, (id) => goods.get(id));
  const lines = ask.lines.map(({ variantId, quantity }, index) => {
    const { refusal, unitPrice } = verdicts[index] ?? { refusal: 'unknownVariant' as const, unitPrice: null };
    const text = refusal && refusalText(refusal, locale, rulebook.shop.locales);
    return { variantId, quantity, ok: refusal === null, code: refusal, text, unitPrice };
  });
  const { cart, checkout } = OPEN_VISIT;
  return { ok: lines.every(({ ok }) => ok), edition, lines, cart, checkout };
}
