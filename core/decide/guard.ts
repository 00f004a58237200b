import type { Decision, Visit } from '../contract/decision.ts';
import type { RefusalCode } from '../texts/ownWords.ts';
import type { CompiledRulebook } from './compile.ts';
import { decide } from './decide.ts';
import { canBeHad } from './listing.ts';
import type { VariantFacts, VisitorFacts } from './subject.ts';
import { decideVisit, type Goods } from './visit.ts';

/** A line of a cart, as a shop's server offers it. Anything may stand in it: the guard never trusts the page. */
export interface OfferedLine {
  readonly variantId: string;
  readonly quantity: number;
  /** Minor units; absent when the shop leaves the price to us. */
  readonly unitPrice?: number | undefined;
}

/** What a visitor was quoted for a variant: so many units, at that price of one in minor units. */
export interface Quoted {
  readonly units: number;
  readonly unitPrice: number;
}

export type Via = 'cart' | 'express';

/** Null lets the line through. */
export interface LineVerdict {
  readonly refusal: RefusalCode | null;
  /** The price it may be sold at, in minor units; null for a variant that is not known. */
  readonly unitPrice: number | null;
  /** What was decided for it; null for a variant that is not known. */
  readonly decision: Decision | null;
}

export interface Verdict {
  readonly lines: readonly LineVerdict[];
  readonly visit: Visit;
}

/** What of a decision a line is judged by. */
export type Judged = Pick<Decision, 'control' | 'express' | 'limits' | 'visibility' | 'price'>;

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
  {
    via,
    visitor,
    moment,
    quoted,
  }: { via: Via; visitor: VisitorFacts; moment: number; quoted?: ReadonlyMap<string, Quoted> },
  lines: readonly OfferedLine[],
  goodsOf: (variantId: string) => Goods | undefined,
): Verdict {
  const known = lines.flatMap(({ variantId }) => goodsOf(variantId) ?? []);
  const { visit } = decideVisit(rulebook, { visitor, moment, surface: 'cart', page: null }, known);
  const wanted = wantedIn(lines, goodsOf);
  const verdicts = lines.map((line): LineVerdict => {
    const goods = goodsOf(line.variantId);
    if (!goods) return { refusal: 'unknownVariant', unitPrice: null, decision: null };
    const verdictOn = (surface: 'product' | 'listing') => {
      const decision = decide(rulebook, { ...goods, visitor, moment, surface, page: null });
      return verdictOf(decision, goods.variant, line, via, wanted(goods));
    };
    const onPage = verdictOn('product');
    const onListing = onPage.refusal === null ? onPage : verdictOn('listing');
    const decided = onListing.refusal === null ? onListing : onPage;
    const quote = via === 'cart' ? quoted?.get(goods.variant.id) : undefined;
    const verdict = quote ? quotedVerdict(line, quote, wanted(goods), decided) : decided;
    return visit.cart.open ? verdict : { ...verdict, refusal: 'cartClosed' };
  });
  return { lines: verdicts, visit };
}

function wantedIn(
  lines: readonly OfferedLine[],
  goodsOf: (variantId: string) => Goods | undefined,
): (goods: Goods) => Wanted {
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
export function verdictOf<Decided extends Judged>(
  decision: Decided,
  variant: VariantFacts,
  line: OfferedLine,
  via: Via,
  wanted: Wanted,
): Omit<LineVerdict, 'decision'> & { readonly decision: Decided } {
  const { control, express, limits, visibility, price } = decision;
  const offered = line.unitPrice;
  const isOwnPrice = control.kind === 'ownPrice' && !control.beside;
  const unitPrice = isOwnPrice
    ? (offered ?? control.suggested ?? control.min ?? variant.price)
    : (price.amount ?? variant.price);
  const refuse = (refusal: RefusalCode | null) => ({ refusal, unitPrice, decision });

  if (!isQuantity(line.quantity)) return refuse('badQuantity');
  if (visibility.state === 'blocked') return refuse('notForSale');
  if (via === 'express' && express !== 'show') return refuse('noExpress');
  if (via === 'cart' && !canBeHad(control)) {
    if (control.kind === 'preorder') return refuse('capReached');
    return refuse(control.kind === 'signIn' ? 'signInFirst' : 'notForSale');
  }
  if (wanted.ofVariant < limits.min) return refuse('belowMinimum');
  if (wanted.ofVariant > (limits.max ?? Infinity)) return refuse('aboveMaximum');
  if ((wanted.ofVariant - limits.min) % limits.step !== 0) return refuse('wrongStep');

  const isReserved = control.kind === 'preorder' && !control.beside;
  if (isReserved && control.left !== null) {
    const together = control.per === 'product' ? wanted.ofProduct : wanted.ofVariant;
    if (together > control.left) return refuse('capReached');
  }
  if (!isReserved && leftFor(variant) < wanted.ofVariant) return refuse('notEnoughStock');
  if (isOwnPrice) {
    const isPrice = offered === undefined || (Number.isSafeInteger(offered) && offered >= (control.min ?? 0));
    return refuse(isPrice ? null : 'priceTooLow');
  }
  return refuse(offered !== undefined && offered !== unitPrice ? 'priceChanged' : null);
}

/** What was quoted is sold at that price, up to the units that were quoted, whatever stands on the page. */
function quotedVerdict(line: OfferedLine, quote: Quoted, wanted: Wanted, decided: LineVerdict): LineVerdict {
  if (!isQuantity(line.quantity) || wanted.ofVariant > quote.units) return decided;
  const { unitPrice } = quote;
  const isPrice = line.unitPrice === undefined || line.unitPrice === unitPrice;
  return { ...decided, refusal: isPrice ? null : 'priceChanged', unitPrice };
}

const isQuantity = (quantity: number) => Number.isSafeInteger(quantity) && quantity > 0;

/** How many can be sold now. */
function leftFor({ stock }: VariantFacts): number {
  return stock.tracked && !stock.sellPastZero ? stock.quantity : Infinity;
}
