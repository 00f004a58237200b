import { controlOf, keepsShopButton, reservationOf } from '../controls/controls.ts';
import type { Decision } from './decision.ts';
import type { Resolving } from '../aspects/aspect.ts';
import {
  OF_PRODUCT,
  PRODUCT_ASPECTS,
  setOf,
  type Gathered,
  type Prepared,
  type ProductAspect,
} from '../aspects/aspects.ts';
import { SHOP_CONTROL } from '../aspects/control.ts';
import type { CompiledRule, CompiledRulebook } from './compile.ts';
import {
  availabilityOf,
  type ProductSubject,
  type ProductFacts,
  type ViewContext,
  type ShopFacts,
  type StockFacts,
} from '../model/subject.ts';
import { winners, type Winners } from './winners.ts';
import { formatInstant } from '../model/zone.ts';

const PRODUCT_SET = setOf(PRODUCT_ASPECTS);

type Winning = Pick<Winners, 'by' | 'gathered'>;

/** Makes ready to say what the winners say of a subject. */
export function resolving({ by }: Winning, subject: ProductSubject, shop: ShopFacts): Resolving {
  const of = { subject, shop, control: SHOP_CONTROL, left: null };
  const control = OF_PRODUCT.control.resolve(by.control?.prepared.control, of);
  return { subject, shop, control, left: reservationOf(control)?.left ?? null };
}

/** Each aspect as a shopper sees it. */
export const ASPECT_RESOLVERS: { readonly [A in ProductAspect]: (won: Winning, of: Resolving) => Decision[A] } = {
  control: (_won, { control }) => control,
  express: ({ by }, of) => OF_PRODUCT.express.resolve(by.express?.prepared.express, of),
  price: ({ by }, of) => OF_PRODUCT.price.resolve(by.price?.prepared.price, of),
  notes: ({ gathered }, of) => OF_PRODUCT.notes.resolve(preparedOf(gathered.notes, 'notes'), of),
  limits: ({ by }, of) => OF_PRODUCT.limits.resolve(by.limits?.prepared.limits, of),
  visibility: ({ by }, of) => OF_PRODUCT.visibility.resolve(by.visibility?.prepared.visibility, of),
  afterOrder: ({ by }, of) => OF_PRODUCT.afterOrder.resolve(by.afterOrder?.prepared.afterOrder, of),
  style: ({ gathered }, of) => OF_PRODUCT.style.resolve(preparedOf(gathered.style, 'style'), of),
};

function preparedOf<A extends Gathered>(rules: readonly CompiledRule[], aspect: A): Prepared<A>[] {
  const all: Prepared<A>[] = [];
  for (const { prepared } of rules) {
    const one = prepared[aspect];
    if (one !== undefined) all.push(one);
  }
  return all;
}

/** The rules that decided each aspect, by their ids. */
export const reasonsOf = (
  { by, gathered }: Pick<Winners, 'by' | 'gathered'>,
  control: Decision['control'],
): Record<ProductAspect, string[]> => ({
  control: ruleIdsOf(by.control),
  express: ruleIdsOf(by.express ?? (keepsShopButton(control) ? undefined : by.control)),
  price: ruleIdsOf(by.price),
  notes: gathered.notes.map(({ rule }) => rule.id),
  limits: ruleIdsOf(by.limits),
  visibility: ruleIdsOf(by.visibility),
  afterOrder: ruleIdsOf(by.afterOrder),
  style: gathered.style.map(({ rule }) => rule.id),
});

/** Decides for one variant, visitor, moment and surface, with reasons and expiry. */
export const decide = (rulebook: CompiledRulebook, subject: ProductSubject): Decision =>
  decisionBy(winners(rulebook, subject, PRODUCT_SET), subject, rulebook.shop);

/** Finds the rules that decide each aspect, without rendering their texts. */
export function decidingRules(rulebook: CompiledRulebook, subject: ProductSubject): Record<ProductAspect, string[]> {
  const won = winners(rulebook, subject, PRODUCT_SET);
  return reasonsOf(won, resolving(won, subject, rulebook.shop).control);
}

/** The decision, where it is known who wins. */
export function decisionBy(won: Winners, subject: ProductSubject, shop: ShopFacts): Decision {
  const { product, variant, surface } = subject;
  const of = resolving(won, subject, shop);
  const { control } = of;
  return {
    productId: product.id,
    variantId: variant.id,
    surface,
    control,
    express: ASPECT_RESOLVERS.express(won, of),
    price: ASPECT_RESOLVERS.price(won, of),
    notes: ASPECT_RESOLVERS.notes(won, of),
    limits: ASPECT_RESOLVERS.limits(won, of),
    visibility: ASPECT_RESOLVERS.visibility(won, of),
    afterOrder: ASPECT_RESOLVERS.afterOrder(won, of),
    style: ASPECT_RESOLVERS.style(won, of),
    availability: availabilityWith(control, variant.stock),
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

function availabilityWith(control: Decision['control'], stock: StockFacts): Decision['availability'] {
  const { availability } = controlOf(control);
  return !control.beside && availability ? availability : availabilityOf(stock);
}
