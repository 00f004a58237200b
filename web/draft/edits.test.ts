import { describe, expect, it } from 'vitest';
import type { Rule, Rulebook } from '#core/rulebook/rulebook.ts';
import { addCondition, at, depthOf, moveRule, newId, put, rejoined, withoutCondition } from './edits.ts';
import { changed, redone, startHistory, undone } from './history.ts';

const EVERY = { fact: 'product', op: 'every', value: true } as const;
const GUESTS = { fact: 'visitor.signedIn', op: 'is', value: false } as const;
const rule: Rule = { id: 'a', on: true, when: { all: [EVERY, { any: [GUESTS] }] }, then: { express: 'hide' } };
const book = (...ids: string[]): Rulebook => ({
  format: 'understudy-rulebook',
  version: 1,
  rules: ids.map((id) => ({ ...rule, id })),
});
const order = ({ rules }: Rulebook) => rules.map(({ id }) => id).join('');

describe('edits', () => {
  it('find, put and take away by a place in the rule', () => {
    expect(at(rule, '/when/all/1/any/0')).toEqual(GUESTS);
    expect(at(rule, '/when/any/3/x')).toBeUndefined();
    const changedRule = put(rule, '/when/all/1/any/0', EVERY);
    expect(at(changedRule, '/when/all/1/any/0')).toEqual(EVERY);
    expect(at(rule, '/when/all/1/any/0')).toEqual(GUESTS);
    expect(withoutCondition(rule, '/when/all/0').when).toEqual({ all: [{ any: [GUESTS] }] });
    expect(withoutCondition({ ...rule, when: EVERY }, '/when').when).toEqual({ all: [] });
    expect(Object.keys(put({ a: 1, b: 2 }, '/a', 3))).toEqual(['a', 'b']);
  });
  it('ask one thing more, in the sentence or in a group of it', () => {
    const add = (when: Rule['when'], into: string) => {
      const { rule: next, pointer } = addCondition({ ...rule, when }, into, GUESTS);
      expect(at(next, pointer)).toEqual(GUESTS);
      return next.when;
    };
    expect(add({ all: [] }, '/when')).toEqual({ all: [GUESTS] });
    expect(add(EVERY, '/when')).toEqual({ all: [EVERY, GUESTS] });
    expect(add({ any: [EVERY] }, '/when')).toEqual({ all: [{ any: [EVERY] }, GUESTS] });
    expect(add(rule.when, '/when/all/1')).toEqual({ all: [EVERY, { any: [GUESTS, GUESTS] }] });
    expect(add({ none: [{ all: [EVERY] }] }, '/when/none/0')).toEqual({ none: [{ all: [EVERY, GUESTS] }] });
  });
  it('take out a condition with the groups that it leaves empty, and change a joining word', () => {
    expect(withoutCondition(rule, '/when/all/1/any/0').when).toEqual({ all: [EVERY] });
    expect(withoutCondition({ ...rule, when: { any: [{ none: [GUESTS] }] } }, '/when/any/0/none/0').when).toEqual({
      all: [],
    });
    expect(rejoined(rule, '/when/all/1', 'none').when).toEqual({ all: [EVERY, { none: [GUESTS] }] });
    expect([depthOf('/when'), depthOf('/when/all/1'), depthOf('/when/all/1/any/0')]).toEqual([0, 1, 2]);
  });
  it('move a rule to a place in the order', () => {
    expect(order(moveRule(book('a', 'b', 'c'), 'a', 2))).toBe('bca');
    expect(order(moveRule(book('a', 'b', 'c'), 'c', 0))).toBe('cab');
    expect(order(moveRule(book('a', 'b'), 'z', 0))).toBe('ab');
  });
  it('give ids that no rule ever had', () => {
    expect(newId('Frost closure!')).toMatch(/^frost-closure-[0-9a-f]{6}$/);
    expect(newId('霜')).toMatch(/^rule-[0-9a-f]{6}$/);
    expect(new Set(Array.from({ length: 50 }, () => newId('Pause'))).size).toBe(50);
  });
});

describe('history', () => {
  it('goes back and forth, and takes keystrokes in one field for one step', () => {
    const [one, two, three, four] = [book('a'), book('b'), book('c'), book('d')];
    let history = startHistory(one);
    history = changed(history, two, undefined);
    history = changed(history, three, 'name');
    history = changed(history, four, 'name');
    history = undone(history) ?? history;
    expect(history.now).toBe(two);
    history = redone(history) ?? history;
    expect(history.now).toBe(four);
    history = undone(undone(history) ?? history) ?? history;
    expect(history.now).toBe(one);
    expect(undone(history)).toBeNull();
    expect(redone(changed(history, three, undefined))).toBeNull();
  });
});
