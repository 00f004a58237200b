import { describe, expect, it } from 'vitest';
import { LISBON } from '#tests/support/arbitraries.ts';
import { book, everything, guest, make, product, variant } from '#tests/support/oneVariant.ts';
import type { Outcome } from '../aspects/outcome.ts';
import type { VisitorFacts } from '../model/subject.ts';
import type { Rule } from '../rulebook/rulebook.ts';
import { compile } from './compile.ts';
import { guardLines, guardOrder, type OfferedLine, type QuotedLine } from './guard.ts';

const endless = { ...variant, id: 'endless', stock: { tracked: false, quantity: 0, sellPastZero: false } };
const other = { ...endless, id: 'other' };
const both = { ...product, variants: [endless, other] };
const goods = new Map(both.variants.map((one) => [one.id, { product: both, variant: one }]));
const goodsOf = (id: string) => goods.get(id);
const line = (variantId: string, quantity: number, unitPrice?: number): OfferedLine => ({
  variantId,
  quantity,
  unitPrice,
});

describe('what was quoted', () => {
  const quoted = new Map<string, QuotedLine>([['endless', { units: 5, unitPrice: 900 }]]);
  const ask = (then: Outcome, lines: readonly OfferedLine[], via: 'cart' | 'express' = 'cart') =>
    guardLines(
      compile(book(make('r', then)), LISBON),
      { via, visitor: guest.visitor, moment: guest.moment, quoted },
      lines,
      goodsOf,
    ).lines.map(({ refusal, unitPrice, isPriceHidden }) => [refusal, unitPrice, isPriceHidden]);
  const hidden: Outcome = { control: { kind: 'quote' }, price: { show: false } };

  it('is sold at its price, whatever the page shows, up to its units', () => {
    expect(ask(hidden, [line('endless', 5)])).toEqual([[null, 900, false]]);
    expect(ask(hidden, [line('endless', 5, 900)])).toEqual([[null, 900, false]]);
    expect(ask(hidden, [line('endless', 5, 1450)])).toEqual([['priceChanged', 900, false]]);
    expect(ask(hidden, [line('endless', 6)])).toEqual([['notForSale', 1450, true]]);
    expect(ask(hidden, [line('endless', 3), line('endless', 3)])).toEqual([
      ['notForSale', 1450, true],
      ['notForSale', 1450, true],
    ]);
    expect(ask(hidden, [line('endless', 0.5)])).toEqual([['badQuantity', 1450, true]]);
  });
  it('is that variant, and comes by the cart', () => {
    expect(ask(hidden, [line('other', 1)])).toEqual([['notForSale', 1450, true]]);
    expect(ask({ express: 'hide' }, [line('endless', 1)], 'express')).toEqual([['noExpress', 1450, false]]);
  });
  it('is not sold where the cart is closed', () => {
    expect(ask({ ...hidden, cart: { open: false } }, [line('endless', 1)])).toEqual([['cartClosed', 900, false]]);
  });
});

describe('an invitation', () => {
  type Invitation = VisitorFacts['invitations'][number];
  const list = make(
    'r',
    { control: { kind: 'waitlist', per: 'variant' } },
    { all: [everything, { fact: 'visitor.invited', op: 'is', value: false }] },
  );
  const refusal = (invitations: readonly Invitation[], quantity: number, rules: readonly Rule[] = [list]) =>
    guardLines(
      compile(book(...rules), LISBON),
      { via: 'cart', visitor: { ...guest.visitor, invitations: [...invitations] }, moment: guest.moment },
      [line('endless', quantity)],
      goodsOf,
    ).lines[0]?.refusal;
  const of = (more: Partial<Invitation>): Invitation => ({
    to: 'variant',
    id: 'endless',
    until: null,
    units: 2,
    ...more,
  });

  it('of another variant, another product or a time that is over is for none of these', () => {
    expect(refusal([of({}), of({ id: 'other', units: 9 })], 3)).toBe('moreThanInvited');
    expect(refusal([of({}), of({ to: 'product', id: 'p', units: 9 })], 3)).toBeNull();
    expect(refusal([of({}), of({ to: 'product', id: 'another', units: 9 })], 3)).toBe('moreThanInvited');
    expect(refusal([of({}), of({ until: guest.moment, units: 9 })], 3)).toBe('moreThanInvited');
    expect(refusal([of({}), of({ until: guest.moment + 1, units: 9 })], 3)).toBeNull();
    expect(refusal([of({ until: guest.moment })], 1)).toBe('notForSale');
  });
  it('takes nothing from what anybody may buy on one of the surfaces', () => {
    const onPages: Rule = {
      ...list,
      when: { all: [list.when, { fact: 'surface', op: 'in', value: ['product'] }] },
    };
    expect(refusal([of({})], 3, [onPages])).toBeNull();
  });
  it('is never what a refusal for another reason turns into', () => {
    expect(refusal([of({})], 3, [make('max', { limits: { max: 1 } }), list])).toBe('aboveMaximum');
  });
});

describe('a line', () => {
  const verdict = (then: Outcome, offered: OfferedLine, more: Partial<typeof variant> = {}) => {
    const one = { ...endless, ...more };
    const context = { via: 'cart', visitor: guest.visitor, moment: guest.moment } as const;
    const [found] = guardLines(compile(book(make('r', then)), LISBON), context, [offered], (id) =>
      id === 'endless' ? { product: both, variant: one } : undefined,
    ).lines;
    return found!;
  };

  it('of nothing that is known has no price, and hides none', () => {
    expect(verdict({}, line('none', 1))).toEqual({
      refusal: 'unknownVariant',
      unitPrice: null,
      isPriceHidden: false,
      decision: null,
    });
  });
  it('tells whether the page hides its price', () => {
    expect(verdict({ price: { show: false } }, line('endless', 1)).isPriceHidden).toBe(true);
    expect(verdict({}, line('endless', 1)).isPriceHidden).toBe(false);
  });
  it('may have as many as the most, and steps from the least', () => {
    expect(verdict({ limits: { max: 3 } }, line('endless', 3)).refusal).toBeNull();
    const steps: Outcome = { limits: { min: 2, step: 3 } };
    expect(verdict(steps, line('endless', 5)).refusal).toBeNull();
    expect(verdict(steps, line('endless', 4)).refusal).toBe('wrongStep');
  });
  it('is for a signed-in visitor refused for its own reason', () => {
    const context = { via: 'cart', visitor: { ...guest.visitor, signedIn: true }, moment: guest.moment } as const;
    const of = (then: Outcome) =>
      guardLines(compile(book(make('r', then)), LISBON), context, [line('endless', 1)], goodsOf).lines[0]?.refusal;
    expect(of({ control: { kind: 'nothing' } })).toBe('notForSale');
    expect(of({ control: { kind: 'signIn', href: '/in' } })).toBe('membersOnly');
  });
  it('is decided by the listing where only the listing sells it', () => {
    const onPages: Rule = {
      ...make('r', { control: { kind: 'nothing' }, price: { adjust: { fixed: 700 } } }),
      when: { all: [everything, { fact: 'surface', op: 'in', value: ['product'] }] },
    };
    const context = { via: 'cart', visitor: guest.visitor, moment: guest.moment } as const;
    const [found] = guardLines(compile(book(onPages), LISBON), context, [line('endless', 1)], goodsOf).lines;
    expect(found).toMatchObject({ refusal: null, unitPrice: 1450, decision: { surface: 'listing' } });
  });
});

describe('an order', () => {
  it('tells what was decided of cart and checkout, and by which rules, for what is in it', () => {
    const trees: Rule['when'] = { fact: 'product.tags', op: 'hasAny', value: ['tree'] };
    const tree = { product: { ...both, id: 'tree', tags: ['tree'] }, variant: { ...endless, id: 'oak' } };
    const rulebook = compile(
      book(
        make('cart', { cart: { open: false, redirectTo: '/closed' } }, trees),
        make('methods', { checkout: { hideMethods: ['card'] } }, trees),
      ),
      LISBON,
    );
    const order = (id: string) =>
      guardOrder(rulebook, { visitor: guest.visitor, moment: guest.moment, method: 'card' }, [line(id, 1)], (asked) =>
        asked === 'oak' ? tree : goods.get(asked),
      );
    expect(order('oak')).toMatchObject({
      refusal: 'methodWithheld',
      lines: [{ refusal: 'cartClosed' }],
      visit: {
        cart: { open: false, redirectTo: '/closed' },
        checkout: { open: true, hideMethods: ['card'] },
        reasons: { cart: ['cart'], checkout: ['methods'] },
      },
    });
    expect(order('endless')).toMatchObject({
      refusal: null,
      visit: { cart: { open: true }, checkout: { hideMethods: [] }, reasons: { cart: [], checkout: [] } },
    });
    // An unknown variant counts towards no cart rule.
    expect(order('none').visit.cart.open).toBe(true);
  });
});
