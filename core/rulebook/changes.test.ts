import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rulebook } from '#tests/support/arbitraries.ts';
import { changesBetween } from './changes.ts';
import type { Rule, Rulebook } from './rulebook.ts';

const rule = (id: string, more: Partial<Rule> = {}): Rule => ({
  id,
  name: id,
  on: true,
  when: { fact: 'product', op: 'every', value: true },
  then: { express: 'hide' },
  ...more,
});
const book = (...rules: Rule[]): Rulebook => ({ format: 'understudy-rulebook', version: 1, rules });
const kinds = (before: Rulebook, after: Rulebook) =>
  changesBetween(before, after).map((change) => [('now' in change ? change.now : change.was).id, change.kind]);

describe('changes between rulebooks', () => {
  it('are told apart rule by rule', () => {
    const before = book(rule('a'), rule('b'), rule('c'), rule('d'));
    const after = book(
      rule('new'),
      rule('a', { on: false }),
      rule('b', { name: 'Other' }),
      rule('c', { then: { express: 'show' } }),
    );
    expect(kinds(before, after)).toEqual([
      ['new', 'added'],
      ['a', 'switchedOff'],
      ['b', 'renamed'],
      ['c', 'reworded'],
      ['d', 'removed'],
    ]);
  });

  it('one rule that moves is one move', () => {
    const [a, b, c, d] = ['a', 'b', 'c', 'd'].map((id) => rule(id)) as [Rule, Rule, Rule, Rule];
    expect(changesBetween(book(a, b, c, d), book(d, a, b, c))).toEqual([{ kind: 'moved', now: d, from: 4, to: 1 }]);
    expect(changesBetween(book(a, b, c, d), book(b, c, a, d))).toEqual([{ kind: 'moved', now: a, from: 1, to: 3 }]);
  });

  it('the order of keys is no change', () => {
    const one = rule('a', { then: { express: 'hide', price: { show: true } } });
    const other = rule('a', { then: { price: { show: true }, express: 'hide' } });
    expect(kinds(book(one), book(other))).toEqual([]);
  });

  it('a rulebook does not differ from itself, and does from any other', () => {
    fc.assert(
      fc.property(rulebook, rulebook, (one, other) => {
        expect(changesBetween(one, one)).toEqual([]);
        expect(changesBetween(one, other).length === 0).toBe(JSON.stringify(one) === JSON.stringify(other));
      }),
    );
  });
});
