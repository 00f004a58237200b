import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LISBON, rulebook, subject } from '#tests/support/arbitraries.ts';
import { book, everything, make, product, variant } from '#tests/support/oneVariant.ts';
import { runs } from '#tests/support/sampling.ts';
import { onlyOn, tagged } from '#tests/support/planted.ts';
import { compile } from './compile.ts';
import { couldShow, type ShownControl } from './couldShow.ts';
import { decideVariants } from './decide.ts';
import { decideListing } from './listing.ts';

const both = { ...product, id: 'both', tags: ['rare'], variants: [variant, { ...variant, id: 'w' }] };
const compiled = compile(
  book(
    make(
      'list',
      { control: { kind: 'waitlist', per: 'product', onListing: { kind: 'notice', text: 'Soon' } } },
      tagged('rare'),
    ),
    make(
      'members',
      { control: { kind: 'signIn', href: '/in' } },
      {
        all: [everything, { fact: 'visitor.signedIn', op: 'is', value: false }, onlyOn('quickView')],
      },
    ),
    make('gone', { control: { kind: 'nothing' } }, { fact: 'stock.status', op: 'in', value: ['outOfStock'] }),
    make('price', { price: { show: false } }),
    make('off', { control: { kind: 'link', href: '/c' } }, everything, false),
  ),
  LISBON,
);
const shown = (more: Partial<ShownControl>): boolean =>
  couldShow(compiled, { product, variant: 'v', surface: 'product', kind: 'buy', rule: null, moment: 0, ...more });

describe('what a page could show', () => {
  it.each<[string, Partial<ShownControl>]>([
    ['the shop’s own button', {}],
    ['a rule for the product', { product: both, kind: 'waitlist', rule: 'list' }],
    ['the same of the product as a whole', { product: both, variant: null, kind: 'waitlist', rule: 'list' }],
    ['its other control on listings', { product: both, surface: 'listing', kind: 'notice', rule: 'list' }],
    ['a choice of several variants', { product: both, surface: 'listing', kind: 'choose', rule: 'list' }],
    ['a rule for some people, on its surface', { surface: 'quickView', kind: 'signIn', rule: 'members' }],
    ['a rule about stock, which changes', { kind: 'nothing', rule: 'gone' }],
  ])('is %s', (_name, more) => {
    expect(shown(more)).toBe(true);
  });

  it.each<[string, Partial<ShownControl>]>([
    ['another kind than the rule’s', { product: both, kind: 'quote', rule: 'list' }],
    ['a stand-in that no rule decided', { kind: 'waitlist' }],
    ['a rule for other products', { kind: 'waitlist', rule: 'list' }],
    ['a rule of another surface', { surface: 'listing', kind: 'signIn', rule: 'members' }],
    ['the listing’s control on the product’s page', { product: both, kind: 'notice', rule: 'list' }],
    ['a choice of one variant', { surface: 'listing', kind: 'choose' }],
    ['a choice on the product’s page', { product: both, kind: 'choose' }],
    ['a rule that is off', { kind: 'link', rule: 'off' }],
    ['a rule that says nothing of the control', { kind: 'buy', rule: 'price' }],
    ['a rule that is not there', { kind: 'buy', rule: 'none' }],
    ['a variant that is not there', { variant: 'x' }],
  ])('is not %s', (_name, more) => {
    expect(shown(more)).toBe(false);
  });

  it('is whatever is decided, for anybody at any time', () => {
    fc.assert(
      fc.property(rulebook, subject, (rules, { product: one, surface, ...seen }) => {
        const generated = compile(rules, LISBON);
        const decisions = decideVariants(generated, one, { ...seen, surface });
        const whole = surface === 'listing' ? [decideListing(decisions, one, seen.visitor.locale, LISBON)] : [];
        for (const { variantId, control, reasons } of [...decisions, ...whole]) {
          const { moment } = seen;
          const kind = control.kind;
          const rule = reasons.control[0] ?? null;
          expect(couldShow(generated, { product: one, variant: variantId, surface, kind, rule, moment })).toBe(true);
        }
      }),
      runs(2000),
    );
  });
});
