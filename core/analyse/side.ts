import { ASPECTS, GOODS_ASPECTS, isGathered, WITH_CONTROL, type Aspect } from '../decide/aspects.ts';
import { lowestOf, type Bits } from '../decide/bits.ts';
import type { CompiledRule } from '../decide/compile.ts';
import type { Winners } from '../decide/winners.ts';
import { ByNumbers } from './alike.ts';
import type { Asked, Counting } from './counting.ts';

/**
 * What wins at the 32 rows of a word, row after row: for each aspect a place, in its list or among what gathered; -1
 * where no rule speaks.
 */
export type Won = Int32Array;
/** An aspect's slot is its place among all; those of goods come first. */
export const SLOTS = ASPECTS.length;
export const GOODS_SLOTS = GOODS_ASPECTS.length;
export const PER_WORD = 32;
export const noneWon = (): Won => new Int32Array(PER_WORD * SLOTS).fill(-1);

const CONTROL = ASPECTS.indexOf('control');
const STANDS_WITH_CONTROL: readonly boolean[] = ASPECTS.map((aspect) =>
  (WITH_CONTROL as readonly Aspect[]).includes(aspect),
);
const GATHERS: readonly boolean[] = ASPECTS.map(isGathered);

/** Hears of every aspect of a rule, by places: at which rows of the word it wins, and at which it holds and does not. */
type Heard = (rule: number, slot: number, wins: number, loses: number) => void;

/** Rules in their running order, and who of them wins. */
export class Side {
  /** The same for sides of one rulebook on which the same rules count at the same rows. */
  readonly key: string;
  private readonly bits: readonly Bits[];
  private readonly sayings: Int32Array;
  private readonly places: Int32Array;
  /** What gathered, as a tree: a place stands for its rule after all that are above it. */
  private readonly gathered: { readonly above: number; readonly rule: number }[] = [];
  private readonly below = new Map<number, number>();
  private readonly winnings = new ByNumbers<Winners>();
  /** Scratch: the rows at which an aspect is still open. */
  private readonly open = new Int32Array(SLOTS);

  constructor(readonly list: readonly Counting[]) {
    this.bits = list.map(({ rows }) => rows.bits);
    this.sayings = Int32Array.from(list, ({ asked }) => asked.saying);
    this.places = Int32Array.from(list, ({ asked }) => asked.place);
    this.key = list.map(({ asked, rows }) => `${asked.place}:${rows.id}`).join();
  }

  /** The rules that won a slot of the row at a place of `won`, from the top. */
  rulesAt(won: Won, at: number, slot: number): Asked[] {
    const place = won[at * SLOTS + slot]!;
    if (place < 0) return [];
    if (!GATHERS[slot]) return [this.list[place]!.asked];
    const rules: Asked[] = [];
    for (let node = place; node >= 0; node = this.gathered[node]!.above)
      rules.unshift(this.list[this.gathered[node]!.rule]!.asked);
    return rules;
  }

  /** The winners of the row at a place of `won`, to be asked what they say. */
  winningAt(won: Won, at: number): Winners {
    return this.winnings.get(won.subarray(at * SLOTS, (at + 1) * SLOTS), () => {
      const rulesOf = (aspect: Aspect): CompiledRule[] =>
        this.rulesAt(won, at, ASPECTS.indexOf(aspect)).map(({ compiled }) => compiled);
      const single = ASPECTS.filter((aspect) => !isGathered(aspect)).flatMap((aspect) => {
        const [rule] = rulesOf(aspect);
        return rule ? [[aspect, rule] as const] : [];
      });
      return {
        by: Object.fromEntries(single),
        gathered: { notes: rulesOf('notes'), style: rulesOf('style') },
        until: Infinity,
      };
    });
  }

  /**
   * Who wins a slot, as a number: by what is said, or by the rule, named by its place in the running order. `listed`
   * numbers what gathered.
   */
  numberAt(won: Won, at: number, slot: number, by: 'saying' | 'place', listed: (list: string) => number): number {
    const place = won[at * SLOTS + slot]!;
    if (place < 0) return -1;
    return GATHERS[slot]
      ? listed(this.gatheredAt(won, at, slot, by))
      : (by === 'place' ? this.places : this.sayings)[place]!;
  }

  private gatheredAt(won: Won, at: number, slot: number, by: 'saying' | 'place'): string {
    return this.rulesAt(won, at, slot)
      .map((asked) => asked[by])
      .join();
  }

  /** Whether the same is said of all goods' aspects at the row at a place as by another side. */
  saysSame(won: Won, other: Side, otherWon: Won, at: number): boolean {
    for (let slot = 0; slot < GOODS_SLOTS; slot++) {
      const mine = won[at * SLOTS + slot]!;
      const theirs = otherWon[at * SLOTS + slot]!;
      if (mine < 0 && theirs < 0) continue;
      if (mine < 0 || theirs < 0) return false;
      if (GATHERS[slot]) {
        if (this.gatheredAt(won, at, slot, 'saying') !== other.gatheredAt(otherWon, at, slot, 'saying')) return false;
      } else if (this.sayings[mine] !== other.sayings[theirs]) return false;
    }
    return true;
  }

  /** Writes what wins at the rows of a word that are asked for: `rows` has a bit for each. */
  fill(won: Won, word: number, rows: number, heard?: Heard): void {
    const { open } = this;
    won.fill(-1);
    open.fill(rows);
    let alive = rows;
    for (let rule = 0; rule < this.bits.length; rule++) {
      const holds = this.bits[rule]![word]! & rows;
      if (holds === 0) continue;
      const counts = holds & alive;
      if (counts === 0 && !heard) continue;
      const { speaks, settles, gathers, closes } = this.list[rule]!.asked;
      const names = (speaks & (1 << CONTROL)) !== 0;
      const controls = names ? counts & open[CONTROL]! : counts;
      for (let slots = speaks; slots !== 0; slots &= slots - 1) {
        const slot = lowestOf(slots);
        const wins = (STANDS_WITH_CONTROL[slot] ? controls : counts) & open[slot]!;
        heard?.(rule, slot, wins, holds & ~wins);
        if (wins === 0) continue;
        const isAdded = (gathers & (1 << slot)) !== 0;
        for (let left = wins; left !== 0; left &= left - 1) {
          const at = lowestOf(left) * SLOTS + slot;
          won[at] = isAdded ? this.under(won[at]!, rule) : rule;
        }
        if ((settles & (1 << slot)) !== 0) open[slot] = open[slot]! & ~wins;
      }
      if (closes) alive &= ~counts;
    }
  }

  private under(above: number, rule: number): number {
    const key = (above + 1) * this.bits.length + rule;
    const known = this.below.get(key);
    if (known !== undefined) return known;
    const made = this.gathered.push({ above, rule }) - 1;
    this.below.set(key, made);
    return made;
  }
}
