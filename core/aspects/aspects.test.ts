import { describe, expect, it } from 'vitest';
import { compile } from '../engine/compile.ts';
import { decide } from '../engine/decide.ts';
import { decideListing } from '../engine/listing.ts';
import { decideVisit } from '../engine/visit.ts';
import type { Condition } from '../rulebook/condition.ts';
import type { Rule } from '../rulebook/rulebook.ts';
import { LISBON } from '#tests/support/arbitraries.ts';
import { book, decided, guest, make, product, variant } from '#tests/support/oneVariant.ts';
import { adjusted } from './price.ts';
import { checkout } from './checkout.ts';

const ofVariants = (...ids: string[]): Condition => ({ fact: 'variant.id', op: 'in', value: ids });

/** What a listing says of a product with variants a, b and c. */
function listed(rules: readonly Rule[], prices = { a: 1450, b: 900, c: 2000 }) {
  const variants = Object.entries(prices).map(([id, price]) => ({ ...variant, id, price, priceBefore: null }));
  const goods = { ...product, variants };
  const compiled = compile(book(...rules), LISBON);
  const decisions = variants.map((one) =>
    decide(compiled, { ...guest, product: goods, variant: one, surface: 'listing' }),
  );
  return decideListing(decisions, goods, 'en', LISBON);
}

describe('a product of several variants on a listing', () => {
  const off = make('off', { visibility: { state: 'offListings' } }, ofVariants('a', 'b'));
  const blocked = make('blocked', { visibility: { state: 'blocked', redirectTo: '/gone' } }, ofVariants('b', 'c'));
  it('stays while any of them does, and is as open as the most open one', () => {
    expect(listed([off]).visibility.state).toBe('shown');
    expect(listed([off, blocked]).visibility).toEqual({ state: 'offListings', redirectTo: null });
    expect(listed([blocked, off]).visibility).toEqual({ state: 'offListings', redirectTo: null });
    expect(listed([make('all', blocked.then)]).visibility).toEqual({ state: 'blocked', redirectTo: '/gone' });
  });
  it('shows the lowest price that is shown, and that there are others', () => {
    expect(listed([]).price).toMatchObject({ show: true, amount: 900, from: true });
    expect(listed([], { a: 900, b: 900, c: 900 }).price).toMatchObject({ amount: 900, from: false });
    const hidden = make('hidden', { price: { show: false, text: 'Ask us' } }, ofVariants('b'));
    expect(listed([hidden]).price).toMatchObject({ show: true, amount: 1450, from: true });
    expect(listed([make('all', hidden.then)]).price).toMatchObject({ show: false, amount: null, text: 'Ask us' });
  });
});

describe('what a variant cost before', () => {
  const costing = (price: number, priceBefore: number | null, rules: readonly Rule[] = []) =>
    decided(rules, { variant: { ...variant, price, priceBefore } }).price;
  it('is shown where it was more', () => {
    expect(costing(1450, 1600).was).toBe(1600);
    expect(costing(1450, 1450).was).toBeNull();
    expect(costing(1450, 1300).was).toBeNull();
    expect(costing(1450, null).was).toBeNull();
    expect(costing(1450, 1600, [make('plain', { price: { show: true, showWas: false } })]).was).toBeNull();
  });
  it('is that before an adjustment, where that is less', () => {
    const less = [make('less', { price: { adjust: { percent: -10 } } })];
    expect(costing(1000, null, less)).toMatchObject({ amount: 900, was: 1000 });
    expect(costing(1000, 1200, less)).toMatchObject({ amount: 900, was: 1200 });
    expect(costing(1000, null, [make('more', { price: { adjust: { percent: 10 } } })]).was).toBeNull();
  });
});

describe('an adjusted price', () => {
  it('is never below nothing, and rounds halves away from it', () => {
    expect(adjusted(0, { percent: 50 })).toBe(0);
    expect(adjusted(1, { percent: 50 })).toBe(2);
    expect(adjusted(1, { percent: -50 })).toBe(1);
    expect(adjusted(1, { percent: -51 })).toBe(0);
    expect(adjusted(1000, { percent: -100 })).toBe(0);
    expect(adjusted(100, { amount: -200 })).toBe(0);
    expect(adjusted(100, { fixed: 0 })).toBe(0);
  });
});

describe('the checkout', () => {
  const tagged = { product: { ...product, tags: ['tree'] }, variant };
  const trees: Condition = { fact: 'product.tags', op: 'hasAny', value: ['tree'] };
  const of = (then: Rule['then']) =>
    decideVisit(compile(book(make('trees', then, trees)), LISBON), guest, [{ product, variant }, tagged]).visit
      .checkout;
  it('is closed by whichever line closes it, and leads where that one says', () => {
    expect(of({ checkout: { open: false, redirectTo: '/closed' } })).toEqual({
      open: false,
      redirectTo: '/closed',
      submitOrder: { show: true, text: null },
      hideMethods: [],
    });
  });
  it('says nothing that a rule leaves out', () => {
    expect(of({ checkout: { hideMethods: ['card'] } })).toEqual({
      open: true,
      redirectTo: null,
      submitOrder: { show: true, text: null },
      hideMethods: ['card'],
    });
    expect(of({ checkout: { submitOrder: { show: false } } })).toMatchObject({
      open: true,
      submitOrder: { show: false },
    });
  });
  it('tells what changes of its button', () => {
    const open = { open: true, redirectTo: null, hideMethods: [] };
    const button = (show: boolean, text: string | null = null) => ({ ...open, submitOrder: { show, text } });
    const changes = (before: typeof open, after: typeof open) =>
      checkout.changes(before as never, after as never, (code) => code);
    expect(changes(button(true), button(true, '<p>x</p>'))).toEqual([]);
    expect(changes(button(false), button(false))).toEqual([]);
    expect(changes(button(true), button(false))).toEqual(['the order button is hidden']);
    expect(changes(button(false), button(true))).toEqual(['the order button is shown']);
    expect(changes(button(false), button(false, '<p>By <em>letter</em></p>'))).toEqual([
      'the order button stays hidden, with “By letter” in its place',
    ]);
    expect(changes(button(false, '<p>x</p>'), button(false))).toEqual(['nothing is said in the order button’s place']);
  });
});
