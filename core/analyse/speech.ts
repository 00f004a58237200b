import type { Decision } from '../contract/decision.ts';
import { GOODS_ASPECTS, type GoodsAspect } from '../decide/aspects.ts';
import { SAID, spoken } from '../decide/decide.ts';
import { OWN_CONTROL } from '../decide/present.ts';
import type { GoodsSubject, Seen, ShopFacts } from '../decide/subject.ts';
import type { Winners } from '../decide/winners.ts';
import { Alike, ByNumbers, hearerOf, numbered } from './alike.ts';
import type { Columns } from './columns.ts';
import type { Contrast } from './contrast.ts';
import { GOODS_SLOTS, type Won } from './side.ts';

export type ControlLook = Pick<Decision['control'], 'kind' | 'label' | 'beside'>;

/** What changes in a shopper's sight: what stood in the control's place, what stands there, and the aspects that differ. */
export interface Outcome {
  readonly before: ControlLook;
  readonly after: ControlLook;
  readonly aspects: readonly GoodsAspect[];
}

const lookOf = ({ kind, label, beside }: Decision['control']): ControlLook => ({ kind, label, beside });

/** The change between two decisions. */
export const outcomeBetween = (before: Decision, after: Decision): Outcome => ({
  before: lookOf(before.control),
  after: lookOf(after.control),
  aspects: aspectsBetween(before, after),
});

/** The aspects in which a shopper could see that two decisions differ; reasons and expiry are nobody's sight. */
export const aspectsBetween = (before: Decision, after: Decision): GoodsAspect[] =>
  GOODS_ASPECTS.filter((aspect) => JSON.stringify(before[aspect]) !== JSON.stringify(after[aspect]));

type Winning = Pick<Winners, 'by' | 'gathered'>;

/** What becomes of one aspect: whether it differs, and of the control, what stood and what stands. */
interface Turned {
  readonly differs: boolean;
  readonly before: ControlLook;
  readonly after: ControlLook;
}

/** Two sets of winners, for one sort of visitor. */
interface Turn {
  /** The control first, and whatever else can differ. */
  readonly parts: readonly { readonly aspect: GoodsAspect; readonly turned: Alike<Turned> }[];
  /** By what the control becomes: by the set of aspects that differ. */
  readonly outcomes: Map<Turned, Map<number, Outcome | null>>;
}

type Voice = (row: number, won: Won, wins: Won, at: number) => Outcome | null;
interface Two {
  readonly shop: ShopFacts;
  readonly before: Seen;
  readonly after: Seen;
}

const CONTROL = GOODS_ASPECTS.indexOf('control');

/** Tells what changes in a shopper's sight where other rules win, asking what they say as seldom as can be. */
export class Speech {
  private readonly turns = new ByNumbers<Turn>();
  private readonly parts = new Map<string, Alike<Turned>>();
  private readonly numbered = numbered();

  constructor(private readonly columns: Columns) {}

  /** Of a contrast, for one visitor; the answer is null where nothing can be seen of the change. */
  between({ was, is }: Contrast, two: Two): Voice {
    const numbers = new Int32Array(2 * GOODS_SLOTS + 1);
    numbers[2 * GOODS_SLOTS] = this.numbered(hearerOf(two.after));
    return (row, won, wins, at) => {
      for (let slot = 0; slot < GOODS_SLOTS; slot++) {
        numbers[slot] = was.numberAt(won, at, slot, 'saying', this.numbered);
        numbers[GOODS_SLOTS + slot] = is.numberAt(wins, at, slot, 'saying', this.numbered);
      }
      const turn = this.turns.get(numbers, () =>
        this.turn(numbers, was.winningAt(won, at), is.winningAt(wins, at), two),
      );
      return said(turn, row);
    };
  }

  private turn(numbers: Int32Array, was: Winning, is: Winning, two: Two): Turn {
    const differs = (slot: number) => numbers[slot] !== numbers[GOODS_SLOTS + slot];
    const isCounted = [was, is].some(({ by }) => by.control?.present.counts === true);
    // What an aspect hangs on beside its own rules: express follows the control, words may tell the units left.
    const followed = (aspect: GoodsAspect) =>
      aspect === 'express' || (isCounted && (aspect === 'price' || aspect === 'notes' || aspect === 'afterOrder'));
    const partOf = (aspect: GoodsAspect): Turn['parts'][number] => {
      const slot = GOODS_ASPECTS.indexOf(aspect);
      const slots = followed(aspect) ? [slot, CONTROL] : [slot];
      const hearer = numbers[2 * GOODS_SLOTS];
      const key = [aspect, hearer, ...slots.flatMap((one) => [numbers[one], numbers[GOODS_SLOTS + one]])].join();
      const turned = this.parts.get(key) ?? this.part(aspect, slots.length === 1, was, is, two);
      this.parts.set(key, turned);
      return { aspect, turned };
    };
    const parts = GOODS_ASPECTS.filter(
      (aspect, slot) => slot === CONTROL || differs(slot) || (differs(CONTROL) && followed(aspect)),
    ).map(partOf);
    return { parts, outcomes: new Map() };
  }

  private part(aspect: GoodsAspect, isAlone: boolean, was: Winning, is: Winning, two: Two): Alike<Turned> {
    const { shop, before, after } = two;
    const saysOf = (winning: Winning, subject: GoodsSubject) => {
      const of =
        isAlone && aspect !== 'control'
          ? { ...winning, subject, shop, control: OWN_CONTROL, left: null }
          : spoken(winning, subject, shop);
      return { look: lookOf(of.control), text: JSON.stringify(SAID[aspect](of)) };
    };
    return new Alike(this.columns, (goods) => {
      const one = saysOf(was, { ...before, ...goods });
      const other = saysOf(is, { ...after, ...goods });
      return { differs: one.text !== other.text, before: one.look, after: other.look };
    });
  }
}

function said({ parts, outcomes }: Turn, row: number): Outcome | null {
  const control = parts[0]!.turned.at(row);
  let differing = control.differs ? 1 : 0;
  for (let index = 1; index < parts.length; index++) if (parts[index]!.turned.at(row).differs) differing |= 1 << index;
  const known = outcomes.get(control) ?? new Map<number, Outcome | null>();
  const before = known.get(differing);
  if (before !== undefined) return before;
  outcomes.set(control, known);
  const aspects = parts.filter((_part, index) => (differing & (1 << index)) !== 0).map(({ aspect }) => aspect);
  const outcome = aspects.length > 0 ? { before: control.before, after: control.after, aspects } : null;
  known.set(differing, outcome);
  return outcome;
}
