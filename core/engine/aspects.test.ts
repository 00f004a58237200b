import type { Condition } from '../rulebook/condition.ts';
import { describe, expect, it } from 'vitest';
import { LISBON } from '#tests/support/arbitraries.ts';
import { book, decided, everything, guest, make, product, variant } from '#tests/support/oneVariant.ts';
import type { Control } from '../aspects/control.ts';
import type { Price } from '../aspects/price.ts';
import type { Rule } from '../rulebook/rulebook.ts';
import { compile } from './compile.ts';
import { adjusted } from '../aspects/price.ts';
import { trace } from './trace.ts';
import { decideVisit } from './visit.ts';

const note = (text: string, place: 'belowControl' | 'badge' = 'belowControl') => ({ place, text });
const member: Condition = { fact: 'visitor.roles', op: 'hasAny', value: ['member'] };
const ofControl = (control: Control, more?: Parameters<typeof decided>[1]) => decided([make('r', { control })], more);

describe('notes and style', () => {
  const rules = [
    make('a', { notes: [note('**One** <b>'), note('badge', 'badge')], style: ['rare', 'new'] }),
    make('off', { notes: [note('never')] }, everything, false),
    make('b', { notes: [note('Two')], style: ['new', 'sold-out'] }),
    make('c', { notes: [note('Three')] }),
  ];
  it('gather from all rules that count, in order, as safe HTML; a style once', () => {
    expect(decided(rules)).toMatchObject({
      notes: [
        { place: 'belowControl', html: '<strong>One</strong> &lt;b&gt;' },
        { place: 'badge', html: 'badge' },
        { place: 'belowControl', html: 'Two' },
        { place: 'belowControl', html: 'Three' },
      ],
      style: ['rare', 'new', 'sold-out'],
      reasons: { notes: ['a', 'b', 'c'], style: ['a', 'b'] },
    });
  });
  it('gather up to a rule that says so, and the trace tells who came too late', () => {
    const [a, off, b, c] = rules as [Rule, Rule, Rule, Rule];
    const until = [a, off, { ...b, gather: false }, c];
    expect(decided(until)).toMatchObject({ reasons: { notes: ['a', 'b'], style: ['a', 'b'] } });
    expect(trace(compile(book(...until), LISBON), guest)[3]).toMatchObject({ decided: [], lost: ['notes'] });
    const onlyNotes = [{ ...c, gather: false }, a];
    expect(decided(onlyNotes)).toMatchObject({ reasons: { notes: ['r', 'c'].slice(1), style: ['a'] } });
  });

  const notes = [note('Ships in May')];
  const preorder = make('preorder', { control: { kind: 'preorder' }, notes, afterOrder: { text: 'Thanks' } });
  const nothing = make('nothing', { control: { kind: 'nothing' } });
  const product = make('product', { notes: [note('Hardy')], afterOrder: { text: 'Water it' } });
  it('stand only with the control of their rule, and so does what is said after the order', () => {
    expect(decided([preorder, product])).toMatchObject({
      notes: [{ html: 'Ships in May' }, { html: 'Hardy' }],
      afterOrder: { html: 'Thanks' },
    });
    const below = decided([nothing, { ...preorder, gather: false }, product]);
    expect(below).toMatchObject({
      notes: [{ html: 'Hardy' }],
      afterOrder: { html: 'Water it' },
      reasons: { control: ['nothing'], notes: ['product'], afterOrder: ['product'] },
    });
    expect(trace(compile(book(nothing, preorder, product), LISBON), guest)[1]).toMatchObject({
      outcome: 'counts',
      decided: [],
      lost: ['control', 'notes', 'afterOrder'],
    });
  });
  it('that lost their control change nothing when their rule’s time comes', () => {
    const later = {
      ...preorder,
      when: { all: [everything, { fact: 'moment', op: 'between', value: { from: '2099-01-01' } }] },
    };
    expect(decided([nothing, later as Rule]).validUntil).toBeNull();
  });
  it('that count the units left are silent where none are offered', () => {
    const counting = [note('{preorder.left, plural, one {# unit} other {# units}} left'), note('In May')];
    const capped = { kind: 'preorder', cap: { units: 5, per: 'variant' }, atCap: 'close', closedText: 'Gone' } as const;
    const taken = { variant: { ...variant, reserved: 5 } };
    expect(decided([make('r', { control: capped, notes: counting })]).notes).toMatchObject([
      { html: '5 units left' },
      {},
    ]);
    expect(decided([make('r', { control: capped, notes: counting })], taken).notes).toMatchObject([{ html: 'In May' }]);
    expect(decided([make('r', { notes: counting })]).notes).toMatchObject([{ html: 'In May' }]);
  });
});

describe('the price', () => {
  const of = (price: Price, more?: Parameters<typeof decided>[1]) => decided([make('r', { price })], more).price;
  it('has what it was, a suffix for each surface, or none of it', () => {
    expect(of({ show: true, suffix: 'per plant', onListing: { suffix: 'each' } })).toMatchObject({
      amount: 1450,
      was: 1600,
      suffix: 'per plant',
    });
    expect(of({ show: true, suffix: 'per plant', onListing: { suffix: 'each' } }, { surface: 'listing' }).suffix).toBe(
      'each',
    );
    expect(of({ show: true, onListing: { suffix: 'each' } }).suffix).toBeNull();
    expect(of({ show: true, showWas: false }).was).toBeNull();
  });
  it.each<[number, Extract<Price, { adjust: unknown }>['adjust'], number]>([
    [1450, { percent: -20 }, 1160],
    [1005, { percent: -10 }, 905],
    [1, { percent: -50 }, 1],
    [3, { percent: 50 }, 5],
    [999, { percent: -12.5 }, 874],
    [1450, { percent: -150 }, 0],
    [1450, { percent: 0 }, 1450],
    [9_007_199_254_740_991, { percent: 0 }, 9_007_199_254_740_991],
    [1450, { amount: -200 }, 1250],
    [100, { amount: -200 }, 0],
    [1450, { amount: 50 }, 1500],
    [1450, { fixed: 0 }, 0],
    [1450, { fixed: -0 }, 0],
    [0, { percent: 20 }, 0],
  ])('%d adjusted by %j is %d', (price, adjustment, amount) => {
    expect(adjusted(price, adjustment)).toBe(amount);
  });
  it('adjusted starts from the current one; what it was is the higher of the two that went before', () => {
    expect(of({ adjust: { percent: -20 } })).toMatchObject({ amount: 1160, was: 1600 });
    const never = { variant: { ...variant, priceBefore: null } };
    expect(of({ adjust: { percent: -20 } }, never)).toMatchObject({ amount: 1160, was: 1450 });
    expect(of({ adjust: { fixed: 1450 } }, never).was).toBeNull();
    expect(of({ adjust: { amount: 400 } })).toMatchObject({ amount: 1850, was: null });
  });
});

describe('the other aspects of goods', () => {
  it('are complete by default', () => {
    expect(decided([])).toMatchObject({
      notes: [],
      limits: { min: 1, max: null, step: 1 },
      visibility: { state: 'shown', redirectTo: null },
      afterOrder: null,
      style: [],
    });
  });
  it('go to the first rule that speaks to them', () => {
    const rules = [
      make('a', { limits: { min: 5, step: 5 }, afterOrder: { text: 'Thank you for *{product.title}*' } }),
      make('b', { limits: { max: 3 }, visibility: { state: 'blocked', redirectTo: '/away?from={product.id}' } }),
    ];
    expect(decided(rules)).toMatchObject({
      limits: { min: 5, max: null, step: 5 },
      visibility: { state: 'blocked', redirectTo: '/away?from=p' },
      afterOrder: { html: 'Thank you for <em>Dahlia</em>' },
      reasons: { limits: ['a'], visibility: ['b'], afterOrder: ['a'] },
    });
  });
});

describe('each kind of stand-in', () => {
  it('says all that a page needs', () => {
    expect(
      ofControl({ kind: 'preorder', cap: { units: 5, per: 'variant' }, ships: { from: '2027-05-20' } }),
    ).toMatchObject({
      control: {
        kind: 'preorder',
        label: 'Pre-order',
        left: 5,
        per: 'variant',
        ships: { from: '2027-05-20', until: null, within: null },
      },
      express: 'hide',
      availability: 'PreOrder',
    });
    expect(
      ofControl(
        { kind: 'waitlist', per: 'product', text: '{waitlist.length} wait' },
        { product: { ...product, waiting: 4 } },
      ),
    ).toMatchObject({
      control: {
        kind: 'waitlist',
        label: 'Join the waitlist',
        html: '4 wait',
        per: 'product',
        length: 4,
        account: 'optional',
      },
      availability: 'OutOfStock',
    });
    expect(
      ofControl({ kind: 'enquiry', form: { page: '/contact?about={product.id}' }, open: 'dialog' }).control,
    ).toMatchObject({
      form: { page: '/contact?about=p' },
      open: 'dialog',
      place: null,
    });
    expect(ofControl({ kind: 'ownPrice', min: 100 }).control).toMatchObject({ min: 100, suggested: null });
    expect(ofControl({ kind: 'quote', label: 'Ask us' }).control).toMatchObject({ kind: 'quote', label: 'Ask us' });
    expect(ofControl({ kind: 'severalAtOnce' }).control).toMatchObject({
      kind: 'severalAtOnce',
      label: 'Add all to cart',
    });
  });
  it('beside the button leaves express pay and availability alone, and looks as it is told', () => {
    expect(ofControl({ kind: 'link', href: '/x', beside: true, look: { fill: '#16323a' } })).toMatchObject({
      control: { beside: true, look: { fill: '#16323a', ink: null } },
      express: 'show',
      availability: 'InStock',
    });
  });
});

describe('what is said to those who are signed in', () => {
  const control: Control = { kind: 'signIn', href: '/in', label: 'Sign in', join: { href: '/join?for={product.id}' } };
  const signedIn = { visitor: { ...guest.visitor, signedIn: true } };
  it('is where to join, and to guests where to sign in', () => {
    expect(ofControl(control).control).toMatchObject({ kind: 'signIn', label: 'Sign in', href: '/in' });
    expect(ofControl(control, signedIn).control).toMatchObject({ label: 'See how to join', href: '/join?for=p' });
    const worded: Control = { ...control, join: { href: '/join', label: { en: 'Join us' } } };
    expect(ofControl(worded, signedIn).control).toMatchObject({ label: 'Join us', href: '/join' });
    const { join: _join, ...plain } = control;
    expect(ofControl(plain, signedIn).control).toMatchObject({ label: 'Sign in', href: '/in' });
  });
  it('of a waitlist for accounts is where they are had', () => {
    const list: Control = {
      kind: 'waitlist',
      per: 'product',
      account: 'required',
      signInAt: '/in?back={product.path}',
    };
    expect(ofControl(list).control).toMatchObject({ account: 'required', signInAt: '/in?back=/plants/dahlia' });
  });
});

describe('the cap of a pre-order', () => {
  const cap = { units: 10, per: 'variant' } as const;
  const reserved = (units: number, elsewhere = 0) => {
    const capped = { ...variant, reserved: units };
    return {
      variant: capped,
      product: { ...product, variants: [capped, { ...variant, id: 'w', reserved: elsewhere }] },
    };
  };
  const open = make('open', { control: { kind: 'preorder', cap }, notes: [note('{preorder.left} left')] });
  const below = make('below', { control: { kind: 'notice', text: 'Gone' } });

  it('counts what is left, for the variant or for all of them together', () => {
    expect(decided([open], reserved(7, 9))).toMatchObject({ control: { left: 3 }, notes: [{ html: '3 left' }] });
    const together = make('r', { control: { kind: 'preorder', cap: { units: 10, per: 'product' } } });
    expect(decided([together], reserved(4, 3)).control).toMatchObject({ left: 3 });
  });
  it('reached, the whole rule no longer counts, and the trace says so', () => {
    expect(decided([open, below], reserved(10))).toMatchObject({
      control: { kind: 'notice', html: 'Gone' },
      notes: [],
      reasons: { control: ['below'] },
    });
    expect(trace(compile(book(open), LISBON), { ...guest, ...reserved(11) })[0]).toMatchObject({
      outcome: 'atCap',
      decided: [],
      leaves: [{ matched: true }],
    });
  });
  it('reached, it closes where the rule says so', () => {
    const closing = make('closing', {
      control: { kind: 'preorder', cap, atCap: 'close', closedText: 'All **taken**' },
      notes: [note('stays')],
    });
    expect(decided([closing, below], reserved(10))).toMatchObject({
      control: { kind: 'notice', html: 'All <strong>taken</strong>' },
      notes: [{ html: 'stays' }],
      availability: 'OutOfStock',
    });
  });
  it('is that of the stand-in on the surface', () => {
    const listing = make('r', { control: { kind: 'quote', onListing: { kind: 'preorder', cap } } });
    expect(decided([listing], { ...reserved(10), surface: 'listing' }).control.kind).toBe('buy');
    expect(decided([listing], reserved(10)).control.kind).toBe('quote');
  });
});

describe('a visit', () => {
  const paused = make('paused', { cart: { open: false, redirectTo: '/closed' }, checkout: { open: false } });
  const trees: Condition = { fact: 'product.tags', op: 'hasAny', value: ['tree'] };
  const guests = { all: [everything, { fact: 'visitor.signedIn', op: 'is', value: false } as const] };
  const tree = { product: { ...product, tags: ['tree'] }, variant };
  const dahlia = { product, variant };
  const of = (rules: readonly Rule[], lines: { product: typeof product; variant: typeof variant }[]) =>
    decideVisit(compile(book(...rules), LISBON), guest, lines).visit;

  it('is open by default', () => {
    expect(of([], [])).toEqual({
      cart: { open: true, redirectTo: null },
      checkout: { open: true, redirectTo: null, submitOrder: { show: true, text: null }, hideMethods: [] },
      reasons: { cart: [], checkout: [] },
    });
  });
  it('“everything” closes it also when the cart is empty; goods that are not there do not', () => {
    expect(of([{ ...paused, when: guests }], [])).toMatchObject({
      cart: { open: false, redirectTo: '/closed' },
      checkout: { open: false },
      reasons: { cart: ['paused'] },
    });
    expect(of([{ ...paused, when: trees }], []).cart.open).toBe(true);
  });
  it('the strictest of its lines wins', () => {
    const rules = [
      make('trees', { checkout: { submitOrder: { show: false, text: 'Collect *it*' }, hideMethods: ['card'] } }, trees),
      make('all', { checkout: { open: true, hideMethods: ['invoice'] } }),
    ];
    for (const lines of [
      [tree, dahlia],
      [dahlia, tree],
    ]) {
      const { checkout, reasons } = of(rules, lines);
      expect(checkout).toMatchObject({ open: true, submitOrder: { show: false, text: 'Collect <em>it</em>' } });
      expect(checkout.hideMethods.toSorted()).toEqual(['card', 'invoice']);
      expect(reasons.checkout.toSorted()).toEqual(['all', 'trees']);
    }
  });
  it('says until when', () => {
    const night: Condition = { fact: 'moment', op: 'between', value: { until: '2027-01-01' } };
    const { validUntil } = decideVisit(
      compile(book({ ...paused, when: { all: [everything, night, { none: [member] }] } }), LISBON),
      guest,
      [],
    );
    expect(validUntil).toBe('2027-01-01T00:00:00.000+00:00');
    // Of several lines, the earliest.
    const until = (date: string): Condition => ({ fact: 'moment', op: 'between', value: { until: date } });
    const both = book(
      { ...paused, when: { all: [trees, until('2027-03-01')] } },
      make('all', { cart: { open: true } }, { all: [everything, until('2027-02-01')] }),
    );
    for (const lines of [
      [tree, dahlia],
      [dahlia, tree],
    ])
      expect(decideVisit(compile(both, LISBON), guest, lines).validUntil).toBe('2027-02-01T00:00:00.000+00:00');
  });
});
