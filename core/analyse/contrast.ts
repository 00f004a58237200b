import { GOODS_ASPECTS, isGathered } from '../decide/aspects.ts';
import { hasBit, lowestOf, type Bits } from '../decide/bits.ts';
import type { Rows } from './columns.ts';
import type { Asked, Counting } from './counting.ts';

/** What wins at a row: for each aspect of goods a place, in its list or among what gathered; -1 where no rule speaks. */
export type Won = Int32Array;
export const SLOTS = GOODS_ASPECTS.length;

export const GATHERS: readonly boolean[] = GOODS_ASPECTS.map(isGathered);

const PER_WORD = 32;
/** So many words are looked at before it gives way. */
const WORDS_AT_ONCE = 256;
/** Scratch of the loop over words: what wins on the two sides, and at which rows an aspect is still open. */
const WAS: Won = new Int32Array(PER_WORD * SLOTS);
const IS: Won = new Int32Array(PER_WORD * SLOTS);
const OPEN = new Int32Array(SLOTS);

/** Rules in their running order, and who of them wins. */
export class Side {
  /** What each says, as a number. */
  readonly sayings: Int32Array;
  private readonly bits: readonly Bits[];
  /** What gathered, as a tree: a place stands for its rule after all that are above it. */
  private readonly gathered: { readonly above: number; readonly rule: number }[] = [];
  private readonly below = new Map<number, number>();

  constructor(readonly list: readonly Counting[]) {
    this.bits = list.map(({ rows }) => rows.bits);
    this.sayings = Int32Array.from(list, ({ asked }) => asked.saying);
  }

  /** The rules that won a slot of the row at a place of `won`, from the top. */
  rulesAt(won: Won, at: number, slot: number): Asked[] {
    const place = won[at * SLOTS + slot] ?? -1;
    if (place < 0) return [];
    if (!GATHERS[slot]) return [this.list[place]!.asked];
    const rules: Asked[] = [];
    for (let node = place; node >= 0; node = this.gathered[node]!.above)
      rules.unshift(this.list[this.gathered[node]!.rule]!.asked);
    return rules;
  }

  /** Writes what wins at the rows of a word that are asked for. */
  fill(won: Won, word: number, rows: number): void {
    won.fill(-1);
    OPEN.fill(rows);
    let alive = rows;
    for (let rule = 0; rule < this.bits.length && alive !== 0; rule++) {
      const counts = this.bits[rule]![word]! & alive;
      if (counts === 0) continue;
      const { speaks, settles, gathers, closes } = this.list[rule]!.asked;
      for (let slots = speaks; slots !== 0; slots &= slots - 1) {
        const slot = lowestOf(slots);
        const wins = counts & OPEN[slot]!;
        if (wins === 0) continue;
        const isAdded = (gathers & (1 << slot)) !== 0;
        for (let left = wins; left !== 0; left &= left - 1) {
          const at = lowestOf(left) * SLOTS + slot;
          won[at] = isAdded ? this.under(won[at]!, rule) : rule;
        }
        if ((settles & (1 << slot)) !== 0) OPEN[slot] = OPEN[slot]! & ~wins;
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

/** Two lists of rules over the same goods, and where they may differ in who wins. */
export class Contrast {
  readonly was: Side;
  readonly is: Side;
  /** The same for contrasts that come to the same. */
  readonly key: string;
  /** Rules that count at other rows than before, or that have another place: null where there is none. */
  private readonly turned: readonly { readonly was: Turned | null; readonly is: Turned | null }[];

  constructor(was: readonly Counting[], is: readonly Counting[]) {
    [this.was, this.is] = [new Side(was), new Side(is)];
    const keyOf = (list: readonly Counting[]) => list.map(({ asked, rows }) => `${asked.saying}:${rows.id}`).join();
    this.key = `${keyOf(was)} ${keyOf(is)}`;
    this.turned = turnedBetween(was, is);
  }

  /**
   * Visits every row at which another saying wins an aspect, in order; gives way now and then with the part that is done.
   * What is handed over is overwritten afterwards; the row's place in it is the third thing given.
   */
  *visit(saw: (row: number, was: Won, is: Won, at: number) => void): Generator<number> {
    const [first] = this.turned;
    const words = (first?.was ?? first?.is)?.rows.bits.length ?? 0;
    for (let from = 0; from < words; from += WORDS_AT_ONCE) {
      this.visitWords(from, Math.min(words, from + WORDS_AT_ONCE), saw);
      yield from / words;
    }
  }

  private visitWords(from: number, until: number, saw: (row: number, was: Won, is: Won, at: number) => void): void {
    for (let word = from; word < until; word++) {
      let touched = 0;
      for (const { was, is } of this.turned) touched |= (was?.rows.bits[word] ?? 0) ^ (is?.rows.bits[word] ?? 0);
      if (touched === 0) continue;
      this.was.fill(WAS, word, touched);
      this.is.fill(IS, word, touched);
      for (let left = touched; left !== 0; left &= left - 1) {
        const at = lowestOf(left);
        if (!this.saysSame(WAS, IS, at)) saw(word * PER_WORD + at, WAS, IS, at);
      }
    }
  }

  private saysSame(was: Won, is: Won, at: number): boolean {
    for (let slot = 0; slot < SLOTS; slot++) {
      const one = was[at * SLOTS + slot]!;
      const other = is[at * SLOTS + slot]!;
      if (one < 0 && other < 0) continue;
      if (one < 0 || other < 0) return false;
      if (GATHERS[slot]) {
        if (this.gathered(this.was, was, at, slot) !== this.gathered(this.is, is, at, slot)) return false;
      } else if (this.was.sayings[one] !== this.is.sayings[other]) return false;
    }
    return true;
  }

  private gathered(side: Side, won: Won, at: number, slot: number): string {
    return side
      .rulesAt(won, at, slot)
      .map(({ saying }) => saying)
      .join();
  }

  /** The rules that win at a row and count there on one side only. */
  turnedAt(row: number, was: Won, is: Won, at: number): { readonly opens: string[]; readonly closes: string[] } {
    const winning = (side: Side, won: Won, other: 'was' | 'is') =>
      this.turned.flatMap((pair) => {
        const own = pair[other === 'was' ? 'is' : 'was'];
        if (!own || !hasBit(own.rows.bits, row)) return [];
        const elsewhere = pair[other];
        if (elsewhere && hasBit(elsewhere.rows.bits, row)) return [];
        const wins = GOODS_ASPECTS.some((_aspect, slot) =>
          side.rulesAt(won, at, slot).some(({ compiled }) => compiled.rule.id === own.id),
        );
        return wins ? [own.id] : [];
      });
    return { opens: winning(this.is, is, 'was'), closes: winning(this.was, was, 'is') };
  }
}

interface Turned {
  readonly id: string;
  readonly rows: Rows;
}

/** The rules that are not the same in both: in what they say, where they count, or their place in the order. */
function turnedBetween(was: readonly Counting[], is: readonly Counting[]): { was: Turned | null; is: Turned | null }[] {
  const named = (list: readonly Counting[]) =>
    new Map(list.map((one) => [`${one.asked.saying} ${one.asked.compiled.rule.id}`, one] as const));
  const [before, after] = [named(was), named(is)];
  const turnedOf = ({ asked, rows }: Counting): Turned => ({ id: asked.compiled.rule.id, rows });
  const [orderWas, orderIs] = [
    [...before.keys()].filter((name) => after.has(name)),
    [...after.keys()].filter((name) => before.has(name)),
  ];
  // Those that both have and that stand in the same order, from the top and from the end, have kept their place.
  let [top, end] = [0, orderWas.length];
  while (top < end && orderWas[top] === orderIs[top]) top += 1;
  while (end > top && orderWas[end - 1] === orderIs[end - 1]) end -= 1;
  const moved = new Set(orderWas.slice(top, end));
  const turned: { was: Turned | null; is: Turned | null }[] = [];
  for (const [name, one] of before) {
    const other = after.get(name);
    if (!other || moved.has(name)) turned.push({ was: turnedOf(one), is: null });
    else if (one.rows !== other.rows) turned.push({ was: turnedOf(one), is: turnedOf(other) });
  }
  for (const [name, other] of after)
    if (!before.has(name) || moved.has(name)) turned.push({ was: null, is: turnedOf(other) });
  return turned;
}
