import { decide } from '../engine/decide.ts';
import type { CompiledRulebook } from '../engine/compile.ts';
import { wordsFor } from '../engine/bits.ts';
import { changedOwn, withOwn, type OwnChanges } from '../model/ownFacts.ts';
import type { ProductFacts, VisitorFacts } from '../model/subject.ts';
import { ChangeGroups } from './changeGroups.ts';
import { changeBetween } from './outcomeDiffer.ts';

/** Products checked before yielding to other work. */
const AT_ONCE = 50;

/**
 * Finds what visitors would see differently on products' pages if these products had other facts, or other rules applied:
 * decides each variant as it is and as it would be. Yields after each part.
 * @param moment epoch ms
 */
export function* factImpactOf(
  products: readonly ProductFacts[],
  changes: OwnChanges | null,
  rules: { readonly before: CompiledRulebook; readonly after: CompiledRulebook },
  visitors: readonly VisitorFacts[],
  moment: number,
): Generator<number, ChangeGroups> {
  const rows = products.reduce((sum, { variants }) => sum + variants.length, 0);
  const groups = new ChangeGroups({ rows, words: wordsFor(rows) });
  let row = 0;
  for (const [place, product] of products.entries()) {
    if (place % AT_ONCE === AT_ONCE - 1) yield place / products.length;
    const changed = changes ? { ...product, ...withOwn(product, changedOwn(null, product.tags, changes)) } : product;
    for (const variant of product.variants) {
      for (const [index, visitor] of visitors.entries()) {
        const seen = { visitor, moment, surface: 'product', page: null } as const;
        const before = decide(rules.before, { ...seen, product, variant });
        const change = changeBetween(before, decide(rules.after, { ...seen, product: changed, variant }));
        if (change.aspects.length > 0) groups.add(change, row, index, 0);
      }
      row += 1;
    }
  }
  return groups;
}
