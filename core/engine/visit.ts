import type { Visit } from './decision.ts';
import { unionOf } from '../aspects/aspect.ts';
import { OF_VISIT, setOf, VISIT_ASPECTS } from '../aspects/aspects.ts';
import type { CompiledRulebook } from './compile.ts';
import { ruleIdsOf } from './decide.ts';
import type { ProductFacts, ViewContext, Subject, VariantFacts } from '../model/subject.ts';
import { winners } from './winners.ts';
import { formatInstant } from '../model/zone.ts';

/** A variant in a cart, with its product. */
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
 * Decides for a visit: for each line of the cart, or once without a product if it is empty. The strictest wins: closed
 * before open, hidden before shown.
 */
export function decideVisit(
  rulebook: CompiledRulebook,
  seen: ViewContext,
  lines: readonly ProductVariant[],
): DecidedVisit {
  const { visitor, moment, surface, page } = seen;
  // Named one by one: copying both objects costs more than deciding.
  const [first, ...others] = lines.map(({ product, variant }) =>
    forLine(rulebook, { product, variant, visitor, moment, surface, page }),
  );
  const decided = [first ?? forLine(rulebook, { ...seen, ...NO_PRODUCT }), ...others] as const;
  const of = <T>(part: (line: Decided) => T) => decided.map(part) as [T, ...T[]];
  const until = Math.min(...of((line) => line.until));
  return {
    visit: {
      cart: OF_VISIT.cart.join(
        of(({ cart }) => cart),
        null,
      ),
      checkout: OF_VISIT.checkout.join(
        of(({ checkout }) => checkout),
        null,
      ),
      reasons: {
        cart: unionOf(of(({ reasons }) => reasons.cart)),
        checkout: unionOf(of(({ reasons }) => reasons.checkout)),
      },
    },
    validUntil: until === Infinity ? null : formatInstant(rulebook.shop.zone, until),
  };
}

const VISIT_SET = setOf(VISIT_ASPECTS);
const NO_PRODUCT = { product: null, variant: null };

type Decided = Visit & { readonly until: number };

function forLine(rulebook: CompiledRulebook, subject: Subject): Decided {
  const { by, until } = winners(rulebook, subject, VISIT_SET);
  return {
    cart: OF_VISIT.cart.resolve(by.cart?.prepared.cart, subject),
    checkout: OF_VISIT.checkout.resolve(by.checkout?.prepared.checkout, subject),
    reasons: { cart: ruleIdsOf(by.cart), checkout: ruleIdsOf(by.checkout) },
    until,
  };
}

/** Lists the changes to cart and checkout in plain words. */
export const visitChanges = (before: Visit, after: Visit, nameOfMethod: (code: string) => string): string[] => [
  ...OF_VISIT.cart.changes(before.cart, after.cart, nameOfMethod),
  ...OF_VISIT.checkout.changes(before.checkout, after.checkout, nameOfMethod),
];
