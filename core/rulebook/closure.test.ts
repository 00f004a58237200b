import { describe, expect, it } from 'vitest';
import { book, everything, make } from '#tests/support/oneVariant.ts';
import { isClosure, placeForNew } from './closure.ts';
import type { Outcome } from '../aspects/outcome.ts';
import type { Rule } from './rulebook.ts';

const rule = (then: Outcome, ...all: object[]) => make('r', then, { all: [everything, ...all] } as Rule['when']);
const NOTICE: Outcome = { control: { kind: 'notice', text: 'Closed' } };
const SOLD_OUT = { fact: 'stock.status', op: 'in', value: ['outOfStock'] };
const GUESTS = { fact: 'visitor.signedIn', op: 'is', value: false };

describe('a closure', () => {
  it.each([
    ['a notice', rule(NOTICE), true],
    ['nothing, for guests', rule({ control: { kind: 'nothing' } }, GUESTS), true],
    ['a sign-in prompt', rule({ control: { kind: 'signIn', href: '/in' } }), true],
    ['a closed cart', rule({ cart: { open: false } }), true],
    ['a closed checkout', rule({ checkout: { open: false } }), true],
    ['a blocked page', rule({ visibility: { state: 'blocked' } }), true],
    ['a notice of what is sold out', rule(NOTICE, SOLD_OUT), false],
    ['a notice beside the button', rule({ control: { kind: 'notice', text: 'x', beside: true } }), false],
    ['a pre-order', rule({ control: { kind: 'preorder' } }), false],
    ['an open cart', rule({ cart: { open: true } }), false],
  ])('%s', (_what, then, is) => {
    expect(isClosure(then)).toBe(is);
  });

  it('stays above rules that are made later, and goes on top itself', () => {
    const order = book(rule(NOTICE), rule(NOTICE, GUESTS), rule({ control: { kind: 'preorder' } }), rule(NOTICE));
    expect(placeForNew(order, rule({ control: { kind: 'buy' } }))).toBe(2);
    expect(placeForNew(order, rule(NOTICE))).toBe(0);
    expect(placeForNew(book(rule(NOTICE)), rule({}))).toBe(1);
    expect(placeForNew(book(), rule({}))).toBe(0);
  });
});
