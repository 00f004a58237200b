import { GOODS_ASPECTS } from '../decide/aspects.ts';
import { hasBit, lowestOf, type Bits } from '../decide/bits.ts';
import type { Rows } from './columns.ts';
import type { Counting } from './counting.ts';
import { noneWon, PER_WORD, Side, type Won } from './side.ts';

/** So many words are looked at before it gives way. */
const WORDS_AT_ONCE = 256;
/** Scratch of the loop over words: what wins on the two sides. */
const [WAS, IS] = [noneWon(), noneWon()];

/** Hears of a row at which another saying wins, and what wins there, at a place; it is overwritten afterwards. */
type Saw = (row: number, was: Won, is: Won, at: number) => void;

/** Two lists of rules over the same goods, and where they may differ in who wins. */
export class Contrast {
  readonly was: Side;
  readonly is: Side;
  /** The same for contrasts, between the same two rulebooks, that come to the same. */
  readonly key: string;
  /** Rules that count at other rows than before, or that have another place: null where there is none. */
  private readonly turned: readonly { readonly was: Turned | null; readonly is: Turned | null }[];

  constructor(was: readonly Counting[], is: readonly Counting[]) {
    [this.was, this.is] = [new Side(was), new Side(is)];
    this.key = `${this.was.key} ${this.is.key}`;
    this.turned = turnedBetween(was, is);
  }

  /** Visits every row at which something else is said of goods, in order; gives way with the part that is done. */
  *visit(saw: Saw): Generator<number> {
    const [first] = this.turned;
    const words = (first?.was ?? first?.is)?.rows.bits.length ?? 0;
    for (const { from, until } of turns(words)) {
      for (let word = from; word < until; word++) {
        let touched = 0;
        for (const { was, is } of this.turned) touched |= (was?.rows.bits[word] ?? 0) ^ (is?.rows.bits[word] ?? 0);
        if (touched !== 0) this.see(word, touched, saw, true);
      }
      yield from / words;
    }
  }

  /** Visits all of these rows, whatever is said there. */
  *visitAll(rows: Bits, saw: Saw): Generator<number> {
    for (const { from, until } of turns(rows.length)) {
      for (let word = from; word < until; word++) if (rows[word] !== 0) this.see(word, rows[word]!, saw, false);
      yield from / rows.length;
    }
  }

  private see(word: number, rows: number, saw: Saw, isOtherOnly: boolean): void {
    this.was.fill(WAS, word, rows);
    this.is.fill(IS, word, rows);
    for (let left = rows; left !== 0; left &= left - 1) {
      const at = lowestOf(left);
      if (!isOtherOnly || !this.was.saysSame(WAS, this.is, IS, at)) saw(word * PER_WORD + at, WAS, IS, at);
    }
  }

  /** The rules that win at a row and count there on one side only. */
  turnedAt(row: number, was: Won, is: Won, at: number): { readonly opens: string[]; readonly closes: string[] } {
    const counts = (turned: Turned | null) => turned !== null && hasBit(turned.rows.bits, row);
    const wins = (side: Side, won: Won, { id }: Turned) =>
      GOODS_ASPECTS.some((_aspect, slot) =>
        side.rulesAt(won, at, slot).some(({ compiled }) => compiled.rule.id === id),
      );
    return {
      opens: this.turned.flatMap((pair) =>
        pair.is && counts(pair.is) && !counts(pair.was) && wins(this.is, is, pair.is) ? [pair.is.id] : [],
      ),
      closes: this.turned.flatMap((pair) =>
        pair.was && counts(pair.was) && !counts(pair.is) && wins(this.was, was, pair.was) ? [pair.was.id] : [],
      ),
    };
  }
}

/** The words, so many at once. */
function* turns(words: number): Generator<{ readonly from: number; readonly until: number }> {
  for (let from = 0; from < words; from += WORDS_AT_ONCE) yield { from, until: Math.min(words, from + WORDS_AT_ONCE) };
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
  const orderWas = [...before.keys()].filter((name) => after.has(name));
  const orderIs = [...after.keys()].filter((name) => before.has(name));
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
