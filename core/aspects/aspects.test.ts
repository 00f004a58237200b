import { describe, expect, it } from 'vitest';
import { compile } from '../engine/compile.ts';
import { decide } from '../engine/decide.ts';
import { decideListing } from '../engine/listing.ts';
import { decideVisit } from '../engine/visit.ts';
import type { Condition } from '../rulebook/condition.ts';
import type { Rule } from '../rulebook/rulebook.ts';
import type { StockFacts, StockStatus } from '../model/subject.ts';
import { LISBON } from '#tests/support/arbitraries.ts';
import { book, decided, guest, make, product, variant } from '#tests/support/oneVariant.ts';
import { adjusted } from './price.ts';
import { checkout } from './checkout.ts';

const ofVariants = (...ids: string[]): Condition => ({ fact: 'variant.id', op: 'in', value: ids });

type Stocks = Partial<Record<'a' | 'b' | 'c', Partial<StockFacts>>>;
/** Outcome on a listing for a product with variants a, b and c. */
function listed(rules: readonly Rule[], prices = { a: 1450, b: 900, c: 2000 }, stocks: Stocks = {}) {
  const variants = Object.entries(prices).map(([id, price]) => {
    const stock = { ...variant.stock, ...stocks[id as keyof Stocks] };
    return { ...variant, id, price, priceBefore: null, stock };
  });
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

describe('the control of several variants on a listing', () => {
  const preorder = make('reserve', { control: { kind: 'preorder', label: 'Reserve' } }, ofVariants('a', 'b', 'c'));
  const notice = (...ids: string[]) =>
    make(`notice ${ids.join()}`, { control: { kind: 'notice', text: 'Soon' } }, ofVariants(...ids));
  const waitlist = (...ids: string[]) =>
    make('wait', { control: { kind: 'waitlist', per: 'variant' } }, ofVariants(...ids));
  it('is theirs when they are alike, as it is written', () => {
    expect(listed([preorder]).control).toMatchObject({ kind: 'preorder', label: 'Reserve' });
    expect(listed([notice('a', 'b', 'c')]).control).toMatchObject({
      kind: 'notice',
      html: expect.stringContaining('Soon') as string,
    });
  });
  it('is that of the variant with the most open stock where several have the same kind', () => {
    const inStatus = (status: StockStatus): Condition => ({ fact: 'stock.status', op: 'in', value: [status] });
    const soldOut = inStatus('outOfStock');
    const rules = [
      make('gone', { control: { kind: 'notice', text: 'Out of stock' } }, soldOut),
      make('here', { control: { kind: 'notice', text: '{stock.quantity} in the yard' } }),
    ];
    const html = (stocks: Stocks) => (listed(rules, undefined, stocks).control as { html: string }).html;
    const none = { quantity: 0, sellPastZero: false };
    expect(html({ a: none, b: { quantity: 14 }, c: { quantity: 3 } })).toContain('14 in the yard');
    expect(html({ a: none, b: none, c: { quantity: 3 } })).toContain('3 in the yard');
    expect(html({ a: none, b: none, c: none })).toContain('Out of stock');
    const later = { control: { kind: 'notice', text: 'Grown to order' } } as const;
    const pastZero = inStatus('backorder');
    const ordered = listed([make('later', later, pastZero), ...rules], undefined, {
      a: none,
      b: { quantity: 0, sellPastZero: true },
      c: none,
    });
    expect((ordered.control as { html: string }).html).toContain('Grown to order');
    // The kind comes first: a waitlist without stock is shown before a notice with it.
    const kinds = listed([waitlist('c'), ...rules], undefined, { a: { quantity: 9 }, b: none, c: none });
    expect(kinds.control.kind).toBe('waitlist');
  });
  it('leads to the product where any can be bought or reserved', () => {
    for (const rules of [[notice('a')], [notice('b', 'c')], [notice('a'), preorder]])
      expect(listed(rules).control).toMatchObject({ kind: 'choose', href: '/plants/dahlia', newTab: false });
  });
  it('is what a shopper hopes for most where none can', () => {
    const away = make('away', { control: { kind: 'nothing' } });
    for (const order of [
      [notice('a'), waitlist('b'), away],
      [notice('c'), waitlist('a'), away],
    ])
      expect(listed(order).control.kind).toBe('waitlist');
    expect(listed([notice('c'), away]).control.kind).toBe('notice');
    expect(listed([away]).control.kind).toBe('nothing');
  });
  it('keeps its colours in small letters, and has none where none are said', () => {
    const look = { fill: '#AABBCC', ink: '#FFFFFF' };
    const all = make('all', { control: { kind: 'preorder', look } });
    expect(listed([all]).control.look).toEqual({ fill: '#aabbcc', ink: '#ffffff' });
    expect(listed([preorder]).control.look).toBeNull();
  });
});

describe('what else several variants say together', () => {
  it('is the notes that all of them have, and the limits only when they agree', () => {
    const note = (id: string, ids: readonly string[]) =>
      make(id, { notes: [{ place: 'belowControl', text: id }] }, ofVariants(...ids));
    const { notes } = listed([note('all', ['a', 'b', 'c']), note('two', ['a', 'b']), note('one', ['a'])]);
    expect(notes.map(({ html }) => html)).toEqual([expect.stringContaining('all')]);
    const limits = (ids: readonly string[]) => make('few', { limits: { max: 3 } }, ofVariants(...ids));
    expect(listed([limits(['a', 'b', 'c'])]).limits.max).toBe(3);
    expect(listed([limits(['a', 'b'])]).limits.max).toBeNull();
    expect(listed([limits(['b', 'c'])]).limits.max).toBeNull();
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

describe('the cart', () => {
  it('is closed by whichever line closes it, and leads where that one says', () => {
    const tree = { product: { ...product, tags: ['tree'] }, variant };
    const closed = make(
      'trees',
      { cart: { open: false, redirectTo: '/closed' } },
      { fact: 'product.tags', op: 'hasAny', value: ['tree'] },
    );
    for (const lines of [
      [{ product, variant }, tree],
      [tree, { product, variant }],
    ])
      expect(decideVisit(compile(book(closed), LISBON), guest, lines).visit.cart).toEqual({
        open: false,
        redirectTo: '/closed',
      });
    expect(decideVisit(compile(book(closed), LISBON), guest, [{ product, variant }]).visit.cart.open).toBe(true);
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
    const changes = (before: object, after: object) =>
      checkout.changes(before as never, after as never, (code) => code);
    const methods = (...hideMethods: string[]) => ({ ...button(true), hideMethods });
    expect(changes(methods('card', 'cash'), methods('cash', 'invoice', 'transfer'))).toEqual([
      'payment by invoice and transfer are hidden',
      'payment by card is shown again',
    ]);
    expect(changes(methods('card'), methods('card'))).toEqual([]);
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
