import { aspectOf, OF_PRODUCT, PRODUCT_ASPECTS, type ProductAspect } from '../aspects/aspects.ts';
import type { Listing } from '../aspects/aspect.ts';
import { SHOP_CONTROL, stockRank } from '../aspects/control.ts';
import type { Decision } from '../engine/decision.ts';
import { ASPECT_RESOLVERS, resolving } from '../engine/decide.ts';
import type { Winners } from '../engine/winners.ts';
import type { ShopFacts, ViewContext } from '../model/subject.ts';
import { PRODUCT_SLOTS, type BatchResolver, type WinnerSlots } from './batchResolver.ts';
import type { Columns } from './columns.ts';
import { lookOf, type VisibleChange } from './outcomeDiffer.ts';
import { IntTupleMap, ReadTrackedMemo, textInterner, visitorTextKey } from './readTrackedMemo.ts';
import type { RuleSetDiff } from './ruleSetDiff.ts';

/** The value of one aspect for a variant, numbered: equal values have equal numbers. */
interface Numbered {
  readonly value: unknown;
  readonly number: number;
}

/** The aspects of a variant on one side, each computed once for variants with equal facts. */
type Saying = readonly ReadTrackedMemo<Numbered>[];

/** Results for products, by the numbers of their variants' values. */
interface Known {
  readonly numbers: Int32Array;
  readonly known: IntTupleMap<VisibleChange | null>;
}

/** One side of a comparison. */
interface Side {
  readonly rules: BatchResolver;
  readonly look: ViewContext;
}

const CONTROL = PRODUCT_ASPECTS.indexOf('control');
const FOLLOWS = PRODUCT_ASPECTS.map((aspect) => aspectOf(aspect).follows);

/**
 * Tells what changes on a listing where other rules win for a product's variants: the same as joining the decisions of all
 * its variants on both sides, asked once for all products whose variants say the same.
 */
export class ListingDiffer {
  private readonly sayings = new IntTupleMap<Saying>();
  private readonly memos = new Map<string, ReadTrackedMemo<Numbered>>();
  private readonly known = new Map<number, Known>();
  private readonly numbered = textInterner();

  constructor(private readonly columns: Columns) {}

  /**
   * To be called with the rows of products in order; the answer comes with a product's last row, and is null where nothing
   * can be seen of a change.
   */
  between(
    { was, is }: RuleSetDiff,
    { shop, before, after }: { readonly shop: ShopFacts; readonly before: ViewContext; readonly after: ViewContext },
  ): (row: number, won: WinnerSlots, wins: WinnerSlots, at: number) => VisibleChange | null {
    const sides = [
      { side: { rules: was, look: before }, numbers: this.numbersFor(before) },
      { side: { rules: is, look: after }, numbers: this.numbersFor(after) },
    ] as const;
    const sayings: [Saying, Saying][] = [];
    let differing = 0;
    return (row, won, wins, at) => {
      const [one, other] = sides;
      sayings.push([this.saying(one, won, at, shop), this.saying(other, wins, at, shop)]);
      for (let slot = 0; slot < PRODUCT_SLOTS; slot++)
        if (one.numbers[slot] !== other.numbers[slot]) differing |= 1 << slot;
      const place = this.columns.placeOf(row);
      if (row + 1 < this.columns.firstOf(place + 1)) return null;
      const outcome = this.outcomeOf(place, sayings, SLOTS_THAT_MAY_DIFFER[differing]!, {
        shop,
        locale: after.visitor.locale,
        text: one.numbers[PRODUCT_SLOTS]!,
      });
      sayings.length = 0;
      differing = 0;
      return outcome;
    };
  }

  private numbersFor(look: ViewContext): Int32Array {
    const numbers = new Int32Array(PRODUCT_SLOTS + 1);
    numbers[PRODUCT_SLOTS] = this.numbered(visitorTextKey(look));
    return numbers;
  }

  private saying(
    { side, numbers }: { readonly side: Side; readonly numbers: Int32Array },
    won: WinnerSlots,
    at: number,
    shop: ShopFacts,
  ): Saying {
    const { rules, look } = side;
    for (let slot = 0; slot < PRODUCT_SLOTS; slot++)
      numbers[slot] = rules.numberAt(won, at, slot, 'outcomeId', this.numbered);
    return this.sayings.get(numbers, () => {
      const winning = rules.winningAt(won, at);
      return PRODUCT_ASPECTS.map((aspect, slot) => {
        const hangsOn = FOLLOWS[slot] === undefined ? [slot] : [slot, CONTROL];
        const key = [aspect, numbers[PRODUCT_SLOTS], ...hangsOn.map((one) => numbers[one])].join();
        const memo = this.memos.get(key) ?? this.memoOf(aspect, winning, look, shop);
        this.memos.set(key, memo);
        return memo;
      });
    });
  }

  private memoOf(
    aspect: ProductAspect,
    winning: Winners,
    look: ViewContext,
    shop: ShopFacts,
  ): ReadTrackedMemo<Numbered> {
    const isAlone = aspect !== 'control' && aspectOf(aspect).follows === undefined;
    return new ReadTrackedMemo(this.columns, (goods) => {
      const subject = { ...look, ...goods };
      const of = isAlone ? { subject, shop, control: SHOP_CONTROL, left: null } : resolving(winning, subject, shop);
      const value = ASPECT_RESOLVERS[aspect](winning, of);
      return { value, number: this.numbered(JSON.stringify(value)) };
    });
  }

  private outcomeOf(
    place: number,
    sayings: readonly (readonly [Saying, Saying])[],
    slots: readonly number[],
    { shop, locale, text }: { readonly shop: ShopFacts; readonly locale: string | null; readonly text: number },
  ): VisibleChange | null {
    const first = this.columns.firstOf(place);
    const { product } = this.columns.variantAt(first);
    const { numbers, known } = this.knownOf(2 + (2 * slots.length + 1) * sayings.length);
    numbers[0] = text;
    numbers[1] = slots.reduce((set, slot) => set | (1 << slot), 0);
    let at = 2;
    for (let index = 0; index < sayings.length; index++) numbers[at++] = stockRank(product.variants[index]);
    for (let index = 0; index < sayings.length; index++)
      for (const saying of sayings[index]!)
        for (const slot of slots) numbers[at++] = saying[slot]!.at(first + index).number;
    return known.get(numbers, () => {
      const joined = ([0, 1] as const).map((side) => {
        const valuesOf = (slot: number) => sayings.map((both, index) => both[side][slot]!.at(first + index).value);
        const listing: Listing = { product, locale, shop, control: SHOP_CONTROL };
        const control = joinedOf('control', valuesOf(CONTROL), listing) as Decision['control'];
        const textOf = (slot: number) =>
          JSON.stringify(joinedOf(PRODUCT_ASPECTS[slot]!, valuesOf(slot), { ...listing, control }));
        return { look: lookOf(control), texts: slots.map(textOf) };
      });
      const [before, after] = joined as [(typeof joined)[number], (typeof joined)[number]];
      const aspects = slots
        .filter((_slot, index) => before.texts[index] !== after.texts[index])
        .map((slot) => PRODUCT_ASPECTS[slot]!);
      return aspects.length > 0 ? { before: before.look, after: after.look, aspects } : null;
    });
  }

  /** Returns the results for products with this number of variants. */
  private knownOf(length: number): Known {
    const known = this.known.get(length) ?? { numbers: new Int32Array(length), known: new IntTupleMap() };
    this.known.set(length, known);
    return known;
  }
}

/** Each aspect joins its own values, which TypeScript cannot follow through an index. */
const joinedOf = (aspect: ProductAspect, values: readonly unknown[], listing: Listing): unknown =>
  (OF_PRODUCT[aspect].join as (all: readonly unknown[], listing: Listing) => unknown)(values, listing);

/** Changes by differing slots: the control with each change, then the other aspects in order. */
const SLOTS_THAT_MAY_DIFFER = Array.from({ length: 1 << PRODUCT_SLOTS }, (_, differing): readonly number[] => {
  const isControl = (differing & (1 << CONTROL)) !== 0;
  return PRODUCT_ASPECTS.flatMap((_aspect, slot) =>
    slot === CONTROL || (differing & (1 << slot)) !== 0 || (isControl && FOLLOWS[slot] !== undefined) ? [slot] : [],
  );
});
