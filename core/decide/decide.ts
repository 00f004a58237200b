import type { Decision } from '../contract/decision.ts';
import { GOODS_ASPECTS, setOf, type GoodsAspect } from './aspects.ts';
import type { CompiledRule, CompiledRulebook } from './compile.ts';
import { OWN_CONTROL } from './present.ts';
import { amounts } from './price.ts';
import { stockStatuses, type GoodsSubject, type ProductFacts, type Seen, type StockFacts } from './subject.ts';
import { withStanding } from './standing.ts';
import { winners } from './winners.ts';
import { formatInstant } from './zone.ts';

const OF_GOODS = setOf(GOODS_ASPECTS);

/** What stands for one variant, visitor, moment and surface: complete, with its reasons and its expiry. */
export function decide(rulebook: CompiledRulebook, subject: GoodsSubject): Decision {
  const { shop } = rulebook;
  const { by, gathered, until } = winners(rulebook, subject, OF_GOODS);
  const { product, variant, surface } = subject;

  const control = withStanding(by.control?.present.control(subject) ?? OWN_CONTROL, subject, shop);
  const left = control.kind === 'preorder' ? control.left : null;
  const plain = control.kind === 'buy' || control.beside;
  const expressRule = by.express ?? (plain ? undefined : by.control);
  const limits = by.limits?.rule.then.limits;
  const afterOrder = by.afterOrder?.present.afterOrder;

  return {
    productId: product.id,
    variantId: variant.id,
    surface,
    control,
    express: by.express?.rule.then.express ?? (plain ? 'show' : 'hide'),
    price: priceOf(by.price, subject, left, shop.currency),
    notes: gathered.notes.flatMap(({ present }) => present.notes(subject, left)),
    limits: { min: limits?.min ?? 1, max: limits?.max ?? null, step: limits?.step ?? 1 },
    visibility: {
      state: by.visibility?.rule.then.visibility?.state ?? 'shown',
      redirectTo: by.visibility?.present.redirectTo.visibility?.(subject) ?? null,
    },
    afterOrder: afterOrder ? { html: afterOrder(subject, left) } : null,
    style: [...new Set(gathered.style.flatMap(({ rule }) => rule.then.style ?? []))],
    availability: availabilityOf(control, variant.stock),
    reasons: {
      control: ids(by.control),
      express: ids(expressRule),
      price: ids(by.price),
      notes: gathered.notes.map(({ rule }) => rule.id),
      limits: ids(by.limits),
      visibility: ids(by.visibility),
      afterOrder: ids(by.afterOrder),
      style: gathered.style.map(({ rule }) => rule.id),
    } satisfies Record<GoodsAspect, string[]>,
    validUntil: until === Infinity ? null : formatInstant(shop.zone, until),
  };
}

/** The rules named as the reason of an aspect: none where it is the default. */
export const ids = (rule: CompiledRule | undefined): string[] => (rule ? [rule.rule.id] : []);

/** Decides each of a product's variants for one visitor on one surface. */
export function decideVariants(rulebook: CompiledRulebook, product: ProductFacts, seen: Seen): Decision[] {
  return product.variants.map((variant) => decide(rulebook, { ...seen, product, variant }));
}

function priceOf(
  rule: CompiledRule | undefined,
  subject: GoodsSubject,
  left: number | null,
  currency: string,
): Decision['price'] {
  const said = rule?.rule.then.price;
  const show = !(said && 'show' in said && !said.show);
  return {
    show,
    // A price that is hidden is not in the answer either: what a page must not show, its source must not hold.
    ...(show ? amounts(subject.variant, said) : { amount: null, was: null }),
    from: false,
    currency,
    suffix: rule?.present.priceSuffix?.(subject, left) || null,
    text: rule?.present.priceText?.(subject, left) ?? null,
  };
}

function availabilityOf({ kind, beside }: Decision['control'], stock: StockFacts): Decision['availability'] {
  if (!beside) {
    if (kind === 'preorder') return 'PreOrder';
    if (kind === 'notice' || kind === 'nothing' || kind === 'waitlist') return 'OutOfStock';
  }
  const statuses = stockStatuses(stock);
  if (statuses.includes('backorder')) return 'BackOrder';
  return statuses.includes('outOfStock') ? 'OutOfStock' : 'InStock';
}
