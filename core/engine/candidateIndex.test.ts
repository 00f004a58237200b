import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { condition, LISBON, subject } from '#tests/support/arbitraries.ts';
import { book, guest, make, product, variant } from '#tests/support/oneVariant.ts';
import { runs } from '#tests/support/sampling.ts';
import type { Condition } from '../rulebook/condition.ts';
import { CandidateIndex, isDated } from './candidateIndex.ts';
import { compile } from './compile.ts';
import type { Subject } from '../model/subject.ts';

const visited = (candidates: CandidateIndex, seen: Subject): number[] => {
  const found: number[] = [];
  candidates.each(candidates.read(seen), (rule) => found.push(rule) > 0);
  return found;
};
const leaf = (fact: string, op: string, value: unknown) => ({ fact, op, value }) as Condition;

describe('candidates', () => {
  it('miss no rule whose conditions hold, and an exact one holds', () => {
    fc.assert(
      fc.property(fc.array(condition, { minLength: 1, maxLength: 12 }), subject, (conditions, seen) => {
        const { rules, candidates } = compile(
          book(...conditions.map((when, index) => make(`r${index}`, { express: 'hide' }, when))),
          LISBON,
        );
        const found = visited(candidates, seen);
        expect(found).toEqual([...found].sort((a, b) => a - b));
        for (const [index, { test, missing: lacks }] of rules.entries()) {
          if (lacks.length > 0) continue;
          const { matches: holds, validUntil: until } = test(seen);
          if (holds) expect(found).toContain(index);
          // Rules that only the clock could make match are candidates as well.
          if (until !== Infinity) expect(found).toContain(index);
          if (found.includes(index) && candidates.isExact(index, isDated(seen.visitor))) expect(holds).toBe(true);
        }
      }),
      runs(300),
    );
  });

  const goods = { ...product, tags: ['Rare '], categories: ['plants/bulbs/tulips'], brand: 'Quillfern' };
  const seen = { ...guest, product: goods };
  it.each<[string, Condition, boolean]>([
    ['a tag, however it is spelt', leaf('product.tags', 'hasAny', ['rare', 'other']), true],
    ['another tag', leaf('product.tags', 'hasAny', ['gift']), false],
    ['a category above', leaf('product.categories', 'within', ['plants']), true],
    ['a category that begins alike', leaf('product.categories', 'within', ['plants/bulb']), false],
    ['none of a group', { none: [leaf('product.brand', 'in', ['quillfern'])] }, false],
    ['one of a group', { any: [leaf('product.tags', 'hasAny', ['gift']), leaf('variant.price', 'gte', 1450)] }, true],
    ['a number out of reach', leaf('stock.quantity', 'between', [3, 9]), false],
    [
      'two conditions of which one fails',
      { all: [leaf('variant.id', 'in', ['v']), leaf('visitor.signedIn', 'is', true)] },
      false,
    ],
    ['another surface', leaf('surface', 'in', ['listing']), false],
    ['a moment, which the clock may bring', leaf('moment', 'between', { until: '2000-01-01' }), true],
  ])('%s', (_name, when, isCandidate) => {
    const candidates = new CandidateIndex([{ when }]);
    expect(visited(candidates, seen)).toEqual(isCandidate ? [0] : []);
  });

  it('take a role with dates for possible, and one without for sure', () => {
    const candidates = new CandidateIndex([{ when: leaf('visitor.roles', 'hasAny', ['member']) }]);
    const holding = (from: number | null) => ({
      ...seen,
      visitor: { ...guest.visitor, roles: [{ code: 'member', from, until: null }] },
    });
    expect([visited(candidates, holding(null)), candidates.isExact(0, isDated(holding(null).visitor))]).toEqual([
      [0],
      true,
    ]);
    expect([visited(candidates, holding(1)), candidates.isExact(0, isDated(holding(1).visitor))]).toEqual([[0], false]);
  });

  it('tell one product’s variant from another’s of the same facts', () => {
    const candidates = new CandidateIndex([{ when: leaf('waitlist.length', 'gt', 3) }]);
    const waitedFor = { ...goods, waiting: 5 };
    expect(visited(candidates, { ...seen, variant })).toEqual([]);
    expect(visited(candidates, { ...seen, product: waitedFor, variant })).toEqual([0]);
    expect(visited(candidates, { ...seen, variant })).toEqual([]);
  });

  it('give up writing out what would be too many rows, and stay right', () => {
    const either = (index: number): Condition => ({
      any: [leaf('product.tags', 'hasAny', [`a${index}`]), leaf('product.tags', 'hasAny', [`b${index}`])],
    });
    const when: Condition = { all: Array.from({ length: 12 }, (_, index) => either(index)) };
    const candidates = new CandidateIndex([{ when }]);
    expect([visited(candidates, seen), candidates.isExact(0, isDated(seen.visitor))]).toEqual([[0], false]);
  });
});
