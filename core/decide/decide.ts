import type { Decision } from '../contract/decision.ts';
import { GOODS_ASPECTS, setOf, type GoodsAspect } from './aspects.ts';
import type { CompiledRule, CompiledRulebook } from './compile.ts';
import { OWN_CONTROL } from './present.ts';
import { amounts } from './price.ts';
import {
  stockStatuses,
  type GoodsSubject,
  type ProductFacts,
  type Seen,
  type ShopFacts,
  type StockFacts,
} from './subject.ts';
import { withStanding } from './standing.ts';
import { winners, type Winners } from './winners.ts';
import { formatInstant } from './zone.ts';

const OF_GOODS = setOf(GOODS_ASPECTS);

/** What won, and whom it speaks to. */
interface Spoken extends Pick<Winners, 'by' | 'gathered'> {
  readonly subject: GoodsSubject;
  readonly shop: ShopFacts;
  readonly control: Decision['control'];
  /** Units left of a pre-order's cap; null without one. */
  readonly left: number | null;
}

/** Makes ready to say what the winners say of a subject. */
export function spoken(
  { by, gathered }: Pick<Winners, 'by' | 'gathered'>,
  subject: GoodsSubject,
  shop: ShopFacts,
): Spoken {
  const control = withStanding(by.control?.present.control(subject) ?? OWN_CONTROL, subject, shop);
  return { by, gathered, subject, shop, control, left: control.kind === 'preorder' ? control.left : null };
}

const isPlain = ({ kind, beside }: Decision['control']) => kind === 'buy' || beside;

/** Each aspect as a shopper sees it. */
export const SAID: { readonly [A in GoodsAspect]: (of: Spoken) => Decision[A] } = {
  control: ({ control }) => control,
  express: ({ by, control }) => by.express?.rule.then.express ?? (isPlain(control) ? 'show' : 'hide'),
  price: ({ by, subject, left, shop }) => priceOf(by.price, subject, left, shop.currency),
  notes: ({ gathered, subject, left }) => gathered.notes.flatMap(({ present }) => present.notes(subject, left)),
  limits: ({ by }) => {
    const limits = by.limits?.rule.then.limits;
    return { min: limits?.min ?? 1, max: limits?.max ?? null, step: limits?.step ?? 1 };
  },
  visibility: ({ by, subject }) => ({
    state: by.visibility?.rule.then.visibility?.state ?? 'shown',
    redirectTo: by.visibility?.present.redirectTo.visibility?.(subject) ?? null,
  }),
  afterOrder: ({ by, subject, left }) => {
    const say = by.afterOrder?.present.afterOrder;
    return say ? { html: say(subject, left) } : null;
  },
  style: ({ gathered }) => [...new Set(gathered.style.flatMap(({ rule }) => rule.then.style ?? []))],
};

/** The rules that decided each aspect, by their ids. */
export const reasonsOf = (
  { by, gathered }: Pick<Winners, 'by' | 'gathered'>,
  control: Decision['control'],
): Record<GoodsAspect, string[]> => ({
  control: ids(by.control),
  express: ids(by.express ?? (isPlain(control) ? undefined : by.control)),
  price: ids(by.price),
  notes: gathered.notes.map(({ rule }) => rule.id),
  limits: ids(by.limits),
  visibility: ids(by.visibility),
  afterOrder: ids(by.afterOrder),
  style: gathered.style.map(({ rule }) => rule.id),
});

/** What stands for one variant, visitor, moment and surface: complete, with its reasons and its expiry. */
export const decide = (rulebook: CompiledRulebook, subject: GoodsSubject): Decision =>
  decisionBy(winners(rulebook, subject, OF_GOODS), subject, rulebook.shop);

/** The decision, where it is known who wins. */
export function decisionBy(won: Winners, subject: GoodsSubject, shop: ShopFacts): Decision {
  const { product, variant, surface } = subject;
  const says = spoken(won, subject, shop);
  const { control } = says;
  return {
    productId: product.id,
    variantId: variant.id,
    surface,
    control,
    express: SAID.express(says),
    price: SAID.price(says),
    notes: SAID.notes(says),
    limits: SAID.limits(says),
    visibility: SAID.visibility(says),
    afterOrder: SAID.afterOrder(says),
    style: SAID.style(says),
    availability: availabilityOf(control, variant.stock),
    reasons: reasonsOf(won, control),
    validUntil: won.until === Infinity ? null : formatInstant(shop.zone, won.until),
  };
}

/** The rules named as the reason of an aspect: none where it is the default. */
export const ids = (rule: CompiledRule | undefined): string[] => (rule ? [rule.rule.id] : []);

/** Decides each of a product's variants for one visitor on one surface. */
export function decideVariants(rulebook: CompiledRulebook, product: ProductFacts, seen: Seen): Decision[] {
  return product.variants.map((variant) => decide(rulebook, { ...seen, product, variant }));
}

/** Whether a price is shown where this rule decides it. */
export function showsPrice(rule: CompiledRule | undefined): boolean {
  const said = rule?.rule.then.price;
  return !(said && 'show' in said && !said.show);
}

function priceOf(
  rule: CompiledRule | undefined,
  subject: GoodsSubject,
  left: number | null,
  currency: string,
): Decision['price'] {
  const said = rule?.rule.then.price;
  const show = showsPrice(rule);
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
