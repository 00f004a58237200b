import type { LocalisedText } from './localisedText.ts';
import type { ProductColumnValues } from './productColumns.ts';
import type { VisitorStatus } from './visitorStatus.ts';
import type { Zone } from './zone.ts';

/** Everything that a decision depends on. The core reads nothing else: no clock, no database. */
export interface Subject {
  /** Null where a visit is decided without a line: facts of goods are then missing. */
  readonly product: ProductFacts | null;
  readonly variant: VariantFacts | null;
  readonly visitor: VisitorFacts;
  /** The instant decided for, in epoch milliseconds. */
  readonly moment: number;
  readonly surface: Surface;
  /** Path of the page that the visitor is on; null when it is not known. */
  readonly page: string | null;
}

/** A subject with goods. */
export interface ProductSubject extends Subject {
  readonly product: ProductFacts;
  readonly variant: VariantFacts;
}

/** Visitor, moment and surface: the same for all products of a request. */
export type ViewContext = Pick<Subject, 'visitor' | 'moment' | 'surface' | 'page'>;

export const SURFACES = ['listing', 'product', 'quickView', 'cart', 'checkout'] as const;
export type Surface = (typeof SURFACES)[number];

/** Facts of the shop as a whole, for which a rulebook is compiled. */
/** Texts of a shop, by locale (BCP 47) and key. */
export type ShopTexts = Readonly<Record<string, Readonly<Record<string, string>>>>;

export interface ShopFacts {
  readonly name: string;
  readonly zone: Zone;
  /** BCP 47; the first is the shop's default. */
  readonly locales: readonly string[];
  /** ISO 4217. */
  readonly currency: string;
  /** Decimal places of the currency's minor unit. */
  readonly exponent: number;
  /** Its texts by locale and key (`core/texts/languages`); English if missing. */
  readonly texts?: ShopTexts | undefined;
  /** Where shoppers sign in, where a rule does not say; a link with placeholders. */
  readonly signInAt?: string | undefined;
}

export interface ProductFacts extends ProductColumnValues {
  readonly id: string;
  readonly title: LocalisedText;
  readonly path: string | null;
  readonly tags: readonly string[];
  readonly attributes: Readonly<Record<string, string>>;
  /** Ids of the categories that the product is directly in. */
  readonly categories: readonly string[];
  /** The product's own dates by name: local dates or date-times, ISO 8601. */
  readonly dates: Readonly<Record<string, string>>;
  /** People on the waitlist of the product as a whole, those invited included. */
  readonly waiting: number;
  readonly variants: readonly VariantFacts[];
}

export interface VariantFacts {
  readonly id: string;
  readonly title: string;
  readonly options: Readonly<Record<string, string>>;
  /** Minor units of the shop's currency. */
  readonly price: number;
  readonly priceBefore: number | null;
  readonly stock: StockFacts;
  /** Units pre-ordered and not yet fulfilled. */
  readonly reserved: number;
  /** People on this variant's own waitlist. */
  readonly waiting: number;
}

export interface StockFacts {
  readonly tracked: boolean;
  readonly quantity: number;
  readonly sellPastZero: boolean;
}

export interface VisitorFacts {
  readonly signedIn: boolean;
  readonly roles: readonly RoleMembership[];
  readonly customerId: string | null;
  /** Locale of the request (BCP 47); null if it names none. */
  readonly locale: string | null;
  readonly invitations: readonly Invitation[];
  /** Earlier actions of the visitor. */
  readonly statuses?: readonly VisitorStatusRecord[];
}

/** A turn to buy, given to someone on a waitlist. */
export interface Invitation {
  /** `any` has no id and matches every product, for the audience of invited visitors. */
  readonly to: 'variant' | 'product' | 'any';
  readonly id: string;
  /** Epoch ms; null when it does not lapse. */
  readonly until: number | null;
  /** Units of a variant that the invitation allows; null or absent for no limit. */
  readonly units?: number | null | undefined;
}

/** Whether a turn is one to buy this. */
export const isTurnFor = (
  { to, id }: Invitation,
  { product, variant }: Pick<Subject, 'product' | 'variant'>,
): boolean => to === 'any' || id === { variant, product }[to]?.id;

/** An earlier action of a visitor about a variant, or about a product with all its variants. */
export interface VisitorStatusRecord {
  readonly to: 'variant' | 'product';
  readonly id: string;
  readonly status: VisitorStatus;
}

/** A role, or a membership when it has dates: held from `from` until just before `until`, in epoch ms. */
export interface RoleMembership {
  readonly code: string;
  readonly from: number | null;
  readonly until: number | null;
}

export const STOCK_STATUSES = ['inStock', 'outOfStock', 'backorder', 'untracked'] as const;
export type StockStatus = (typeof STOCK_STATUSES)[number];

/** Every status that is true of the stock: goods that sell past zero are out of stock and on backorder at once. */
export function stockStatuses({ tracked, quantity, sellPastZero }: StockFacts): readonly StockStatus[] {
  if (!tracked) return ['untracked'];
  if (quantity > 0) return ['inStock'];
  return sellPastZero ? ['outOfStock', 'backorder'] : ['outOfStock'];
}

/** The schema.org ItemAvailability terms that stock alone can mean, the best for a shopper first. */
export const STOCK_AVAILABILITIES = ['InStock', 'BackOrder', 'OutOfStock'] as const;
export type StockAvailability = (typeof STOCK_AVAILABILITIES)[number];

export function availabilityOf(stock: StockFacts): StockAvailability {
  const statuses = stockStatuses(stock);
  if (statuses.includes('backorder')) return 'BackOrder';
  return statuses.includes('outOfStock') ? 'OutOfStock' : 'InStock';
}
