import type { Decision } from '../contract/decision.ts';
import { wordsIn } from '../texts/locale.ts';
import { ASPECTS, type Aspect } from './aspects.ts';
import type { CompiledRulebook } from './compile.ts';
import { OWN_CONTROL } from './present.ts';
import { stockStatuses, type ProductFacts, type ShopFacts, type StockFacts, type Subject } from './subject.ts';
import { winners } from './winners.ts';
import { formatInstant } from './zone.ts';

/** What stands for one variant, visitor, moment and surface: complete, with its reasons and its expiry. */
export function decide(rulebook: CompiledRulebook, subject: Subject): Decision {
  const { shop } = rulebook;
  const { by, until } = winners(rulebook, subject);
  const { product, variant, surface } = subject;

  const control = by.control?.present.control(subject) ?? OWN_CONTROL;
  const plain = control.kind === 'buy' || control.beside;
  const expressRule = by.express ?? (plain ? undefined : by.control);
  const priceShown = by.price?.rule.then.price?.show ?? true;
  const ids = (rule: { rule: { id: string } } | undefined) => (rule ? [rule.rule.id] : []);

  return {
    productId: product.id,
    variantId: variant.id,
    surface,
    control,
    express: by.express?.rule.then.express ?? (plain ? 'show' : 'hide'),
    price: {
      show: priceShown,
      // A price that is hidden is not in the answer either: what a page must not show, its source must not hold.
      amount: priceShown ? variant.price : null,
      was: priceShown ? formerPrice(variant.price, variant.priceBefore) : null,
      from: false,
      currency: shop.currency,
      suffix: null,
      text: by.price?.present.priceText?.(subject) ?? null,
    },
    notes: [],
    limits: { min: 1, max: null, step: 1 },
    visibility: { state: 'shown', redirectTo: null },
    afterOrder: null,
    style: [],
    availability: availabilityOf(control.kind, variant.stock),
    reasons: { ...noReasons(), control: ids(by.control), express: ids(expressRule), price: ids(by.price) },
    validUntil: until === Infinity ? null : formatInstant(shop.zone, until),
  };
}

/** Decides each of a product's variants on one surface. */
export function decideVariants(
  rulebook: CompiledRulebook,
  product: ProductFacts,
  seen: Omit<Subject, 'product' | 'variant'>,
): Decision[] {
  return product.variants.map((variant) => decide(rulebook, { ...seen, product, variant }));
}

/**
 * The one decision that a listing shows for a product, from those of its variants: alike, they speak for it; else, when
 * any can be bought, a link to choose on the product's page; else the first kind in the order of a shopper's hope.
 * @throws {RangeError} when there is no variant
 */
export function decideListing(
  decisions: readonly Decision[],
  product: ProductFacts,
  visitorLocale: string | null,
  shop: ShopFacts,
): Decision {
  const [first] = decisions;
  if (!first) throw new RangeError('a product has at least one variant');
  const control = listingControl(decisions, product, visitorLocale, shop);
  const shownPrices = decisions.map(({ price }) => price).filter((price) => price.show);
  const lowest = shownPrices.reduce<Decision['price'] | undefined>(
    (best, price) => (best === undefined || (price.amount ?? 0) < (best.amount ?? 0) ? price : best),
    undefined,
  );
  const untils = decisions.flatMap(({ validUntil }) => (validUntil === null ? [] : [validUntil]));
  const alike = control.kind !== 'choose' && decisions.every(({ express }) => express === first.express);
  return {
    ...first,
    variantId: decisions.length === 1 ? first.variantId : null,
    control,
    express: alike ? first.express : 'hide',
    price: lowest ? { ...lowest, from: shownPrices.some(({ amount }) => amount !== lowest.amount) } : first.price,
    availability:
      AVAILABILITY.find((term) => decisions.some(({ availability }) => availability === term)) ?? 'OutOfStock',
    reasons: unionOf(decisions.map(({ reasons }) => reasons)),
    validUntil: untils.length > 0 ? untils.reduce((a, b) => (Date.parse(a) <= Date.parse(b) ? a : b)) : null,
  };
}

function listingControl(
  decisions: readonly Decision[],
  product: ProductFacts,
  visitorLocale: string | null,
  shop: ShopFacts,
): Decision['control'] {
  const controls = decisions.map(({ control }) => control);
  const [first] = controls;
  const alike = new Set(controls.map((control) => JSON.stringify(control)));
  if (first && alike.size === 1) return first;
  if (controls.some(({ kind, beside }) => kind === 'buy' || beside)) {
    const words = wordsIn(shop.chooseLabel, visitorLocale, shop.locales);
    return { ...OWN_CONTROL, kind: 'choose', label: words, href: product.path, newTab: false };
  }
  const kind = HOPE.find((candidate) => controls.some((control) => control.kind === candidate));
  return controls.find((control) => control.kind === kind) ?? OWN_CONTROL;
}

/** Of stand-ins that differ, a listing shows the first of these. */
const HOPE = ['signIn', 'link', 'notice', 'nothing'] as const;

/** schema.org ItemAvailability, the best for a shopper first. */
const AVAILABILITY = ['InStock', 'PreOrder', 'BackOrder', 'OutOfStock'] as const;

function availabilityOf(kind: Decision['control']['kind'], stock: StockFacts): Decision['availability'] {
  if (kind === 'notice' || kind === 'nothing') return 'OutOfStock';
  const statuses = stockStatuses(stock);
  if (statuses.includes('backorder')) return 'BackOrder';
  return statuses.includes('outOfStock') ? 'OutOfStock' : 'InStock';
}

const formerPrice = (price: number, before: number | null) => (before !== null && before > price ? before : null);

const noReasons = () =>
  Object.fromEntries(ASPECTS.map((aspect) => [aspect, [] as string[]])) as Record<Aspect, string[]>;

function unionOf(all: readonly Decision['reasons'][]): Decision['reasons'] {
  const union = noReasons();
  for (const aspect of ASPECTS) union[aspect] = [...new Set(all.flatMap((reasons) => reasons[aspect]))];
  return union;
}
