import { PRODUCT_ASPECTS } from '../aspects/aspects.ts';
import { lowestOf, type Bits } from '../engine/bits.ts';
import { wordOf, type Rows } from './columns.ts';
import type { PreparedRule, RuleMatch } from './ruleMatcher.ts';
import { noWinners, PER_WORD, BatchResolver, type WinnerSlots } from './batchResolver.ts';

/** Words of rows checked before yielding to other work. */
const WORDS_AT_ONCE = 256;
/** Scratch space of the loop over words: winners of both sides. */
const [WAS, IS] = [noWinners(), noWinners()];

/** Receives a row with different winners, and their place, which is overwritten afterwards. */
type OnRow = (row: number, was: WinnerSlots, is: WinnerSlots, at: number) => void;

/** Two lists of rules over the same goods, and where they may differ in who wins. */
export class RuleSetDiff {
  readonly was: BatchResolver;
  readonly is: BatchResolver;
  /** Rules that count at other rows than before, or that have another place: null where there is none. */
  private readonly changed: readonly ChangedRule[];
  private readonly pairs: Readonly<Record<'was' | 'is', ReadonlyMap<PreparedRule, ChangedRule>>>;
  /** The rows at which rules count on one side only. */
  private readonly touched: Bits;

  constructor(was: readonly RuleMatch[], is: readonly RuleMatch[]) {
    [this.was, this.is] = [new BatchResolver(was), new BatchResolver(is)];
    this.changed = changedRulesBetween(was, is);
    const pairsBy = (side: 'was' | 'is') =>
      new Map(this.changed.flatMap((pair) => (pair[side] ? [[pair[side].rule, pair] as const] : [])));
    this.pairs = { was: pairsBy('was'), is: pairsBy('is') };
    this.touched = touchedBy(this.changed);
  }

  /** The same for contrasts, between the same two rulebooks, that come to the same. */
  get key(): string {
    return `${this.was.key} ${this.is.key}`;
  }

  /** Visits every row whose outcome differs, in order; yields its progress. */
  *visit(saw: OnRow): Generator<number> {
    const words = this.touched.length;
    for (const { from, until } of turns(words)) {
      for (let word = from; word < until; word++) {
        const touched = this.touchedIn(word);
        if (touched !== 0) this.see(word, touched, saw, true);
      }
      yield from / words;
    }
  }

  /** The rows of a word at which other rules count, as bits: at all others, the same wins. */
  touchedIn(word: number): number {
    return this.touched[word] ?? 0;
  }

  /** Number of rules that match elsewhere or have moved. */
  get size(): number {
    return this.changed.length;
  }

  /** Visits all of these rows, regardless of differences. */
  *visitAll(rows: Bits, saw: OnRow): Generator<number> {
    for (const { from, until } of turns(rows.length)) {
      for (let word = from; word < until; word++) if (rows[word] !== 0) this.see(word, rows[word]!, saw, false);
      yield from / rows.length;
    }
  }

  private see(word: number, rows: number, saw: OnRow, isOtherOnly: boolean): void {
    this.was.fill(WAS, word, rows);
    this.is.fill(IS, word, rows);
    for (let left = rows; left !== 0; left &= left - 1) {
      const at = lowestOf(left);
      if (!isOtherOnly || !this.was.resolvesAlike(WAS, this.is, IS, at)) saw(word * PER_WORD + at, WAS, IS, at);
    }
  }

  /** The rules that win at a row and count there on one side only. */
  changedRulesAt(
    row: number,
    was: WinnerSlots,
    is: WinnerSlots,
    at: number,
  ): { readonly opens: string[]; readonly closes: string[] } {
    const [word, bit] = [row >>> 5, 1 << (row & 31)];
    const counts = (rows: Rows | undefined) => rows !== undefined && (wordOf(rows, word) & bit) !== 0;
    const turned = (side: BatchResolver, won: WinnerSlots, mine: 'was' | 'is', other: 'was' | 'is') => {
      const winning = new Set(PRODUCT_ASPECTS.flatMap((_aspect, slot) => side.rulesAt(won, at, slot)));
      return [...winning]
        .filter((rule) => {
          const pair = this.pairs[mine].get(rule);
          return counts(pair?.[mine]?.rows) && !counts(pair?.[other]?.rows);
        })
        .sort((one, next) => one.place - next.place)
        .map(({ compiled }) => compiled.rule.id);
    };
    return { opens: turned(this.is, is, 'is', 'was'), closes: turned(this.was, was, 'was', 'is') };
  }
}

/** Words of rows in chunks. */
function* turns(words: number): Generator<{ readonly from: number; readonly until: number }> {
  for (let from = 0; from < words; from += WORDS_AT_ONCE) yield { from, until: Math.min(words, from + WORDS_AT_ONCE) };
}

/** A rule that is not the same on both sides. */
interface ChangedRule {
  readonly was: RuleMatch | null;
  readonly is: RuleMatch | null;
}

/** Rules that differ between the two, in outcome, condition or position. */
function changedRulesBetween(was: readonly RuleMatch[], is: readonly RuleMatch[]): ChangedRule[] {
  const named = (list: readonly RuleMatch[]) =>
    new Map(list.map((one) => [`${one.rule.outcomeId} ${one.rule.compiled.rule.id}`, one] as const));
  const [before, after] = [named(was), named(is)];
  const orderWas = [...before.keys()].filter((name) => after.has(name));
  const orderIs = [...after.keys()].filter((name) => before.has(name));
  // Rules in the same order from the top and from the end have kept their place.
  let [top, end] = [0, orderWas.length];
  while (top < end && orderWas[top] === orderIs[top]) top += 1;
  while (end > top && orderWas[end - 1] === orderIs[end - 1]) end -= 1;
  const moved = new Set(orderWas.slice(top, end));
  const changed: ChangedRule[] = [];
  for (const [name, one] of before) {
    const other = after.get(name);
    if (!other || moved.has(name)) changed.push({ was: one, is: null });
    else if (one.rows !== other.rows) changed.push({ was: one, is: other });
  }
  for (const [name, other] of after) if (!before.has(name) || moved.has(name)) changed.push({ was: null, is: other });
  return changed;
}

/** The rows at which rules count on one side only. */
function touchedBy(changed: readonly ChangedRule[]): Bits {
  const ends = changed.flatMap(({ was, is }) =>
    [was, is].map((one) => (one ? one.rows.from + one.rows.bits.length : 0)),
  );
  const touched = new Uint32Array(ends.reduce((most, end) => Math.max(most, end), 0));
  for (const { was, is } of changed) {
    const from = Math.min(was?.rows.from ?? Infinity, is?.rows.from ?? Infinity);
    const until = Math.max(...[was, is].map((one) => (one ? one.rows.from + one.rows.bits.length : 0)));
    for (let word = from; word < until; word++)
      touched[word]! |= (was ? wordOf(was.rows, word) : 0) ^ (is ? wordOf(is.rows, word) : 0);
  }
  return touched;
}
