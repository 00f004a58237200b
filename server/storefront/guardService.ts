import type { z } from 'zod';
import type { AskGuard, GuardAnswer } from '#core/contract/storefront.ts';
import { guardLines } from '#core/decide/guard.ts';
import { refusalText } from '#core/texts/ownWords.ts';
import type { Services } from '../services.ts';
import { goodsByVariants } from '../catalog/catalogQueries.ts';
import { visitorOf } from './visitor.ts';

/** Whether a cart's lines may be sold to this visitor now, asked of the same facts and the same core as the page. */
export async function guard(services: Services, ask: z.infer<typeof AskGuard>): Promise<z.infer<typeof GuardAnswer>> {
  const { db, live, clock } = services;
  const { edition, rulebook, visitorSecrets: secrets } = live.current();
  const moment = clock();
  const locale = ask.locale ?? null;
  const [goods, visitor] = await Promise.all([
    goodsByVariants(db, ask.lines),
    visitorOf(services, { token: ask.visitor, locale, invitations: ask.invitations, secrets, moment }),
  ]);
  const asked = { via: ask.via, visitor, moment };
  const { lines: verdicts, visit } = guardLines(rulebook, asked, ask.lines, (id) => goods.get(id));
  const lines = ask.lines.map(({ variantId, quantity }, index) => {
    const { refusal, unitPrice } = verdicts[index] ?? { refusal: 'unknownVariant' as const, unitPrice: null };
    const text = refusal && refusalText(refusal, locale, rulebook.shop.locales);
    return { variantId, quantity, ok: refusal === null, code: refusal, text, unitPrice };
  });
  const { cart, checkout } = visit;
  return { ok: lines.every(({ ok }) => ok) && cart.open, edition, lines, cart, checkout };
}
