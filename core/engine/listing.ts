import { controlOf, isBought } from '../controls/controls.ts';
import type { Decision } from './decision.ts';
import { wordsIn } from '../texts/locale.ts';
import { PRODUCT_ASPECTS, type ProductAspect } from '../model/aspects.ts';
import { SHOP_CONTROL } from './prepareOutcome.ts';
import type { ProductFacts, ShopFacts } from '../model/subject.ts';

/**
 * The one decision that a listing shows for a product, from those of its variants: alike, they speak for it; else, when
 * any can be bought or reserved, a link to choose on the product's page; else the first kind in the order of a shopper's
 * hope. Notes and style are those common to all; a product stays on listings while any variant does.
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
    notes: commonTo(decisions.map(({ notes }) => notes)),
    limits: alikeOr(
      decisions.map(({ limits }) => limits),
      { min: 1, max: null, step: 1 },
    ),
    visibility:
      SEEN.map((state) => decisions.find(({ visibility }) => visibility.state === state)).find(
        (decision) => decision !== undefined,
      )?.visibility ?? first.visibility,
    afterOrder: alikeOr(
      decisions.map(({ afterOrder }) => afterOrder),
      null,
    ),
    style: commonTo(decisions.map(({ style }) => style)),
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
  if (controls.some((control) => isBought(control))) {
    const words = wordsIn(shop.chooseLabel, visitorLocale, shop.locales);
    return { ...SHOP_CONTROL, kind: 'choose', label: words, href: product.path, newTab: false };
  }
  // Sorting is stable: of one kind the first is shown.
  const [best] = controls
    .flatMap((control) => ({ control, order: controlOf(control).listingOrder ?? Infinity }))
    .filter(({ order }) => order < Infinity)
    .sort((a, b) => a.order - b.order);
  return best?.control ?? SHOP_CONTROL;
}

/** How much of a product is seen, the most first. */
const SEEN = ['shown', 'offListings', 'blocked'] as const;

/** schema.org ItemAvailability, the best for a shopper first. */
const AVAILABILITY = ['InStock', 'PreOrder', 'BackOrder', 'OutOfStock'] as const;

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

const commonTo = <T>([first = [], ...others]: readonly (readonly T[])[]): T[] =>
  first.filter((item) => others.every((list) => list.some((other) => same(other, item))));

const alikeOr = <T>(values: readonly T[], otherwise: T): T =>
  values.every((value) => same(value, values[0])) ? (values[0] ?? otherwise) : otherwise;

function unionOf(all: readonly Decision['reasons'][]): Decision['reasons'] {
  const of = (aspect: ProductAspect) => [...new Set(all.flatMap((reasons) => reasons[aspect]))];
  return Object.fromEntries(PRODUCT_ASPECTS.map((aspect) => [aspect, of(aspect)])) as Record<ProductAspect, string[]>;
}
