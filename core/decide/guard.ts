import type { Decision } from '../contract/decision.ts';
import type { RefusalCode } from '../texts/ownWords.ts';
import type { CompiledRulebook } from './compile.ts';
import { decide } from './decide.ts';
import type { ProductFacts, VariantFacts, VisitorFacts } from './subject.ts';

/** A line of a cart, as a shop's server offers it. Anything may stand in it: the guard never trusts the page. */
export interface OfferedLine {
  readonly variantId: string;
  readonly quantity: number;
  /** Minor units; absent when the shop leaves the price to us. */
  readonly unitPrice?: number | undefined;
}

export interface Goods {
  readonly product: ProductFacts;
  readonly variant: VariantFacts;
}

export type Via = 'cart' | 'express';

/** Null lets the line through. */
export interface LineVerdict {
  readonly refusal: RefusalCode | null;
  /** The price it may be sold at, in minor units; null for a variant that is not known. */
  readonly unitPrice: number | null;
}

/**
 * Whether a cart's lines may be sold now: the same decision that the page shows, asked again. A line passes when its
 * variant can be bought on the product page or on the listing; the quantities of all lines together keep to the stock.
 */
export function guardLines(
  rulebook: CompiledRulebook,
  { via, visitor, moment }: { via: Via; visitor: VisitorFacts; moment: number },
  lines: readonly OfferedLine[],
  goodsOf: (variantId: string) => Goods | undefined,
): LineVerdict[] {
  const wanted = new Map<string, number>();
  for (const { variantId, quantity } of lines) {
    if (isQuantity(quantity)) wanted.set(variantId, (wanted.get(variantId) ?? 0) + quantity);
  }
  return lines.map((line) => {
    const goods = goodsOf(line.variantId);
    if (!goods) return { refusal: 'unknownVariant', unitPrice: null };
    const decisions = (['product', 'listing'] as const).map((surface) =>
      decide(rulebook, { ...goods, visitor, moment, surface }),
    );
    const refusal =
      refusalOf(line, via, decisions) ??
      (leftFor(goods.variant) < (wanted.get(line.variantId) ?? 0) ? 'notEnoughStock' : null) ??
      (line.unitPrice !== undefined && line.unitPrice !== goods.variant.price ? 'priceChanged' : null);
    return { refusal, unitPrice: goods.variant.price };
  });
}

function refusalOf({ quantity }: OfferedLine, via: Via, decisions: readonly Decision[]): RefusalCode | null {
  if (!isQuantity(quantity)) return 'badQuantity';
  if (via === 'express') return decisions.some(({ express }) => express === 'show') ? null : 'noExpress';
  if (decisions.some(({ control }) => control.kind === 'buy' || control.beside)) return null;
  return decisions.some(({ control }) => control.kind === 'signIn') ? 'signInFirst' : 'notForSale';
}

const isQuantity = (quantity: number) => Number.isSafeInteger(quantity) && quantity > 0;

/** How many can be sold now. */
function leftFor({ stock }: VariantFacts): number {
  return stock.tracked && !stock.sellPastZero ? stock.quantity : Infinity;
}
