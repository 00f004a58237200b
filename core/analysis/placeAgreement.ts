import { ASPECTS } from '../aspects/aspects.ts';
import type { CompiledRule, CompiledRulebook } from '../engine/compile.ts';
import { reasonsOf, ASPECT_RESOLVERS, resolving } from '../engine/decide.ts';
import { verdictOf, type LineVerdict } from '../engine/guard.ts';
import { controlOf, isBought } from '../controls/controls.ts';
import type { ProductSubject, ViewContext, Surface } from '../model/subject.ts';
import type { Winners } from '../engine/winners.ts';
import { shipDates } from '../fulfilment/shipping.ts';
import { ReadTrackedMemo, IntTupleMap, textInterner } from './readTrackedMemo.ts';
import type { Columns } from './columns.ts';
import type { FindingDetails } from './finding.ts';
import { noWinners, SLOTS, type BatchResolver } from './batchResolver.ts';

/** Places that should agree about the same goods. */
export const PLACES = ['product', 'listing', 'quickView'] as const satisfies readonly Surface[];

/** Something to tell the owner of a rule, by its id, where it is seen on a surface. */
export interface PlaceFinding {
  readonly about: FindingDetails;
  readonly rule: string;
  readonly surface: Surface;
}

/** Resolvers for each surface, and for the cart if a rule may close it; surfaces may share one. */
export interface PlaceResolvers {
  readonly seen: Omit<ViewContext, 'surface'>;
  readonly sides: readonly BatchResolver[];
  /** Of each place its side, and of the cart, by their places in the list. */
  readonly places: readonly number[];
  readonly cart: number | null;
  /** Visitor facts that rule texts depend on. */
  readonly visitorTextKey: string;
}

type Winning = Pick<Winners, 'by' | 'gathered'>;
const CART = ASPECTS.indexOf('cart');
const WITHHELD: readonly LineVerdict['refusal'][] = ['notForSale', 'signInFirst', 'capReached'];

/** Finds disagreements between the places of a shop, once for products that are alike. */
export class Places {
  private readonly findings = new IntTupleMap<ReadTrackedMemo<readonly PlaceFinding[]>>();
  private readonly numbered = textInterner();
  private readonly wons = [...PLACES, 'cart'].map(noWinners);
  private readonly numbers = new Int32Array((PLACES.length + 1) * SLOTS + 1);

  constructor(
    private readonly columns: Columns,
    private readonly rulebook: CompiledRulebook,
  ) {}

  /** Makes ready to ask the rows of a word. */
  fill({ sides, places, cart, visitorTextKey: textKey }: PlaceResolvers, word: number, rows: number): void {
    for (let index = 0; index < sides.length; index++) sides[index]!.fill(this.wons[index]!, word, rows);
    this.numbers.fill(-1);
    this.numbers[this.numbers.length - 1] = this.numbered(`${textKey} ${places.join()} ${String(cart)}`);
  }

  /** Finds disagreements for a row of the prepared word. */
  at({ seen, sides, places, cart }: PlaceResolvers, row: number, at: number): readonly PlaceFinding[] {
    for (let index = 0; index < sides.length; index++)
      for (let slot = 0; slot <= CART; slot++)
        this.numbers[index * SLOTS + slot] = sides[index]!.numberAt(
          this.wons[index]!,
          at,
          slot,
          'place',
          this.numbered,
        );
    return this.findings
      .get(this.numbers, () => {
        const winningOf = (index: number) => sides[index]!.winningAt(this.wons[index]!, at);
        const winning = places.map(winningOf);
        const closes = cart === null ? undefined : winningOf(cart).by.cart;
        return new ReadTrackedMemo(this.columns, (goods) =>
          disagreements(this.rulebook, winning, closes, (surface) => ({ ...seen, ...goods, surface })),
        );
      })
      .at(row);
  }
}

/** Resolves the decision on one surface, as far as needed. */
function decidedOn(rulebook: CompiledRulebook, winning: Winning, subject: ProductSubject) {
  const of = resolving(winning, subject, rulebook.shop);
  const { control } = of;
  return {
    control,
    isHad: isBought(control),
    isPriceShown: winning.by.price?.prepared.price?.isShown ?? true,
    visibility: ASPECT_RESOLVERS.visibility(winning, of).state,
    reasons: () => reasonsOf(winning, control),
    least: () => ASPECT_RESOLVERS.limits(winning, of).min,
    /** Reason to refuse this quantity; null if it passes. */
    refusal: (quantity: number) => {
      const judged = {
        control,
        limits: ASPECT_RESOLVERS.limits(winning, of),
        express: ASPECT_RESOLVERS.express(winning, of),
        visibility: ASPECT_RESOLVERS.visibility(winning, of),
        price: ASPECT_RESOLVERS.price(winning, of),
      };
      const line = { variantId: subject.variant.id, quantity };
      return verdictOf(judged, subject.variant, line, 'cart', { ofVariant: quantity, ofProduct: quantity }).refusal;
    },
  };
}

function disagreements(
  rulebook: CompiledRulebook,
  winning: readonly Winning[],
  closes: CompiledRule | undefined,
  subjectOn: (surface: Surface) => ProductSubject,
): PlaceFinding[] {
  const page = decidedOn(rulebook, winning[0]!, subjectOn('product'));
  if (page.visibility === 'blocked') return [];
  const listing = decidedOn(rulebook, winning[1]!, subjectOn('listing'));
  // The same winners give the same decision off listings.
  const quickView = winning[2] === winning[0] ? page : decidedOn(rulebook, winning[2]!, subjectOn('quickView'));
  const decided = [page, listing, quickView].map((place, index) => ({ ...place, surface: PLACES[index]! }));
  const found: PlaceFinding[] = [];
  const report = (about: FindingDetails, [rule]: readonly string[]) => {
    if (rule !== undefined) found.push({ about, rule, surface: 'surface' in about ? about.surface : 'product' });
  };
  const hides = decided.find(({ isPriceShown }) => !isPriceShown);
  if (hides && decided.some(({ isPriceShown }) => isPriceShown))
    report({ kind: 'priceShownElsewhere', surface: hides.surface }, hides.reasons().price);
  // A cart that is closed sells nothing, as it should.
  if (closes?.rule.then.cart?.open !== false && decided.some(({ isHad }) => isHad !== page.isHad)) {
    const onPage = page.refusal(page.least());
    const passes = onPage === null || listing.refusal(page.least()) === null || !WITHHELD.includes(onPage);
    const there = decided.find(({ isHad }) => isHad !== passes);
    if (there && passes) report({ kind: 'guardLetsThrough', surface: there.surface }, there.reasons().control);
    if (there && !passes) report({ kind: 'guardRefuses', surface: there.surface }, page.reasons().control);
  }
  const { control } = page;
  if (control.beside) return found;
  const { stock } = subjectOn('product').variant;
  const { isShopButton, awaitsStock, reserves } = controlOf(control);
  if (!page.isPriceShown && isShopButton) report({ kind: 'hiddenPriceSold' }, page.reasons().price);
  if (awaitsStock && stock.tracked && stock.quantity > 0) report({ kind: 'waitlistInStock' }, page.reasons().control);
  if (reserves) {
    const { product, moment } = subjectOn('product');
    const { from, until } = shipDates(reserves(control).ships, product, { moment, shop: rulebook.shop });
    if (from === null && until === null) report({ kind: 'preorderWithoutDate' }, page.reasons().control);
  }
  return found;
}
