import { ASPECTS, isGathered, PRODUCT_ASPECTS, type Aspect } from '../aspects/aspects.ts';
import { lowestOf, type Bits } from '../engine/bits.ts';
import type { CompiledRule } from '../engine/compile.ts';
import type { Winners } from '../engine/winners.ts';
import { IntTupleMap } from './readTrackedMemo.ts';
import type { PreparedRule, RuleMatch } from './ruleMatcher.ts';

/**
 * Winners at the 32 rows of a word: for each aspect the index of a rule, or of a node of gathered rules; -1 if no rule
 * decides it.
 */
export type WinnerSlots = Int32Array;
/** An aspect's slot is its place among all; those of goods come first. */
export const SLOTS = ASPECTS.length;
export const PRODUCT_SLOTS = PRODUCT_ASPECTS.length;
export const PER_WORD = 32;
export const noWinners = (): WinnerSlots => new Int32Array(PER_WORD * SLOTS).fill(-1);

/** Of each slot. */
export const GATHERS: readonly boolean[] = ASPECTS.map(isGathered);

/** Hears of every aspect of a rule, by places: at which rows of the word it wins, and at which it holds and does not. */
type OnContest = (rule: number, slot: number, wins: number, loses: number) => void;

/** Rules in their running order, and who of them wins. */
export class BatchResolver {
  private named: string | null = null;
  private readonly bits: readonly Bits[];
  /** The words at which the bits of each begin. */
  private readonly from: Int32Array;
  /** Sellers' rules stand between these places. A row is of one seller at most: the other sellers' are not looked at. */
  private readonly sellers: { readonly from: number; readonly until: number };
  /** Of each word, the sellers' rules that may count there: `heads` says where those of a word begin in `near`. */
  private readonly heads: Int32Array;
  private readonly near: Int32Array;
  private readonly outcomeIds: Int32Array;
  private readonly places: Int32Array;
  /** Gathered rules as a tree: each node is a rule, after all rules on the way from the root. */
  private readonly gathered: { readonly above: number; readonly rule: number }[] = [];
  private readonly below = new Map<number, number>();
  /** Gathered rules as texts, by node. */
  private readonly texts: Record<'outcomeId' | 'place', string[]> = { outcomeId: [], place: [] };
  private readonly winnings = new IntTupleMap<Winners>();
  /** Scratch: the rows at which an aspect is still open. */
  private readonly open = new Int32Array(SLOTS);

  constructor(readonly list: readonly RuleMatch[]) {
    this.bits = list.map(({ rows }) => rows.bits);
    this.from = Int32Array.from(list, ({ rows }) => rows.from);
    const from = list.findIndex(({ rule: prepared }) => prepared.within !== null);
    const until = list.findLastIndex(({ rule: prepared }) => prepared.within !== null) + 1;
    this.sellers = from < 0 ? { from: list.length, until: list.length } : { from, until };
    [this.heads, this.near] = byWord(list, this.sellers);
    this.outcomeIds = Int32Array.from(list, ({ rule: prepared }) => prepared.outcomeId);
    this.places = Int32Array.from(list, ({ rule: prepared }) => prepared.place);
  }

  /** The same for sides of one rulebook on which the same rules count at the same rows. */
  get key(): string {
    this.named ??= this.list.map(({ rule: prepared, rows }) => `${prepared.place}:${rows.id}`).join();
    return this.named;
  }

  /** The rules that won a slot of the row at a place of `won`, from the top. */
  rulesAt(won: WinnerSlots, at: number, slot: number): PreparedRule[] {
    const place = won[at * SLOTS + slot]!;
    if (place < 0) return [];
    if (!GATHERS[slot]) return [this.list[place]!.rule];
    const rules: PreparedRule[] = [];
    for (let node = place; node >= 0; node = this.gathered[node]!.above)
      rules.unshift(this.list[this.gathered[node]!.rule]!.rule);
    return rules;
  }

  /** Reads the winners of the row at a position of `won`. */
  winningAt(won: WinnerSlots, at: number): Winners {
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
   * Number of a slot's winner: by its outcome, or by the rule's place in the running order. `listed` numbers gathered
   * rules.
   */
  numberAt(
    won: WinnerSlots,
    at: number,
    slot: number,
    by: 'outcomeId' | 'place',
    listed: (list: string) => number,
  ): number {
    const place = won[at * SLOTS + slot]!;
    if (place < 0) return -1;
    return GATHERS[slot]
      ? listed(this.gatheredAt(won, at, slot, by))
      : (by === 'place' ? this.places : this.outcomeIds)[place]!;
  }

  private gatheredAt(won: WinnerSlots, at: number, slot: number, by: 'outcomeId' | 'place'): string {
    return (this.texts[by][won[at * SLOTS + slot]!] ??= this.rulesAt(won, at, slot)
      .map((rule) => rule[by])
      .join());
  }

  /** Whether both sides decide all aspects of a row alike. */
  resolvesAlike(won: WinnerSlots, other: BatchResolver, otherWon: WinnerSlots, at: number): boolean {
    for (let slot = 0; slot < PRODUCT_SLOTS; slot++) {
      const mine = won[at * SLOTS + slot]!;
      const theirs = otherWon[at * SLOTS + slot]!;
      if (mine < 0 && theirs < 0) continue;
      if (mine < 0 || theirs < 0) return false;
      if (GATHERS[slot]) {
        if (this.gatheredAt(won, at, slot, 'outcomeId') !== other.gatheredAt(otherWon, at, slot, 'outcomeId'))
          return false;
      } else if (this.outcomeIds[mine] !== other.outcomeIds[theirs]) return false;
    }
    return true;
  }

  /** Visits the rules that may count at rows of a word, by their places, from the top. */
  each(word: number, visit: (rule: number) => void): void {
    const { from, until } = this.sellers;
    for (let rule = 0; rule < from; rule++) visit(rule);
    for (let at = this.heads[word] ?? 0; at < (this.heads[word + 1] ?? 0); at++) visit(this.near[at]!);
    for (let rule = until; rule < this.bits.length; rule++) visit(rule);
  }

  /**
   * Writes what wins at the rows of a word that are asked for: `rows` has a bit for each.
   * @param switchedOff marks rules, by their places, that take nothing from others; each is reported as if it alone were on
   */
  fill(won: WinnerSlots, word: number, rows: number, onContest?: OnContest, switchedOff?: Uint8Array): void {
    const { open } = this;
    won.fill(-1);
    open.fill(rows);
    let alive = rows;
    // A seller closes their own list alone.
    let sellersAlive = rows;
    this.each(word, (rule) => {
      const holds = this.bits[rule]![word - this.from[rule]!]! & rows;
      if (holds === 0) return;
      const { compiled, closes, within } = this.list[rule]!.rule;
      const counts = within ? holds & alive & sellersAlive : holds & alive;
      if (counts === 0 && !onContest) return;
      for (const { slot, with: other, gathers, settles } of compiled.claims) {
        const wins = counts & open[slot]! & open[other]!;
        onContest?.(rule, slot, wins, holds & ~wins);
        if (wins === 0 || switchedOff?.[rule] === 1) continue;
        for (let left = wins; left !== 0; left &= left - 1) {
          const at = lowestOf(left) * SLOTS + slot;
          won[at] = gathers === null ? rule : this.under(won[at]!, rule);
        }
        if (settles !== 0) open[slot] = open[slot]! & ~wins;
      }
      if (!closes || switchedOff?.[rule] === 1) return;
      if (within) sellersAlive &= ~counts;
      else alive &= ~counts;
    });
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

/** The sellers' rules by the words in which their rows are: where those of each word begin, and their places. */
function byWord(list: readonly RuleMatch[], { from, until }: { readonly from: number; readonly until: number }) {
  const theirs = list.slice(from, until);
  const words = theirs.reduce((most, { rows }) => Math.max(most, rows.from + rows.bits.length), 0);
  const heads = new Int32Array(theirs.length === 0 ? 0 : words + 1);
  for (const { rows } of theirs) for (let word = 0; word < rows.bits.length; word++) heads[rows.from + word + 1]! += 1;
  for (let word = 1; word < heads.length; word++) heads[word]! += heads[word - 1]!;
  const near = new Int32Array(heads.at(-1) ?? 0);
  const next = heads.slice();
  theirs.forEach(({ rows }, index) => {
    for (let word = rows.from; word < rows.from + rows.bits.length; word++) {
      near[next[word]!] = from + index;
      next[word]! += 1;
    }
  });
  return [heads, near] as const;
}
