import { describe, expect, it } from 'vitest';
import { LISBON } from '#tests/support/arbitraries.ts';
import { book, everything, guest, make, product, variant } from '#tests/support/oneVariant.ts';
import type { Outcome } from '../aspects/outcome.ts';
import type { Rule } from '../rulebook/rulebook.ts';
import type { RefusalCode } from '../texts/defaultTexts.ts';
import { compile } from './compile.ts';
import { guardLines, guardOrder, type OfferedLine, type Via } from './guard.ts';

const small = { ...variant, id: 'small', reserved: 8 };
const large = { ...variant, id: 'large', reserved: 1 };
const endless = { ...variant, id: 'endless', stock: { tracked: false, quantity: 0, sellPastZero: false } };
const gone = { ...variant, id: 'gone', stock: { tracked: true, quantity: 0, sellPastZero: false } };
const both = { ...product, variants: [small, large, endless, gone] };
const goods = new Map(both.variants.map((variant) => [variant.id, { product: both, variant }]));

function verdicts(then: Outcome | null, lines: readonly OfferedLine[], via: Via = 'cart') {
  const rulebook = compile(book(...(then ? [make('r', then)] : [])), LISBON);
  return guardLines(rulebook, { via, visitor: guest.visitor, moment: guest.moment }, lines, (id) => goods.get(id))
    .lines;
}
const line = (variantId: string, quantity = 1, unitPrice?: number): OfferedLine => ({ variantId, quantity, unitPrice });
const codes = (...[then, lines, via]: Parameters<typeof verdicts>) =>
  verdicts(then, lines, via).map(({ refusal }) => refusal);

type Row = [what: string, then: Outcome | null, line: OfferedLine, refusal: RefusalCode | null];
const rows: Row[] = [
  ['a plain purchase', null, line('small', 2), null],
  ['more than there is', null, line('small', 3), 'notEnoughStock'],
  ['no quantity', null, line('small', 0), 'badQuantity'],
  ['half of one', null, line('small', 0.5), 'badQuantity'],
  ['more than any shop sells', null, line('endless', 1_000_001), 'badQuantity'],
  ['what nobody knows', null, line('none'), 'unknownVariant'],
  ['goods that do not count stock', null, line('endless', 500), null],
  ['what only leads elsewhere', { control: { kind: 'link', href: '/x' } }, line('endless'), 'notForSale'],
  ['a link beside the button', { control: { kind: 'link', href: '/x', beside: true } }, line('endless'), null],
  [
    'a link, bought on the listing',
    { control: { kind: 'link', href: '/x', onListing: { kind: 'buy' } } },
    line('endless'),
    null,
  ],
  ['what asks to sign in', { control: { kind: 'signIn', href: '/in' } }, line('endless'), 'signInFirst'],
  ['a waitlist', { control: { kind: 'waitlist', per: 'variant' } }, line('endless'), 'notForSale'],
  ['a quote', { control: { kind: 'quote' } }, line('endless'), 'notForSale'],
  ['an enquiry', { control: { kind: 'enquiry', form: 'contact', open: 'inline' } }, line('endless'), 'notForSale'],
  ['several at once', { control: { kind: 'severalAtOnce' } }, line('endless', 4), null],
  ['a pre-order of what is out', { control: { kind: 'preorder' } }, line('gone', 40), null],
  [
    'the last units of a cap',
    { control: { kind: 'preorder', cap: { units: 10, per: 'variant' } } },
    line('small', 2),
    null,
  ],
  [
    'more than the cap',
    { control: { kind: 'preorder', cap: { units: 10, per: 'variant' } } },
    line('small', 3),
    'capReached',
  ],
  [
    'more than the cap of all',
    { control: { kind: 'preorder', cap: { units: 10, per: 'product' } } },
    line('large', 2),
    'capReached',
  ],
  [
    'a pre-order that closed',
    { control: { kind: 'preorder', cap: { units: 8, per: 'variant' }, atCap: 'close', closedText: 'Gone' } },
    line('small'),
    'notForSale',
  ],
  ['one’s own price', { control: { kind: 'ownPrice', min: 100 } }, line('endless', 1, 100), null],
  ['too low a price', { control: { kind: 'ownPrice', min: 100 } }, line('endless', 1, 99), 'priceTooLow'],
  ['no whole price', { control: { kind: 'ownPrice' } }, line('endless', 1, 9.5), 'priceTooLow'],
  ['the decided price', { price: { adjust: { percent: -20 } } }, line('endless', 1, 1160), null],
  ['the price before it changed', { price: { adjust: { percent: -20 } } }, line('endless', 1, 1450), 'priceChanged'],
  ['a hidden price', { price: { show: false } }, line('endless', 1, 1450), null],
  ['a blocked page', { visibility: { state: 'blocked' } }, line('endless'), 'notForSale'],
  ['what is only off listings', { visibility: { state: 'offListings' } }, line('endless'), null],
  ['too few', { limits: { min: 5, step: 5 } }, line('endless', 4), 'belowMinimum'],
  ['enough', { limits: { min: 5, step: 5 } }, line('endless', 10), null],
  ['between steps', { limits: { min: 5, step: 5 } }, line('endless', 12), 'wrongStep'],
  ['too many', { limits: { max: 3 } }, line('endless', 4), 'aboveMaximum'],
  ['a closed cart', { cart: { open: false } }, line('endless'), 'cartClosed'],
];

describe('the guard', () => {
  it.each(rows)('of %s', (_what, then, offered, refusal) => {
    expect(codes(then, [offered])).toEqual([refusal]);
  });

  it('asks nobody to sign in who is', () => {
    const rulebook = compile(book(make('r', { control: { kind: 'signIn', href: '/in' } })), LISBON);
    const refusal = (signedIn: boolean) =>
      guardLines(
        rulebook,
        { via: 'cart', visitor: { ...guest.visitor, signedIn }, moment: guest.moment },
        [line('endless')],
        (id) => goods.get(id),
      ).lines[0]?.refusal;
    expect([refusal(false), refusal(true)]).toEqual(['signInFirst', 'membersOnly']);
  });

  it('lets whoever has their turn have as many as it is for', () => {
    const list = make(
      'r',
      { control: { kind: 'waitlist', per: 'variant' } },
      {
        all: [everything, { fact: 'visitor.invited', op: 'is', value: false }],
      },
    );
    const refusals = (units: number | null, wanted: number, rules: Rule[] = [list]) => {
      const invitations = [{ to: 'variant' as const, id: 'endless', until: null, units }];
      const context = { via: 'cart' as const, visitor: { ...guest.visitor, invitations }, moment: guest.moment };
      const lines = [line('endless', wanted - 1), line('endless')];
      return guardLines(compile(book(...rules), LISBON), context, lines, (id) => goods.get(id)).lines.map(
        ({ refusal }) => refusal,
      );
    };
    expect(refusals(2, 2)).toEqual([null, null]);
    expect(refusals(2, 3)).toEqual(['moreThanInvited', 'moreThanInvited']);
    expect(refusals(null, 300)).toEqual([null, null]);
    // An invitation never takes away what anybody may buy.
    expect(refusals(2, 3, [])).toEqual([null, null]);
  });

  it('counts what all lines together want', () => {
    expect(codes(null, [line('small'), line('small', 2)])).toEqual(['notEnoughStock', 'notEnoughStock']);
    expect(codes({ limits: { max: 3 } }, [line('endless', 2), line('endless', 2)])).toEqual([
      'aboveMaximum',
      'aboveMaximum',
    ]);
    const cap = { control: { kind: 'preorder', cap: { units: 11, per: 'product' } } } as const;
    expect(codes(cap, [line('small'), line('large')])).toEqual([null, null]);
    expect(codes(cap, [line('small', 2), line('large')])).toEqual(['capReached', 'capReached']);
  });

  it('by express lets through where express pay is shown, and not else', () => {
    expect(codes(null, [line('endless')], 'express')).toEqual([null]);
    expect(codes({ control: { kind: 'preorder' } }, [line('endless')], 'express')).toEqual(['noExpress']);
    expect(codes({ express: 'hide' }, [line('endless')], 'express')).toEqual(['noExpress']);
    expect(codes({ control: { kind: 'nothing' }, express: 'show' }, [line('endless')], 'express')).toEqual([null]);
  });

  it('sends nobody from express pay to a cart that refuses too', () => {
    const gone: Outcome[] = [{ control: { kind: 'nothing' } }, { control: { kind: 'waitlist', per: 'variant' } }];
    for (const then of gone) expect(codes(then, [line('endless')], 'express')).toEqual(['notForSale']);
    expect(codes({ control: { kind: 'signIn', href: '/in' } }, [line('endless')], 'express')).toEqual(['signInFirst']);
    expect(codes({ express: 'hide' }, [line('gone')], 'express')).toEqual(['notEnoughStock']);
  });

  describe('by order', () => {
    const order = (then: Outcome, lines: readonly OfferedLine[], method?: string) => {
      const seen = { visitor: guest.visitor, moment: guest.moment, method };
      const verdict = guardOrder(compile(book(make('r', then)), LISBON), seen, lines, (id) => goods.get(id));
      return [verdict.refusal, ...verdict.lines.map(({ refusal }) => refusal)];
    };
    const byExpress = { ...line('endless'), via: 'express' } as const;

    it('judges each line by the way it came in', () => {
      expect(order({ control: { kind: 'nothing' }, express: 'show' }, [byExpress, line('endless')])).toEqual([
        null,
        null,
        'notForSale',
      ]);
      expect(order({ express: 'hide' }, [line('endless'), byExpress])).toEqual([null, null, 'noExpress']);
    });
    it.each([
      ['a checkout that is closed', { open: false }, 'card', 'checkoutClosed'],
      ['an order button that is hidden', { submitOrder: { show: false } }, 'card', 'orderWithheld'],
      ['a method that is hidden', { hideMethods: ['card'] }, 'card', 'methodWithheld'],
      ['another method', { hideMethods: ['card'] }, 'invoice', null],
      ['a method that is not named', { hideMethods: ['card'] }, undefined, null],
    ] as const)('%s', (_what, checkout, method, refusal) => {
      expect(order({ checkout } as Outcome, [line('endless')], method)).toEqual([refusal, null]);
      expect(order({ checkout, express: 'show' } as Outcome, [byExpress], method)).toEqual([refusal, null]);
    });
    it('asks the checkout about the checkout, and the cart about the cart', () => {
      const only = (surface: 'cart' | 'checkout', then: Outcome) => {
        const rule = {
          ...make('r', then),
          when: { all: [everything, { fact: 'surface', op: 'in', value: [surface] }] },
        };
        const seen = { visitor: guest.visitor, moment: guest.moment, method: undefined };
        const book1 = compile(book(rule as Rule), LISBON);
        const { refusal, lines } = guardOrder(book1, seen, [line('endless')], (id) => goods.get(id));
        return [refusal, lines[0]?.refusal];
      };
      expect(only('checkout', { checkout: { open: false } })).toEqual(['checkoutClosed', null]);
      expect(only('cart', { checkout: { open: false } })).toEqual([null, null]);
      expect(only('cart', { cart: { open: false } })).toEqual([null, 'cartClosed']);
    });
  });

  it('says the price it may be sold at', () => {
    const price = (then: Outcome, unitPrice?: number) => verdicts(then, [line('endless', 1, unitPrice)])[0]?.unitPrice;
    expect(price({ price: { adjust: { fixed: 900 } } }, 1)).toBe(900);
    expect(price({ control: { kind: 'ownPrice', suggested: 300 } })).toBe(300);
    expect(price({ control: { kind: 'ownPrice', suggested: 300 } }, 250)).toBe(250);
  });
});
