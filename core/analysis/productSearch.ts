import type { DecidedControl } from '../controls/controls.ts';
import { resolving } from '../engine/decide.ts';
import { setBit, type Bits } from '../engine/bits.ts';
import { compile, type CompiledRulebook } from '../engine/compile.ts';
import type { ShopFacts, ViewContext } from '../model/subject.ts';
import type { Condition } from '../rulebook/condition.ts';
import { BatchResolver, noWinners, PRODUCT_SLOTS } from './batchResolver.ts';
import { wordOf } from './columns.ts';
import { NOBODY } from '../model/nobody.ts';
import { RowOutcomes } from './rowOutcomes.ts';
import type { PreparedRule, RuleMatcher } from './ruleMatcher.ts';

/**
 * The rows for which a condition about goods holds at a moment (epoch ms): the same as asking each variant. A condition
 * with an empty group holds for none, as a rule with one never counts.
 */
export function rowsWhere(counts: RuleMatcher, condition: Condition, shop: ShopFacts, moment: number): Bits {
  const everything: Condition = { fact: 'product', op: 'every', value: true };
  const rule = { id: '', on: true, when: { all: [everything, condition] }, then: { style: ['found'] } };
  const asked = compile({ format: 'understudy-rulebook', version: 1, rules: [rule] }, shop);
  const { visitor, surface, page } = NOBODY;
  return counts.of(asked, { visitor, surface, page, moment })[0]?.rows.bits ?? counts.columns.none();
}

/** The rows at which a rule decides something of goods for anybody who looks; yields its progress. */
export function* rowsDecidedBy(
  counts: RuleMatcher,
  rulebook: CompiledRulebook,
  looks: readonly ViewContext[],
  id: string,
): Generator<number, Bits> {
  const { columns } = counts;
  const bits = columns.none();
  const won = noWinners();
  const meant = counts.ready(rulebook).find(({ compiled }) => compiled.rule.id === id);
  if (!meant) return bits;
  const { aspects, place: end, within } = meant;
  // Rules below it, rules without a common aspect, and other sellers' rules cannot keep it from winning.
  const isAbove = (rule: PreparedRule) =>
    rule.place < end &&
    (rule.closes || (rule.settles & aspects) !== 0) &&
    (within === null || rule.within === null || rule.within === within);
  for (const [place, look] of looks.entries()) {
    const [asked] = counts.of(rulebook, look, (rule) => rule === meant);
    if (!asked) continue;
    const above = counts.of(rulebook, look, isAbove);
    const side = new BatchResolver([...above, asked]);
    for (let word = asked.rows.from; word < asked.rows.from + asked.rows.bits.length; word++) {
      const rows = wordOf(asked.rows, word);
      if (rows === 0) continue;
      side.fill(won, word, rows, (rule, slot, wins) => {
        if (rule === above.length && slot < PRODUCT_SLOTS) bits[word]! |= wins;
      });
    }
    yield (place + 1) / looks.length;
  }
  return bits;
}

/** The rows at which somebody who looks finds a control of a kind in the control's place; yields its progress. */
export function* rowsShowing(
  counts: RuleMatcher,
  rulebook: CompiledRulebook,
  look: ViewContext,
  kind: DecidedControl['kind'],
): Generator<number, Bits> {
  const bits = counts.columns.none();
  const controls = new RowOutcomes(
    counts,
    rulebook,
    (winning, subject) => ({
      isShown: resolving({ by: winning.by, gathered: NOTHING }, subject, rulebook.shop).control.kind === kind,
    }),
    'byControl',
  );
  yield* controls.visit(controls.look(look), (row, { isShown }) => {
    if (isShown) setBit(bits, row);
  });
  return bits;
}
const NOTHING = { notes: [], style: [] } as const;

/** Intersects sets of rows; null means every row. */
export function meet(one: Bits | null, other: Bits | null): Bits | null {
  if (!one || !other) return one ?? other;
  return one.map((word, index) => word & other[index]!);
}
