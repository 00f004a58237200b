import { expect, it } from 'vitest';
import { LISBON } from '#tests/support/arbitraries.ts';
import { book, guest, make, product, variant } from '#tests/support/oneVariant.ts';
import { compile } from '../engine/compile.ts';
import { fulfils, evaluateSpotCheck } from './spotCheck.ts';

const small = { ...variant, id: 'small' };
const dahlia = { ...product, variants: [small, variant] };
const rulebook = compile(
  book(make('r', { control: { kind: 'nothing' } }, { fact: 'variant.id', op: 'in', value: ['small'] })),
  LISBON,
);
const by = { visitor: { name: 'Guest', signedIn: false, roles: [] }, at: null };
const on = (surface: 'product' | 'listing') =>
  evaluateSpotCheck(rulebook, { ...by, surface }, { product: dahlia, variant: small }, guest.moment);

it('a spot check sees a variant on its page, and on listings what is shown of its product', () => {
  expect(on('product').kind).toBe('nothing');
  expect(on('listing').kind).toBe('choose');
  expect(fulfils({ kind: 'nothing', label: null, priceShown: null }, on('product'))).toBe(true);
  expect(fulfils({ kind: 'nothing', label: null, priceShown: null }, on('listing'))).toBe(false);
});
