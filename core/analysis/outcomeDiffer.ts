import type { Decision } from '../engine/decision.ts';
import { aspectOf, PRODUCT_ASPECTS, type ProductAspect } from '../aspects/aspects.ts';
import { ASPECT_RESOLVERS, resolving } from '../engine/decide.ts';
import { SHOP_CONTROL } from '../aspects/control.ts';
import type { ProductSubject, ViewContext, ShopFacts } from '../model/subject.ts';
import type { Winners } from '../engine/winners.ts';
import { ReadTrackedMemo, IntTupleMap, visitorTextKey, textInterner } from './readTrackedMemo.ts';
import type { Columns } from './columns.ts';
import type { RuleSetDiff } from './ruleSetDiff.ts';
import { PRODUCT_SLOTS, type WinnerSlots } from './batchResolver.ts';

export type ControlLook = Pick<Decision['control'], 'kind' | 'label' | 'beside'>;

/** A visible change: the control before and after, and the aspects that differ. */
export interface VisibleChange {
  readonly before: ControlLook;
  readonly after: ControlLook;
  readonly aspects: readonly ProductAspect[];
}

export const lookOf = ({ kind, label, beside }: Decision['control']): ControlLook => ({ kind, label, beside });

/** The change between two decisions. */
export const changeBetween = (before: Decision, after: Decision): VisibleChange => ({
  before: lookOf(before.control),
  after: lookOf(after.control),
  aspects: aspectsBetween(before, after),
});

/** Aspects in which shoppers can see a difference; reasons and expiry are invisible. */
export const aspectsBetween = (before: Decision, after: Decision): ProductAspect[] =>
  PRODUCT_ASPECTS.filter((aspect) => JSON.stringify(before[aspect]) !== JSON.stringify(after[aspect]));

type Winning = Pick<Winners, 'by' | 'gathered'>;

/** The change of one aspect, and for the control its values before and after. */
interface AspectDiff {
  readonly differs: boolean;
  readonly before: ControlLook;
  readonly after: ControlLook;
}

/** Two sets of winners, for one sort of visitor. */
interface DiffPlan {
  /** The control first, then the other aspects that can differ. */
  readonly parts: readonly { readonly aspect: ProductAspect; readonly diff: ReadTrackedMemo<AspectDiff> }[];
  /** Changes by the control's change, then by the set of aspects that differ. */
  readonly outcomes: Map<AspectDiff, Map<number, VisibleChange | null>>;
}

type RowDiffer = (row: number, won: WinnerSlots, wins: WinnerSlots, at: number) => VisibleChange | null;
interface Comparison {
  readonly shop: ShopFacts;
  readonly before: ViewContext;
  readonly after: ViewContext;
}

const CONTROL = PRODUCT_ASPECTS.indexOf('control');

/** Compares outcomes where different rules win, resolving as few as possible. */
export class OutcomeDiffer {
  private readonly plans = new IntTupleMap<DiffPlan>();
  private readonly parts = new Map<string, ReadTrackedMemo<AspectDiff>>();
  private readonly numbered = textInterner();

  constructor(private readonly columns: Columns) {}

  /** Of a contrast, for one visitor; the answer is null where nothing can be seen of the change. */
  between({ was, is }: RuleSetDiff, two: Comparison): RowDiffer {
    const numbers = new Int32Array(2 * PRODUCT_SLOTS + 1);
    numbers[2 * PRODUCT_SLOTS] = this.numbered(visitorTextKey(two.after));
    return (row, won, wins, at) => {
      for (let slot = 0; slot < PRODUCT_SLOTS; slot++) {
        numbers[slot] = was.numberAt(won, at, slot, 'outcomeId', this.numbered);
        numbers[PRODUCT_SLOTS + slot] = is.numberAt(wins, at, slot, 'outcomeId', this.numbered);
      }
      const planFor = this.plans.get(numbers, () =>
        this.planFor(numbers, was.winningAt(won, at), is.winningAt(wins, at), two),
      );
      return outcomeAt(planFor, row);
    };
  }

  private planFor(numbers: Int32Array, was: Winning, is: Winning, two: Comparison): DiffPlan {
    const differs = (slot: number) => numbers[slot] !== numbers[PRODUCT_SLOTS + slot];
    const isCounted = [was, is].some(({ by }) => by.control?.prepared.control?.countsLeft === true);
    // Other aspects that an aspect depends on.
    const followed = (aspect: ProductAspect) =>
      aspectOf(aspect).follows === 'control' || (isCounted && aspectOf(aspect).follows === 'unitsLeft');
    const partOf = (aspect: ProductAspect): DiffPlan['parts'][number] => {
      const slot = PRODUCT_ASPECTS.indexOf(aspect);
      const slots = followed(aspect) ? [slot, CONTROL] : [slot];
      const textKey = numbers[2 * PRODUCT_SLOTS];
      const key = [aspect, textKey, ...slots.flatMap((one) => [numbers[one], numbers[PRODUCT_SLOTS + one]])].join();
      const diff = this.parts.get(key) ?? this.part(aspect, slots.length === 1, was, is, two);
      this.parts.set(key, diff);
      return { aspect, diff };
    };
    const parts = PRODUCT_ASPECTS.filter(
      (aspect, slot) => slot === CONTROL || differs(slot) || (differs(CONTROL) && followed(aspect)),
    ).map(partOf);
    return { parts, outcomes: new Map() };
  }

  private part(
    aspect: ProductAspect,
    isAlone: boolean,
    was: Winning,
    is: Winning,
    two: Comparison,
  ): ReadTrackedMemo<AspectDiff> {
    const { shop, before, after } = two;
    const resolvedBy = (winning: Winning, subject: ProductSubject) => {
      const of =
        isAlone && aspect !== 'control'
          ? { subject, shop, control: SHOP_CONTROL, left: null }
          : resolving(winning, subject, shop);
      return { look: lookOf(of.control), text: JSON.stringify(ASPECT_RESOLVERS[aspect](winning, of)) };
    };
    return new ReadTrackedMemo(this.columns, (goods) => {
      const one = resolvedBy(was, { ...before, ...goods });
      const other = resolvedBy(is, { ...after, ...goods });
      return { differs: one.text !== other.text, before: one.look, after: other.look };
    });
  }
}

function outcomeAt({ parts, outcomes }: DiffPlan, row: number): VisibleChange | null {
  const control = parts[0]!.diff.at(row);
  let differing = control.differs ? 1 : 0;
  for (let index = 1; index < parts.length; index++) if (parts[index]!.diff.at(row).differs) differing |= 1 << index;
  const known = outcomes.get(control) ?? new Map<number, VisibleChange | null>();
  const before = known.get(differing);
  if (before !== undefined) return before;
  outcomes.set(control, known);
  const aspects = parts.filter((_part, index) => (differing & (1 << index)) !== 0).map(({ aspect }) => aspect);
  const outcome = aspects.length > 0 ? { before: control.before, after: control.after, aspects } : null;
  known.set(differing, outcome);
  return outcome;
}
