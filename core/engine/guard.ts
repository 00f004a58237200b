import type { Decision, Visit } from './decision.ts';
import type { RefusalCode } from '../texts/defaultTexts.ts';
import type { CompiledRulebook } from './compile.ts';
import { decide } from './decide.ts';
import { SHOP_CONTROL } from '../aspects/control.ts';
import { controlOf, isBought } from '../controls/controls.ts';
import { isTurnFor, type VariantFacts, type VisitorFacts } from '../model/subject.ts';
import { isQuantity } from '../model/units.ts';
import { decideVisit, type ProductVariant } from './visit.ts';

/** A line of a cart, as a shop's server offers it. Anything may stand in it: the guard never trusts the page. */
export interface OfferedLine {
  readonly variantId: string;
  readonly quantity: number;
  /** Minor units; absent when the shop leaves the price to us. */
  readonly unitPrice?: number | undefined;
}

/** What a visitor was quoted for a variant: so many units, at that price of one in minor units. */
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
  /** What was decided for it; null for a variant that is not known. */
  readonly decision: Decision | null;
}

export interface Verdict {
  readonly lines: readonly LineVerdict[];
  readonly visit: Visit;
}

export interface OrderVerdict extends Verdict {
  /** Why no order may be placed, whatever its lines are; null where it may. */
  readonly refusal: RefusalCode | null;
}

/** What of a decision a line is judged by. */
export type JudgedDecision = Pick<Decision, 'control' | 'express' | 'limits' | 'visibility' | 'price'>;

/** Who asks, and when. */
export interface GuardContext {
  readonly visitor: VisitorFacts;
  /** Epoch ms. */
  readonly moment: number;
  /** By variant. */
  readonly quoted?: ReadonlyMap<string, QuotedLine>;
}

type GoodsOf = (variantId: string) => ProductVariant | undefined;

/** What all lines of a cart want together. */
interface Wanted {
  readonly ofVariant: number;
  readonly ofProduct: number;
}

/**
 * Whether a cart's lines may be sold now: the same decision that the page shows, asked again. A line passes when the
 * decision for its variant, on the product page or on the listing, lets it; the quantities of all lines together keep
 * to limits, cap and stock.
 */
export function guardLines(
  rulebook: CompiledRulebook,
  { via, ...context }: GuardContext & { readonly via: Via },
  lines: readonly OfferedLine[],
  goodsOf: GoodsOf,
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
 * Whether an order may be placed now: each line is judged by the way it came in, and all of it by what the checkout
 * withholds.
 */
export function guardOrder(
  rulebook: CompiledRulebook,
  { method, ...context }: GuardContext & { readonly method: string | undefined },
  lines: readonly (OfferedLine & { readonly via?: Via | undefined })[],
  goodsOf: GoodsOf,
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
  goodsOf: GoodsOf,
): Visit {
  const known = lines.flatMap(({ variantId }) => goodsOf(variantId) ?? []);
  return decideVisit(rulebook, { visitor, moment, surface, page: null }, known).visit;
}

function judgeLines(
  rulebook: CompiledRulebook,
  { visitor, moment, quoted }: GuardContext,
  lines: readonly (OfferedLine & { readonly via: Via })[],
  goodsOf: GoodsOf,
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
    // Who is signed in is not asked to sign in.
    return verdict.refusal === 'signInFirst' && visitor.signedIn ? { ...verdict, refusal: 'membersOnly' } : verdict;
  });
}

/** How many of a variant a visitor may have only because it is their turn; Infinity where it takes no turn. */
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

function wantedIn(lines: readonly OfferedLine[], goodsOf: GoodsOf): (goods: ProductVariant) => Wanted {
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

/** What one decision says of a line. */
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
    // Nobody is sent to a cart that refuses too.
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

/** What was quoted is sold at that price, up to the units that were quoted, whatever stands on the page. */
function quotedVerdict(line: OfferedLine, quote: QuotedLine, wanted: Wanted, decided: LineVerdict): LineVerdict {
  if (!isQuantity(line.quantity) || wanted.ofVariant > quote.units) return decided;
  const { unitPrice } = quote;
  const isPrice = line.unitPrice === undefined || line.unitPrice === unitPrice;
  return { ...decided, refusal: isPrice ? null : 'priceChanged', unitPrice, isPriceHidden: false };
}

/** How many can be sold now. */
function leftFor({ stock }: VariantFacts): number {
  return stock.tracked && !stock.sellPastZero ? stock.quantity : Infinity;
}
