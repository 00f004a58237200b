import { setBit, type Bits } from '../decide/bits.ts';
import { leavesOf } from '../decide/group.ts';
import type { Seen, StockFacts, Subject } from '../decide/subject.ts';
import type { Zone } from '../decide/zone.ts';
import type { Rows } from './columns.ts';
import { NO_GOODS, NO_VARIANT } from './nobody.ts';
import { each } from './rowSet.ts';
import type { Asked, Counts, Held } from './counting.ts';

/** Whether a rule asks for stock. */
export const asksForStock = ({ compiled }: Asked): boolean =>
  leavesOf(compiled.rule.when).some(({ fact }) => fact.startsWith('stock.'));

/** The rows at which a rule does not count only because the stock of the goods is not tracked. */
export function untrackedAt(counts: Counts, asked: Asked, seen: Seen, zone: Zone): Rows {
  const { columns } = counts;
  const held = counts.heldOf(asked, seen, zone);
  return columns.once(`${counts.keyOf(asked, held, seen)} untracked`, () => {
    const untracked = columns.untracked;
    const found = columns.none();
    for (const stock of stocksAskedFor(asked)) {
      const tracked = asked.leaves.map(({ leaf, test }, index): Held => {
        if (leaf.fact === 'stock.productTotal')
          return columns.named(totalled(untracked, counts, stock, (total) => test(withStock(seen, total)).holds));
        if (leaf.fact !== 'stock.quantity' && leaf.fact !== 'stock.status') return held[index]!;
        return test(withStock(seen, stock)).holds;
      });
      const would = counts.rowsWith(asked, tracked, seen);
      for (let word = 0; word < columns.words; word++) found[word]! |= would[word]! & untracked[word]!;
    }
    const does = counts.rowsWith(asked, held, seen);
    for (let word = 0; word < columns.words; word++) found[word]! &= ~does[word]!;
    return found;
  });
}

/** The rows whose product would have a total that fits, were their stock this. */
function totalled(rows: Bits, { columns }: Counts, stock: StockFacts, fits: (total: StockFacts) => boolean): Bits {
  const found = columns.none();
  each(rows, (row) => {
    const others = columns.goodsAt(row).product.variants.filter((own) => own.stock.tracked);
    const quantity = others.reduce((sum, own) => sum + own.stock.quantity, stock.quantity);
    if (fits({ ...stock, quantity })) setBit(found, row);
  });
  return found;
}

/** Stocks that could fulfil what a rule asks of it: at, just below and just above every number that it names. */
function stocksAskedFor({ compiled }: Asked): StockFacts[] {
  const numbers = leavesOf(compiled.rule.when).flatMap((leaf) =>
    leaf.fact === 'stock.quantity' || leaf.fact === 'stock.productTotal' ? leaf.value : [],
  );
  const quantities = new Set([0, 1, ...numbers.flatMap((number) => [number - 1, number, number + 1])]);
  return [...quantities].flatMap((quantity) =>
    [false, true].map((sellPastZero) => ({ tracked: true, quantity, sellPastZero })),
  );
}

/** A subject whose goods are nothing but their stock. */
function withStock(seen: Seen, stock: StockFacts): Subject {
  const variant = { ...NO_VARIANT, stock };
  return { ...seen, product: { ...NO_GOODS, variants: [variant] }, variant };
}
