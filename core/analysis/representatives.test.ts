import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LISBON, rulebook, subject } from '#tests/support/arbitraries.ts';
import { book, guest, make, product, variant } from '#tests/support/oneVariant.ts';
import { compile } from '../engine/compile.ts';
import { decide } from '../engine/decide.ts';
import type { ProductFacts } from '../model/subject.ts';
import type { Rule } from '../rulebook/rulebook.ts';
import { finished } from '#tests/support/finished.ts';
import { runs } from '#tests/support/sampling.ts';
import { Columns } from './columns.ts';
import { RuleMatcher } from './ruleMatcher.ts';
import { outcomeOf, representativesOf, type ViewSpec } from './representatives.ts';

const looks: ViewSpec = { visitors: [guest.visitor], moments: [guest.moment], surfaces: ['product', 'listing'] };

function chosen(rules: readonly Rule[], products: readonly ProductFacts[], by: ViewSpec = looks) {
  return finished(representativesOf(new RuleMatcher(new Columns(products)), compile(book(...rules), LISBON), by));
}

describe('representative rows', () => {
  it('are few: variants that show nothing new are left out', () => {
    const rare = { ...product, id: 'rare', tags: ['rare'], variants: [{ ...variant, id: 'r' }] };
    const rule = make('r', { control: { kind: 'nothing' } }, { fact: 'product.tags', op: 'hasAny', value: ['rare'] });
    const many = ['a', 'b', 'c'].map((id) => ({
      ...product,
      id,
      variants: [
        { ...variant, id: `${id}-1` },
        { ...variant, id: `${id}-2` },
      ],
    }));
    expect(chosen([rule], [...many, rare]).map(({ variant: id }) => id)).toEqual(['a-1', 'r']);
  });

  it('cover every outcome that any variant has', () => {
    fc.assert(
      fc.property(rulebook, fc.array(subject, { minLength: 1, maxLength: 5 }), ({ rules }, subjects) => {
        const by: ViewSpec = {
          visitors: subjects.map(({ visitor }) => visitor),
          moments: subjects.slice(0, 2).map(({ moment }) => moment),
          surfaces: ['product', 'listing'],
        };
        const products = subjects.map((one, index) => ({
          ...one.product,
          id: `g${index}`,
          variants: one.product.variants.map((variant, n) => ({ ...variant, id: `g${index}-${n}` })),
        }));
        const compiled = compile(book(...rules), LISBON);
        const outcomes = (only: (id: string) => boolean) =>
          new Set(
            products.flatMap((goods) =>
              goods.variants
                .filter(({ id }) => only(id))
                .flatMap((decided) =>
                  by.visitors.flatMap((visitor) =>
                    by.moments.flatMap((moment) =>
                      by.surfaces.map((surface) =>
                        outcomeOf(
                          decide(compiled, { product: goods, variant: decided, visitor, moment, surface, page: null }),
                        ),
                      ),
                    ),
                  ),
                ),
            ),
          );
        const rows = chosen(rules, products, by);
        const ids = new Set(rows.map(({ variant: id }) => id));
        expect(outcomes((id) => ids.has(id))).toEqual(outcomes(() => true));
        expect(ids.size).toBe(rows.length);
      }),
      runs(200),
    );
  });
});
