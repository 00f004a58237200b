import type { Decision, Visit } from './decision.ts';
import type { RefusalCode } from '../texts/defaultTexts.ts';
import type { CompiledRulebook } from './compile.ts';
import { decide } from './decide.ts';
import { SHOP_CONTROL } from '../aspects/control.ts';
import { controlOf, isBought } from '../controls/controls.ts';
import { isTurnFor, type VariantFacts, type VisitorFacts } from '../model/subject.ts';
import { isQuantity } from '../model/units.ts';
import { decideVisit, type ProductVariant } from './visit.ts';

/** A line of a cart as a shop's server sends it. Its values are not trusted: they come from a page. */
export interface OfferedLine {
  readonly variantId: string;
  readonly quantity: number;
  /** Minor units; absent when the shop leaves the price to us. */
  readonly unitPrice?: number | undefined;
}

/** A quote for a variant: the number of units and the unit price, in minor units. */
export interface QuotedLine {
  readonly units: number;
  readonly unitPrice: number;
}

export type Via = 'cart' | 'express';

/** Null lets the line through. */
export interface LineVerdict {
  readonly refusal: RefusalCode | null;
  /** The price it may be sold at, in minor units; null for a variant that is not known. */
  readonly unitPrice: number | null;
  /** Whether the page keeps that price from the same visitor. */
  readonly isPriceHidden: boolean;
  /** The decision for its variant; null if the variant is unknown. */
  readonly decision: Decision | null;
}

export interface Verdict {
  readonly lines: readonly LineVerdict[];
  readonly visit: Visit;
}

export interface OrderVerdict extends Verdict {
  /** Reason to refuse any order, whatever its lines; null if there is none. */
  readonly refusal: RefusalCode | null;
}

/** Parts of a decision that the guard uses. */
export type JudgedDecision = Pick<Decision, 'control' | 'express' | 'limits' | 'visibility' | 'price'>;

/** The visitor, and the moment of the request. */
export interface GuardContext {
  readonly visitor: VisitorFacts;
  /** Epoch ms. */
  readonly moment: number;
  /** By variant. */
  readonly quoted?: ReadonlyMap<string, QuotedLine>;
}

type VariantLookup = (variantId: string) => ProductVariant | undefined;

/** Total quantities over all lines of a cart. */
interface Wanted {
  readonly ofVariant: number;
  readonly ofProduct: number;
}

/**
 * Judges whether a cart's lines may be sold now, by the decisions that pages show. A line passes if the decision for its
 * variant, on the product page or on a listing, sells it, and the quantities of all lines together keep limits, cap and
 * stock.
 */
export function guardLines(
  rulebook: CompiledRulebook,
  { via, ...context }: GuardContext & { readonly via: Via },
  lines: readonly OfferedLine[],
  goodsOf: VariantLookup,
): Verdict {
  const visit = visitOn('cart', rulebook, context, lines, goodsOf);
  return {
    lines: judgeLines(
      rulebook,
      context,
      lines.map((line) => ({ ...line, via })),
      goodsOf,
      visit.cart.open,
    ),
    visit,
  };
}

/**
 * Judges whether an order may be placed now: each line by the way it came in, and the order by the checkout.
 */
export function guardOrder(
  rulebook: CompiledRulebook,
  { method, ...context }: GuardContext & { readonly method: string | undefined },
  lines: readonly (OfferedLine & { readonly via?: Via | undefined })[],
  goodsOf: VariantLookup,
): OrderVerdict {
  const { cart, reasons } = visitOn('cart', rulebook, context, lines, goodsOf);
  const { checkout, ...atCheckout } = visitOn('checkout', rulebook, context, lines, goodsOf);
  const judged = lines.map((line) => ({ ...line, via: line.via ?? 'cart' }));
  return {
    refusal: refusalAt(checkout, method),
    lines: judgeLines(rulebook, context, judged, goodsOf, cart.open),
    visit: { cart, checkout, reasons: { cart: reasons.cart, checkout: atCheckout.reasons.checkout } },
  };
}

function refusalAt({ open, submitOrder, hideMethods }: Visit['checkout'], method?: string): RefusalCode | null {
  if (!open) return 'checkoutClosed';
  if (!submitOrder.show) return 'orderWithheld';
  return method !== undefined && hideMethods.includes(method) ? 'methodWithheld' : null;
}

function visitOn(
  surface: 'cart' | 'checkout',
  rulebook: CompiledRulebook,
  { visitor, moment }: GuardContext,
  lines: readonly OfferedLine[],
  goodsOf: VariantLookup,
): Visit {
  const known = lines.flatMap(({ variantId }) => goodsOf(variantId) ?? []);
  return decideVisit(rulebook, { visitor, moment, surface, page: null }, known).visit;
}

function judgeLines(
  rulebook: CompiledRulebook,
  { visitor, moment, quoted }: GuardContext,
  lines: readonly (OfferedLine & { readonly via: Via })[],
  goodsOf: VariantLookup,
  isCartOpen: boolean,
): LineVerdict[] {
  const wanted = wantedIn(lines, goodsOf);
  return lines.map((line): LineVerdict => {
    const goods = goodsOf(line.variantId);
    if (!goods) return { refusal: 'unknownVariant', unitPrice: null, isPriceHidden: false, decision: null };
    const verdictOn = (surface: 'product' | 'listing') => {
      // Named one by one: copying the object costs more than deciding.
      const { product, variant } = goods;
      const decision = decide(rulebook, { product, variant, visitor, moment, surface, page: null });
      return verdictOf(decision, goods.variant, line, line.via, wanted(goods));
    };
    const onPage = verdictOn('product');
    const onListing = onPage.refusal === null ? onPage : verdictOn('listing');
    const decided = onListing.refusal === null ? onListing : onPage;
    const quote = line.via === 'cart' ? quoted?.get(goods.variant.id) : undefined;
    const verdict = quote ? quotedVerdict(line, quote, wanted(goods), decided) : decided;
    if (!isCartOpen) return { ...verdict, refusal: 'cartClosed' };
    if (verdict.refusal === null && wanted(goods).ofVariant > unitsInvited(rulebook, goods, { visitor, moment }))
      return { ...verdict, refusal: 'moreThanInvited' };
    // A signed-in visitor is not asked to sign in.
    return verdict.refusal === 'signInFirst' && visitor.signedIn ? { ...verdict, refusal: 'membersOnly' } : verdict;
  });
}

/** Units of a variant that a visitor may buy only because they were invited; Infinity if no invitation is needed. */
function unitsInvited(
  rulebook: CompiledRulebook,
  { product, variant }: ProductVariant,
  { visitor, moment }: GuardContext,
): number {
  const turns = visitor.invitations.filter(
    (turn) => isTurnFor(turn, { product, variant }) && moment < (turn.until ?? Infinity),
  );
  if (turns.length === 0) return Infinity;
  const withoutTurn = { product, variant, visitor: { ...visitor, invitations: [] }, moment, page: null };
  const isForAll = (['product', 'listing'] as const).some((surface) =>
    isBought(decide(rulebook, { ...withoutTurn, surface }).control),
  );
  return isForAll ? Infinity : Math.max(...turns.map(({ units }) => units ?? Infinity));
}

function wantedIn(lines: readonly OfferedLine[], goodsOf: VariantLookup): (goods: ProductVariant) => Wanted {
  const ofVariant = new Map<string, number>();
  const ofProduct = new Map<string, number>();
  for (const { variantId, quantity } of lines) {
    const goods = goodsOf(variantId);
    if (!goods || !isQuantity(quantity)) continue;
    ofVariant.set(variantId, (ofVariant.get(variantId) ?? 0) + quantity);
    ofProduct.set(goods.product.id, (ofProduct.get(goods.product.id) ?? 0) + quantity);
  }
  return ({ product, variant }) => ({
    ofVariant: ofVariant.get(variant.id) ?? 0,
    ofProduct: ofProduct.get(product.id) ?? 0,
  });
}

/** Judges a line by one decision. */
export function verdictOf<Decided extends JudgedDecision>(
  decision: Decided,
  variant: VariantFacts,
  line: OfferedLine,
  via: Via,
  wanted: Wanted,
): Omit<LineVerdict, 'decision'> & { readonly decision: Decided } {
  const { control, express, limits, visibility, price } = decision;
  const offered = line.unitPrice;
  const { reserves, buyersPrice } = controlOf(control.beside ? SHOP_CONTROL : control);
  const named = buyersPrice?.(control);
  const unitPrice = named ? (offered ?? named.usual ?? variant.price) : (price.amount ?? variant.price);
  const refuse = (refusal: RefusalCode | null) => ({ refusal, unitPrice, isPriceHidden: !price.show, decision });

  if (!isQuantity(line.quantity)) return refuse('badQuantity');
  if (visibility.state === 'blocked') return refuse('notForSale');
  if (via === 'express' && express !== 'show') {
    // A cart that refuses too gives the better reason.
    return refuse(verdictOf(decision, variant, line, 'cart', wanted).refusal ?? 'noExpress');
  }
  if (via === 'cart' && !isBought(control)) {
    return refuse(controlOf(control).refusal);
  }
  if (wanted.ofVariant < limits.min) return refuse('belowMinimum');
  if (wanted.ofVariant > (limits.max ?? Infinity)) return refuse('aboveMaximum');
  if ((wanted.ofVariant - limits.min) % limits.step !== 0) return refuse('wrongStep');

  const reservation = reserves?.(control);
  const together = reservation?.per === 'product' ? wanted.ofProduct : wanted.ofVariant;
  if (reservation && together > (reservation.left ?? Infinity)) return refuse('capReached');
  if (!reservation && leftFor(variant) < wanted.ofVariant) return refuse('notEnoughStock');
  if (named) {
    const isPrice = offered === undefined || (Number.isSafeInteger(offered) && offered >= named.minimum);
    return refuse(isPrice ? null : 'priceTooLow');
  }
  return refuse(offered !== undefined && offered !== unitPrice ? 'priceChanged' : null);
}

/** Sells a quoted variant at its quoted price, up to the quoted units, regardless of the page. */
function quotedVerdict(line: OfferedLine, quote: QuotedLine, wanted: Wanted, decided: LineVerdict): LineVerdict {
  if (!isQuantity(line.quantity) || wanted.ofVariant > quote.units) return decided;
  const { unitPrice } = quote;
  const isPrice = line.unitPrice === undefined || line.unitPrice === unitPrice;
  return { ...decided, refusal: isPrice ? null : 'priceChanged', unitPrice, isPriceHidden: false };
}

/** Units that can be sold now. */
function leftFor({ stock }: VariantFacts): number {
  return stock.tracked && !stock.sellPastZero ? stock.quantity : Infinity;
}
