import type { Decision } from '../contract/decision.ts';
import { GOODS_ASPECTS, isGathered, type GoodsAspect } from '../decide/aspects.ts';
import { SAID, spoken } from '../decide/decide.ts';
import { OWN_CONTROL } from '../decide/present.ts';
import type { GoodsSubject, Seen, ShopFacts } from '../decide/subject.ts';
import type { Winners } from '../decide/winners.ts';
import type { Columns } from './columns.ts';
import { GATHERS, SLOTS, type Contrast, type Side, type Won } from './contrast.ts';

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

/** One aspect by two sets of winners, for one sort of visitor: the same for goods alike in all that was looked at. */
interface Part {
  readonly aspect: GoodsAspect;
  /** Of the aspects whose winners it hangs on. */
  readonly slots: readonly number[];
  /** What of the goods was looked at so far, and the rows numbered by it; null while nothing was. */
  reads: readonly string[];
  alike: Uint32Array | null;
  /** By those numbers. */
  known: (Turned | undefined)[];
}

/** Two sets of winners, for one sort of visitor. */
interface Turn {
  readonly numbers: Int32Array;
  readonly was: Winning;
  readonly is: Winning;
  /** The control first, and whatever else can differ. */
  readonly parts: readonly Part[];
  /** By what the control becomes: by the set of aspects that differ. */
  readonly outcomes: Map<Turned, Map<number, Outcome | null>>;
}

type Voice = (row: number, won: Won, wins: Won, at: number) => Outcome | null;
interface Two {
  readonly shop: ShopFacts;
  readonly before: Seen;
  readonly after: Seen;
}

const slotOf = (aspect: GoodsAspect) => GOODS_ASPECTS.indexOf(aspect);
const CONTROL = slotOf('control');

/** Tells what changes in a shopper's sight where other rules win, asking what they say as seldom as can be. */
export class Speech {
  private readonly turns = new Map<number, Turn[]>();
  private readonly parts = new Map<string, Part>();
  private readonly numbers = new Map<string, number>();

  constructor(private readonly columns: Columns) {}

  /** Of a contrast, for one visitor; the answer is null where nothing can be seen of the change. */
  between({ was, is }: Contrast, two: Two): Voice {
    const numbers = new Int32Array(2 * SLOTS + 1);
    // Which rules win hangs on much of a visitor, and on the moment; what they say then, of the two on these alone.
    const { locale, standings } = two.after.visitor;
    numbers[2 * SLOTS] = this.numbered(JSON.stringify([locale, standings]));
    let last: Turn | null = null;
    return (row, won, wins, at) => {
      for (let slot = 0; slot < SLOTS; slot++) {
        numbers[slot] = this.numberOf(was, won, at, slot);
        numbers[SLOTS + slot] = this.numberOf(is, wins, at, slot);
      }
      if (!last || !alike(last.numbers, numbers))
        last = this.turnOf(numbers) ?? this.turn(numbers, winningOf(was, won, at), winningOf(is, wins, at));
      return this.said(last, row, two);
    };
  }

  private numberOf(side: Side, won: Won, at: number, slot: number): number {
    const place = won[at * SLOTS + slot]!;
    if (place < 0) return -1;
    if (!GATHERS[slot]) return side.sayings[place]!;
    const rules = side.rulesAt(won, at, slot);
    return this.numbered(rules.map(({ saying }) => saying).join());
  }

  private numbered(text: string): number {
    const number = this.numbers.get(text) ?? this.numbers.size;
    this.numbers.set(text, number);
    return number;
  }

  private turnOf(numbers: Int32Array): Turn | undefined {
    const turns = this.turns.get(hashOf(numbers)) ?? [];
    for (let index = 0; index < turns.length; index++) if (alike(turns[index]!.numbers, numbers)) return turns[index];
    return undefined;
  }

  private turn(numbers: Int32Array, was: Winning, is: Winning): Turn {
    const differs = (slot: number) => numbers[slot] !== numbers[SLOTS + slot];
    const isCounted = [was, is].some(({ by }) => by.control?.present.counts === true);
    // What an aspect hangs on beside its own rules: express follows the control, words may tell the units left.
    const followed = (aspect: GoodsAspect) =>
      aspect === 'express' || (isCounted && (aspect === 'price' || aspect === 'notes' || aspect === 'afterOrder'));
    const partOf = (aspect: GoodsAspect): Part => {
      const slots = followed(aspect) ? [slotOf(aspect), CONTROL] : [slotOf(aspect)];
      const key = [aspect, numbers[2 * SLOTS], ...slots.flatMap((slot) => [numbers[slot], numbers[SLOTS + slot]])].join();
      const part = this.parts.get(key) ?? { aspect, slots, reads: [], alike: null, known: [] };
      this.parts.set(key, part);
      return part;
    };
    const turn: Turn = {
      numbers: numbers.slice(),
      was,
      is,
      parts: GOODS_ASPECTS.filter(
        (aspect, slot) => slot === CONTROL || differs(slot) || (differs(CONTROL) && followed(aspect)),
      ).map(partOf),
      outcomes: new Map(),
    };
    const hash = hashOf(numbers);
    this.turns.set(hash, [...(this.turns.get(hash) ?? []), turn]);
    return turn;
  }

  private said(turn: Turn, row: number, two: Two): Outcome | null {
    const { parts, outcomes } = turn;
    const control = this.turned(turn, parts[0]!, row, two);
    let differing = control.differs ? 1 : 0;
    for (let index = 1; index < parts.length; index++)
      if (this.turned(turn, parts[index]!, row, two).differs) differing |= 1 << index;
    const known = outcomes.get(control) ?? new Map<number, Outcome | null>();
    const before = known.get(differing);
    if (before !== undefined) return before;
    outcomes.set(control, known);
    const aspects = parts.filter((_part, index) => (differing & (1 << index)) !== 0).map(({ aspect }) => aspect);
    const outcome = aspects.length > 0 ? { before: control.before, after: control.after, aspects } : null;
    known.set(differing, outcome);
    return outcome;
  }

  private turned(turn: Turn, part: Part, row: number, two: Two): Turned {
    const known = part.known[part.alike ? part.alike[row]! : 0];
    if (known) return known;
    const reads = new Set(part.reads);
    const goods = this.columns.goodsAt(row);
    const says = (winning: Winning, seen: Seen) => {
      const subject = watched({ ...seen, ...goods }, reads);
      const isAlone = part.slots.length === 1 && part.aspect !== 'control';
      const of = isAlone
        ? { ...winning, subject, shop: two.shop, control: OWN_CONTROL, left: null }
        : spoken(winning, subject, two.shop);
      return { look: lookOf(of.control), text: JSON.stringify(SAID[part.aspect](of)) };
    };
    const [one, other] = [says(turn.was, two.before), says(turn.is, two.after)];
    if (reads.size > part.reads.length) {
      part.reads = [...reads].sort();
      part.alike = this.columns.numberedBy(part.reads);
      part.known = [];
    }
    const turned = { differs: one.text !== other.text, before: one.look, after: other.look };
    part.known[part.alike ? part.alike[row]! : 0] = turned;
    return turned;
  }
}

/** Winners of a row, to be asked what they say. */
function winningOf(side: Side, won: Won, at: number): Winning {
  const rulesOf = (aspect: GoodsAspect) =>
    side.rulesAt(won, at, GOODS_ASPECTS.indexOf(aspect)).map(({ compiled }) => compiled);
  const single = GOODS_ASPECTS.filter((aspect) => !isGathered(aspect)).flatMap((aspect) => {
    const [rule] = rulesOf(aspect);
    return rule ? [[aspect, rule] as const] : [];
  });
  return { by: Object.fromEntries(single), gathered: { notes: rulesOf('notes'), style: rulesOf('style') } };
}

function hashOf(numbers: Int32Array): number {
  let hash = 17;
  for (let index = 0; index < numbers.length; index++) hash = Math.imul(hash ^ numbers[index]!, 0x9e3779b1) ^ (hash >>> 15);
  return hash;
}

function alike(one: Int32Array, other: Int32Array): boolean {
  for (let index = 0; index < one.length; index++) if (one[index] !== other[index]) return false;
  return true;
}

/** A subject that writes down what of its goods is read, such as `variant price`. */
function watched(subject: GoodsSubject, reads: Set<string>): GoodsSubject {
  const watch = <T extends object>(of: string, facts: T): T =>
    new Proxy(facts, {
      get(target, fact) {
        reads.add(`${of} ${String(fact)}`);
        return Reflect.get(target, fact) as unknown;
      },
    });
  return { ...subject, product: watch('product', subject.product), variant: watch('variant', subject.variant) };
}
