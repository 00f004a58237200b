import { setBit, type Bits } from '../engine/bits.ts';
import { factOf } from '../facts/facts.ts';
import { leavesOf } from '../rulebook/condition.ts';
import type { ViewContext, StockFacts, Subject } from '../model/subject.ts';
import type { Zone } from '../model/zone.ts';
import { wordOf, type Rows } from './columns.ts';
import { NO_PRODUCT, NO_VARIANT } from '../model/nobody.ts';
import { each } from './rowSet.ts';
import type { PreparedRule, RuleMatcher, LeafRows } from './ruleMatcher.ts';

/** Whether a rule asks for stock. */
export const readsStock = ({ compiled }: PreparedRule): boolean =>
  leavesOf(compiled.rule.when).some((leaf) => factOf(leaf).stock !== undefined);

/** The rows at which a rule does not apply only because the stock of the goods is not tracked. */
export function untrackedAt(counts: RuleMatcher, rule: PreparedRule, seen: ViewContext, zone: Zone): Rows {
  const { columns } = counts;
  const leafRows = counts.leafRowsOf(rule, seen, zone);
  return columns.once(`${counts.keyOf(rule, leafRows, seen)} untracked`, () => {
    const untracked = columns.untracked;
    const from = rule.within?.from ?? 0;
    const found = columns.none();
    for (const stock of stocksReadBy(rule)) {
      const tracked = rule.leaves.map(({ leaf, test }, index): LeafRows => {
        const { stock: looksAt } = factOf(leaf);
        if (looksAt === 'product')
          return columns.named(totalled(untracked, counts, stock, (total) => test(withStock(seen, total)).matches));
        if (looksAt === undefined) return leafRows[index]!;
        return test(withStock(seen, stock)).matches;
      });
      const would = counts.rowsWith(rule, tracked, seen);
      for (let word = 0; word < columns.words; word++)
        found[word]! |= wordOf({ bits: would, from }, word) & untracked[word]!;
    }
    const does = counts.rowsWith(rule, leafRows, seen);
    for (let word = 0; word < columns.words; word++) found[word]! &= ~wordOf({ bits: does, from }, word);
    return found;
  });
}

/** The rows whose product would have a total that fits, were their stock this. */
function totalled(rows: Bits, { columns }: RuleMatcher, stock: StockFacts, fits: (total: StockFacts) => boolean): Bits {
  const found = columns.none();
  each(rows, (row) => {
    const others = columns.variantAt(row).product.variants.filter((variant) => variant.stock.tracked);
    const quantity = others.reduce((sum, variant) => sum + variant.stock.quantity, stock.quantity);
    if (fits({ ...stock, quantity })) setBit(found, row);
  });
  return found;
}

/** Stocks that could fulfil a rule: at, just below and just above every number in it. */
function stocksReadBy({ compiled }: PreparedRule): StockFacts[] {
  const numbers = leavesOf(compiled.rule.when)
    .filter((leaf) => factOf(leaf).stock !== undefined)
    .flatMap(({ value }) => [value].flat())
    .filter((value) => typeof value === 'number');
  const quantities = new Set([0, 1, ...numbers.flatMap((number) => [number - 1, number, number + 1])]);
  return [...quantities].flatMap((quantity) =>
    [false, true].map((sellPastZero) => ({ tracked: true, quantity, sellPastZero })),
  );
}

/** A subject whose goods are nothing but their stock. */
function withStock(seen: ViewContext, stock: StockFacts): Subject {
  const variant = { ...NO_VARIANT, stock };
  return { ...seen, product: { ...NO_PRODUCT, variants: [variant] }, variant };
}
