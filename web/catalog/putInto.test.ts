import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LISBON, rule as someRule, subject } from '#tests/support/arbitraries.ts';
import { book } from '#tests/support/oneVariant.ts';
import { runs } from '#tests/support/sampling.ts';
import { compile } from '#core/engine/compile.ts';
import { factOf } from '#core/facts/facts.ts';
import type { ProductSubject } from '#core/model/subject.ts';
import { groupOf, leavesOf, type Condition } from '#core/rulebook/condition.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { unfinished } from '#core/rulebook/unfinished.ts';
import { putInto, takeOut } from './putInto.ts';

const finished = someRule.filter((rule) => rule.on && unfinished(rule).length === 0);
const holds = (rule: Rule, one: ProductSubject) => compile(book(rule), LISBON).rules[0]!.test({ ...one }).matches;
const IDS = ['a'];

/** Parts of a rule's conditions about time and people rather than products. */
function elsewise(rule: Rule): Rule {
  const members: readonly Condition[] = groupOf(rule.when)?.join === 'all' ? groupOf(rule.when)!.members : [rule.when];
  const others = members.filter((member) => !leavesOf(member).some((leaf) => factOf(leaf).about === 'products'));
  return { ...rule, when: { all: [{ fact: 'product', op: 'every', value: true }, ...others] } };
}

describe('goods are put into rules', () => {
  it('that then hold for them whenever and for whom they hold at all, and for all others as before', () => {
    fc.assert(
      fc.property(finished, subject, (rule, one) => {
        const put = putInto(rule, { ids: IDS });
        expect(unfinished(put)).toEqual([]);
        const isMeant = IDS.includes(one.product.id);
        expect(holds(put, one)).toBe(isMeant ? holds(elsewise(rule), one) : holds(rule, one));
        expect(putInto(put, { ids: IDS })).toEqual(put);
      }),
      runs(500),
    );
  });
  it('and taken out of them, whatever they were in by', () => {
    fc.assert(
      fc.property(finished, subject, (rule, one) => {
        const out = takeOut(rule, { ids: IDS });
        const isMeant = IDS.includes(one.product.id);
        expect(out !== null && holds(out, one)).toBe(!isMeant && holds(rule, one));
        if (out && isMeant) expect(holds(putInto(out, { ids: IDS }), one)).toBe(holds(elsewise(rule), one));
      }),
      runs(500),
    );
  });
  it('by lists that stay short, and by a tag that stands beside what is asked', () => {
    const rule = (when: Condition): Rule => ({ id: 'r', on: true, when, then: { style: ['x'] } });
    const listed = (...value: string[]): Condition => ({ fact: 'product.id', op: 'in', value });
    const rare: Condition = { fact: 'product.tags', op: 'hasAny', value: ['rare'] };
    const guests: Condition = { fact: 'visitor.signedIn', op: 'is', value: false };
    expect(putInto(rule(listed('x')), { ids: ['y', 'x'] }).when).toEqual(listed('x', 'y'));
    const once = putInto(rule({ all: [rare, guests] }), { ids: ['x'] });
    expect(once.when).toEqual({ all: [{ any: [rare, listed('x')] }, guests] });
    expect(putInto(once, { ids: ['y'] }).when).toEqual({ all: [{ any: [rare, listed('x', 'y')] }, guests] });
    const sale: Condition = { fact: 'product.tags', op: 'hasAny', value: ['sale'] };
    expect(putInto(rule(rare), { tag: 'sale' }).when).toEqual({ any: [rare, sale] });
    expect(takeOut(rule(rare), { tag: 'sale' })?.when).toEqual({
      all: [rare, { fact: 'product.tags', op: 'hasNone', value: ['sale'] }],
    });
    expect(takeOut(rule(listed('x')), { ids: ['x'] })).toBeNull();
  });
});
