import { PRODUCT_ASPECTS } from '../aspects/aspects.ts';
import type { CompiledRulebook } from '../engine/compile.ts';
import type { Winners } from '../engine/winners.ts';
import type { ProductSubject, ViewContext } from '../model/subject.ts';
import { BatchResolver, noWinners, PER_WORD, PRODUCT_SLOTS } from './batchResolver.ts';
import type { Columns } from './columns.ts';
import { IntTupleMap, ReadTrackedMemo, textInterner, visitorTextKey } from './readTrackedMemo.ts';
import type { PreparedRule, RuleMatcher } from './ruleMatcher.ts';

type Winning = Pick<Winners, 'by' | 'gathered'>;

const CONTROL = PRODUCT_ASPECTS.indexOf('control');
/** Words of rows checked before yielding to other work. */
const WORDS_AT_ONCE = 256;

/** Winning rules of a rulebook at every row, for one visitor, moment and surface. */
export interface Look {
  readonly seen: ViewContext;
  readonly side: BatchResolver;
}

/** The same for looks that come to the same. */
export const keyOfLook = ({ seen, side }: Look): string => `${seen.surface} ${visitorTextKey(seen)} ${side.key}`;

/**
 * Computes a result from the rules that win at each row of the catalog, once for all rows with the same winners and the
 * same facts read.
 */
export class RowOutcomes<Answer extends object> {
  private readonly memos = new IntTupleMap<ReadTrackedMemo<Answer>>();
  private readonly numbered = textInterner();

  /** @param alike whether rows are alike by the rules that win, or by the control that they give */
  constructor(
    private readonly counts: RuleMatcher,
    private readonly rulebook: CompiledRulebook,
    private readonly work: (winning: Winning, subject: ProductSubject) => Answer,
    private readonly alike: 'byRules' | 'byControl' = 'byRules',
  ) {}

  look(seen: ViewContext): Look {
    const isAsked = ({ aspects, closes }: PreparedRule) =>
      this.alike === 'byRules' || closes || (aspects & (1 << CONTROL)) !== 0;
    return { seen, side: new BatchResolver(this.counts.of(this.rulebook, seen, isAsked)) };
  }

  /** Visits all rows in order with their outcomes; yields its progress. */
  *visit({ seen, side }: Look, visit: (row: number, answer: Answer) => void): Generator<number> {
    const { columns }: { readonly columns: Columns } = this.counts;
    const won = noWinners();
    const numbers = new Int32Array(PRODUCT_SLOTS + 2);
    numbers[PRODUCT_SLOTS] = this.numbered(visitorTextKey(seen));
    numbers[PRODUCT_SLOTS + 1] = this.numbered(seen.surface);
    for (let word = 0; word < columns.words; word++) {
      if (word % WORDS_AT_ONCE === WORDS_AT_ONCE - 1) yield word / columns.words;
      side.fill(won, word, columns.all.bits[word]!);
      for (let at = 0; at < PER_WORD && word * PER_WORD + at < columns.rows; at++) {
        if (this.alike === 'byControl') numbers[CONTROL] = side.numberAt(won, at, CONTROL, 'outcomeId', this.numbered);
        else
          for (let slot = 0; slot < PRODUCT_SLOTS; slot++)
            numbers[slot] = side.numberAt(won, at, slot, 'place', this.numbered);
        const memo = this.memos.get(numbers, () => {
          const winning = side.winningAt(won, at);
          return new ReadTrackedMemo(columns, (goods) => this.work(winning, { ...seen, ...goods }));
        });
        const row = word * PER_WORD + at;
        visit(row, memo.at(row));
      }
    }
  }
}
