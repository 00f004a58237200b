import { controlOf } from '../controls/controls.ts';
import type { Decision } from './decision.ts';
import { PRODUCT_ASPECTS, setOf, type ProductAspect } from '../model/aspects.ts';
import type { CompiledRule, CompiledRulebook } from './compile.ts';
import { SHOP_CONTROL } from './prepareOutcome.ts';
import { amounts } from './price.ts';
import {
  stockStatuses,
  type ProductSubject,
  type ProductFacts,
  type ViewContext,
  type ShopFacts,
  type StockFacts,
} from '../model/subject.ts';
import { withVisitorStatus } from './visitorStatus.ts';
import { winners, type Winners } from './winners.ts';
import { formatInstant } from '../model/zone.ts';

const OF_PRODUCT = setOf(PRODUCT_ASPECTS);

/** What won, and whom it speaks to. */
interface Resolution extends Pick<Winners, 'by' | 'gathered'> {
  readonly subject: ProductSubject;
  readonly shop: ShopFacts;
  readonly control: Decision['control'];
  /** Units left of a pre-order's cap; null without one. */
  readonly left: number | null;
}

/** Makes ready to say what the winners say of a subject. */
export function resolveAspects(
  { by, gathered }: Pick<Winners, 'by' | 'gathered'>,
  subject: ProductSubject,
  shop: ShopFacts,
): Resolution {
  const control = withVisitorStatus(by.control?.prepared.control(subject) ?? SHOP_CONTROL, subject, shop);
  return { by, gathered, subject, shop, control, left: control.kind === 'preorder' ? control.left : null };
}

const isPlain = ({ kind, beside }: Decision['control']) => kind === 'buy' || beside;

/** Each aspect as a shopper sees it. */
export const ASPECT_RESOLVERS: { readonly [A in ProductAspect]: (of: Resolution) => Decision[A] } = {
  control: ({ control }) => control,
  express: ({ by, control }) => by.express?.rule.then.express ?? (isPlain(control) ? 'show' : 'hide'),
  price: ({ by, subject, left, shop }) => priceOf(by.price, subject, left, shop.currency),
  notes: ({ gathered, subject, left }) =>
    gathered.notes.flatMap(({ prepared: present }) => present.notes(subject, left)),
  limits: ({ by }) => {
    const limits = by.limits?.rule.then.limits;
    return { min: limits?.min ?? 1, max: limits?.max ?? null, step: limits?.step ?? 1 };
  },
  visibility: ({ by, subject }) => ({
    state: by.visibility?.rule.then.visibility?.state ?? 'shown',
    redirectTo: by.visibility?.prepared.redirectTo.visibility?.(subject) ?? null,
  }),
  afterOrder: ({ by, subject, left }) => {
    const render = by.afterOrder?.prepared.afterOrder;
    return render ? { html: render(subject, left) } : null;
  },
  style: ({ gathered }) => [...new Set(gathered.style.flatMap(({ rule }) => rule.then.style ?? []))],
};

/** The rules that decided each aspect, by their ids. */
export const reasonsOf = (
  { by, gathered }: Pick<Winners, 'by' | 'gathered'>,
  control: Decision['control'],
): Record<ProductAspect, string[]> => ({
  control: ruleIdsOf(by.control),
  express: ruleIdsOf(by.express ?? (isPlain(control) ? undefined : by.control)),
  price: ruleIdsOf(by.price),
  notes: gathered.notes.map(({ rule }) => rule.id),
  limits: ruleIdsOf(by.limits),
  visibility: ruleIdsOf(by.visibility),
  afterOrder: ruleIdsOf(by.afterOrder),
  style: gathered.style.map(({ rule }) => rule.id),
});

/** What stands for one variant, visitor, moment and surface: complete, with its reasons and its expiry. */
export const decide = (rulebook: CompiledRulebook, subject: ProductSubject): Decision =>
  decisionBy(winners(rulebook, subject, OF_PRODUCT), subject, rulebook.shop);

/** Which rules decide, without the words that they would be shown with. */
export function decidingRules(rulebook: CompiledRulebook, subject: ProductSubject): Record<ProductAspect, string[]> {
  const won = winners(rulebook, subject, OF_PRODUCT);
  return reasonsOf(won, resolveAspects(won, subject, rulebook.shop).control);
}

/** The decision, where it is known who wins. */
export function decisionBy(won: Winners, subject: ProductSubject, shop: ShopFacts): Decision {
  const { product, variant, surface } = subject;
  const resolution = resolveAspects(won, subject, shop);
  const { control } = resolution;
  return {
    productId: product.id,
    variantId: variant.id,
    surface,
    control,
    express: ASPECT_RESOLVERS.express(resolution),
    price: ASPECT_RESOLVERS.price(resolution),
    notes: ASPECT_RESOLVERS.notes(resolution),
    limits: ASPECT_RESOLVERS.limits(resolution),
    visibility: ASPECT_RESOLVERS.visibility(resolution),
    afterOrder: ASPECT_RESOLVERS.afterOrder(resolution),
    style: ASPECT_RESOLVERS.style(resolution),
    availability: availabilityOf(control, variant.stock),
    reasons: reasonsOf(won, control),
    validUntil: won.until === Infinity ? null : formatInstant(shop.zone, won.until),
  };
}

/** The rules named as the reason of an aspect: none where it is the default. */
export const ruleIdsOf = (rule: CompiledRule | undefined): string[] => (rule ? [rule.rule.id] : []);

/** Decides each of a product's variants for one visitor on one surface. */
export function decideVariants(rulebook: CompiledRulebook, product: ProductFacts, seen: ViewContext): Decision[] {
  return product.variants.map((variant) => decide(rulebook, { ...seen, product, variant }));
}

/** Whether a price is shown where this rule decides it. */
export function showsPrice(rule: CompiledRule | undefined): boolean {
  const price = rule?.rule.then.price;
  return !(price && 'show' in price && !price.show);
}

function priceOf(
  rule: CompiledRule | undefined,
  subject: ProductSubject,
  left: number | null,
  currency: string,
): Decision['price'] {
  const price = rule?.rule.then.price;
  const show = showsPrice(rule);
  return {
    show,
    // A price that is hidden is not in the answer either: what a page must not show, its source must not hold.
    ...(show ? amounts(subject.variant, price) : { amount: null, was: null }),
    from: false,
    currency,
    suffix: rule?.prepared.priceSuffix?.(subject, left) || null,
    text: rule?.prepared.priceText?.(subject, left) ?? null,
  };
}

function availabilityOf(control: Decision['control'], stock: StockFacts): Decision['availability'] {
  const { availability } = controlOf(control);
  if (!control.beside && availability) return availability;
  const statuses = stockStatuses(stock);
  if (statuses.includes('backorder')) return 'BackOrder';
  return statuses.includes('outOfStock') ? 'OutOfStock' : 'InStock';
}
