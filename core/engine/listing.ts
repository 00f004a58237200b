import { unionOf } from '../aspects/aspect.ts';
import { OF_PRODUCT, PRODUCT_ASPECTS, type ProductAspect } from '../aspects/aspects.ts';
import { SHOP_CONTROL } from '../aspects/control.ts';
import type { ProductFacts, ShopFacts } from '../model/subject.ts';
import type { Decision } from './decision.ts';

/**
 * The one decision that a listing shows for a product, from those of its variants: alike, they speak for it; else each
 * aspect says how it is joined. The control comes first, since express pay follows it.
 * @throws {RangeError} when there is no variant
 */
export function decideListing(
  decisions: readonly Decision[],
  product: ProductFacts,
  locale: string | null,
  shop: ShopFacts,
): Decision {
  const [first, ...others] = decisions;
  if (!first) throw new RangeError('a product has at least one variant');
  const all = [first, ...others] as const;
  const of = <T>(part: (decision: Decision) => T) => all.map(part) as [T, ...T[]];
  const listing = { product, locale, shop, control: SHOP_CONTROL };
  const control = OF_PRODUCT.control.join(
    of((decision) => decision.control),
    listing,
  );
  const joined = <A extends Exclude<ProductAspect, 'control'>>(aspect: A) =>
    // Each aspect joins what it decides, a tie that TypeScript cannot follow through an index.
    (OF_PRODUCT[aspect].join as (all: unknown, listing: unknown) => Decision[A])(
      of((decision) => decision[aspect]),
      { ...listing, control },
    );
  const untils = decisions.flatMap(({ validUntil }) => (validUntil === null ? [] : [validUntil]));
  return {
    ...first,
    variantId: decisions.length === 1 ? first.variantId : null,
    control,
    express: joined('express'),
    price: joined('price'),
    notes: joined('notes'),
    limits: joined('limits'),
    visibility: joined('visibility'),
    afterOrder: joined('afterOrder'),
    style: joined('style'),
    availability:
      AVAILABILITY.find((term) => decisions.some(({ availability }) => availability === term)) ?? 'OutOfStock',
    reasons: reasonsOfAll(decisions.map(({ reasons }) => reasons)),
    validUntil: untils.length > 0 ? untils.reduce((a, b) => (Date.parse(a) <= Date.parse(b) ? a : b)) : null,
  };
}

/** schema.org ItemAvailability, the best for a shopper first. */
const AVAILABILITY = ['InStock', 'PreOrder', 'BackOrder', 'OutOfStock'] as const;

const reasonsOfAll = (all: readonly Decision['reasons'][]) =>
  Object.fromEntries(
    PRODUCT_ASPECTS.map((aspect) => [aspect, unionOf(all.map((reasons) => reasons[aspect]))]),
  ) as Record<ProductAspect, string[]>;
