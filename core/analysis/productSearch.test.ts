import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LISBON, leaf, rulebook, subject } from '#tests/support/arbitraries.ts';
import { finished } from '#tests/support/finished.ts';
import { book } from '#tests/support/oneVariant.ts';
import { runs } from '#tests/support/sampling.ts';
import { hasBit, type Bits } from '../engine/bits.ts';
import { compile } from '../engine/compile.ts';
import { decide } from '../engine/decide.ts';
import { testOf } from '../facts/facts.ts';
import type { ProductSubject } from '../model/subject.ts';
import { groupOf, isAboutProducts, type Condition } from '../rulebook/condition.ts';
import { Columns } from './columns.ts';
import { meet, rowsDecidedBy, rowsShowing, rowsWhere } from './productSearch.ts';
import { NOBODY } from '../model/nobody.ts';
import { RuleMatcher } from './ruleMatcher.ts';

const productLeaf = leaf.filter((one) => isAboutProducts(one));
const condition: fc.Arbitrary<Condition> = fc.letrec<{ any: Condition }>((tie) => {
  const members = fc.array(tie('any'), { minLength: 1, maxLength: 3 });
  return {
    any: fc.oneof(
      { maxDepth: 3, depthSize: 'small' },
      productLeaf,
      members.map((all) => ({ all })),
      members.map((any) => ({ any })),
      members.map((none) => ({ none })),
    ),
  };
}).any;

/** Follows the specification literally, without the engine's shortcuts. */
function holds(asked: Condition, one: ProductSubject): boolean {
  const group = groupOf(asked);
  if (!group) return testOf(asked as Parameters<typeof testOf>[0], LISBON)(one).matches;
  if (group.join === 'all') return group.members.every((member) => holds(member, one));
  const isAny = group.members.some((member) => holds(member, one));
  return group.join === 'any' ? isAny : !isAny;
}

const subjects = fc.array(subject, { minLength: 1, maxLength: 6 });

/** The goods of some subjects, by rows. */
function rowsOf(from: readonly ProductSubject[]) {
  const products = from.map(({ product }, index) => ({ ...product, id: `g${index}` }));
  const rows = products.flatMap((product) => product.variants.map((variant) => ({ product, variant })));
  return { counts: new RuleMatcher(new Columns(products)), rows };
}
const places = (bits: Bits, rows: number) =>
  Array.from({ length: rows }, (_, row) => row).filter((row) => hasBit(bits, row));

describe('finding goods', () => {
  it('by what rules ask: the same as asking each variant', () => {
    fc.assert(
      fc.property(condition, subjects, (asked, from) => {
        const { counts, rows } = rowsOf(from);
        const { moment } = from[0]!;
        const expected = rows.flatMap((goods, row) => (holds(asked, { ...NOBODY, moment, ...goods }) ? [row] : []));
        expect(places(rowsWhere(counts, asked, LISBON, moment), rows.length)).toEqual(expected);
      }),
      runs(400),
    );
  });

  it('by the rule that decides something of them, for anybody who looks', () => {
    fc.assert(
      fc.property(rulebook, subjects, ({ rules }, from) => {
        const { counts, rows } = rowsOf(from);
        const compiled = compile(book(...rules), LISBON);
        const looks = from.map(({ visitor, moment }) => ({ visitor, moment, surface: 'product' as const, page: null }));
        for (const { id } of rules) {
          const expected = rows.flatMap((goods, row) =>
            looks.some((look) =>
              Object.values(decide(compiled, { ...look, ...goods }).reasons).some((ids) => ids.includes(id)),
            )
              ? [row]
              : [],
          );
          expect(places(finished(rowsDecidedBy(counts, compiled, looks, id)), rows.length)).toEqual(expected);
        }
      }),
      runs(200),
    );
  });

  it('by what somebody is shown in the control’s place', () => {
    fc.assert(
      fc.property(rulebook, subjects, ({ rules }, from) => {
        const { counts, rows } = rowsOf(from);
        const compiled = compile(book(...rules), LISBON);
        const { visitor, moment, surface } = from[0]!;
        const look = { visitor, moment, surface, page: null };
        const shown = rows.map((goods) => decide(compiled, { ...look, ...goods }).control.kind);
        for (const kind of new Set([...shown, 'waitlist' as const])) {
          const expected = shown.flatMap((one, row) => (one === kind ? [row] : []));
          expect(places(finished(rowsShowing(counts, compiled, look, kind)), rows.length)).toEqual(expected);
        }
      }),
      runs(200),
    );
  });

  it('by several of these: only what is in all of them', () => {
    const bits = (...words: number[]) => Uint32Array.from(words);
    expect(meet(null, null)).toBeNull();
    expect(meet(bits(5, 1), null)).toEqual(bits(5, 1));
    expect(meet(bits(5, 1), bits(4, 2))).toEqual(bits(4, 0));
  });
});
