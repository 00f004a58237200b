import { describe, expect, it } from 'vitest';
import type { Visit } from './decision.ts';
import { visitChanges } from './visit.ts';

const OPEN: Visit = {
  cart: { open: true, redirectTo: null },
  checkout: { open: true, redirectTo: null, submitOrder: { show: true, text: null }, hideMethods: [] },
  reasons: { cart: [], checkout: [] },
};
const checkout = (more: Partial<Visit['checkout']>): Visit => ({ ...OPEN, checkout: { ...OPEN.checkout, ...more } });
const NAMES: Readonly<Record<string, string>> = { card: 'Card', invoice: 'Invoice' };
const changeTexts = (before: Visit, after: Visit) => visitChanges(before, after, (code) => NAMES[code] ?? code);

describe('what changes of a visit', () => {
  it.each([
    ['nothing', OPEN, OPEN, []],
    ['the cart', OPEN, { ...OPEN, cart: { open: false, redirectTo: null } }, ['the cart closes']],
    [
      'where a closed checkout leads',
      checkout({ open: false }),
      checkout({ open: false, redirectTo: '/away' }),
      ['the page of the closed checkout leads to /away'],
    ],
    ['the checkout again', checkout({ open: false }), OPEN, ['the checkout opens']],
    [
      'the order button',
      OPEN,
      checkout({ submitOrder: { show: false, text: '<p>Telephone <b>us</b></p>' } }),
      ['the order button is hidden, with “Telephone us” in its place'],
    ],
    [
      'methods',
      checkout({ hideMethods: ['card'] }),
      checkout({ hideMethods: ['invoice', 'cheque'] }),
      ['payment by Invoice and cheque are hidden', 'payment by Card is shown again'],
    ],
  ])('%s', (_what, before, after, words) => {
    expect(changeTexts(before, after)).toEqual(words);
  });
});
