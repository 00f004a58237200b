import type { Visit } from './decision.ts';
import { setOf, VISIT_ASPECTS } from '../model/aspects.ts';
import type { CompiledRulebook } from './compile.ts';
import { ruleIdsOf } from './decide.ts';
import type { ProductFacts, ViewContext, Subject, VariantFacts } from '../model/subject.ts';
import { winners } from './winners.ts';
import { formatInstant } from '../model/zone.ts';

/** What lies in a cart. */
export interface ProductVariant {
  readonly product: ProductFacts;
  readonly variant: VariantFacts;
}

export interface DecidedVisit {
  readonly visit: Visit;
  /** The clock alone changes nothing before this instant; null when it never does. */
  readonly validUntil: string | null;
}

/**
 * What stands for a visit: decided for each line of the cart, or once without goods when it is empty. The strictest
 * wins: closed before open, hidden before shown.
 */
export function decideVisit(
  rulebook: CompiledRulebook,
  seen: ViewContext,
  lines: readonly ProductVariant[],
): DecidedVisit {
  const decided = (lines.length > 0 ? lines : [NO_PRODUCT]).map((goods) => forLine(rulebook, { ...seen, ...goods }));
  const { visit, until } = decided.reduce((a, b) => ({
    visit: strictest(a.visit, b.visit),
    until: Math.min(a.until, b.until),
  }));
  return { visit, validUntil: until === Infinity ? null : formatInstant(rulebook.shop.zone, until) };
}

const OF_VISIT = setOf(VISIT_ASPECTS);
const NO_PRODUCT = { product: null, variant: null };

function forLine(rulebook: CompiledRulebook, subject: Subject): { visit: Visit; until: number } {
  const { by, until } = winners(rulebook, subject, OF_VISIT);
  const checkout = by.checkout?.rule.then.checkout;
  return {
    visit: {
      cart: {
        open: by.cart?.rule.then.cart?.open ?? true,
        redirectTo: by.cart?.prepared.redirectTo.cart?.(subject) ?? null,
      },
      checkout: {
        open: checkout?.open ?? true,
        redirectTo: by.checkout?.prepared.redirectTo.checkout?.(subject) ?? null,
        submitOrder: {
          show: checkout?.submitOrder?.show ?? true,
          text: by.checkout?.prepared.submitOrderText?.(subject) ?? null,
        },
        hideMethods: checkout?.hideMethods ?? [],
      },
      reasons: { cart: ruleIdsOf(by.cart), checkout: ruleIdsOf(by.checkout) },
    },
    until,
  };
}

/** The stricter of two: what is closed or hidden in either. What it says and where it leads are that one's. */
function strictest(a: Visit, b: Visit): Visit {
  const union = (one: readonly string[], other: readonly string[]) => [...new Set([...one, ...other])];
  const cart = a.cart.open && !b.cart.open ? b.cart : a.cart;
  const door = a.checkout.open && !b.checkout.open ? b.checkout : a.checkout;
  const { submitOrder } = a.checkout.submitOrder.show && !b.checkout.submitOrder.show ? b.checkout : a.checkout;
  return {
    cart,
    checkout: {
      open: door.open,
      redirectTo: door.redirectTo,
      submitOrder,
      hideMethods: union(a.checkout.hideMethods, b.checkout.hideMethods),
    },
    reasons: { cart: union(a.reasons.cart, b.reasons.cart), checkout: union(a.reasons.checkout, b.reasons.checkout) },
  };
}
