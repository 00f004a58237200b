import { compile } from '#core/engine/compile.ts';
import { decide } from '#core/engine/decide.ts';
import type { Decision } from '#core/engine/decision.ts';
import type { ProductSubject, ProductFacts, VariantFacts } from '#core/model/subject.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { LISBON, type PlainRulebook } from './arbitraries.ts';

export const book = (...rules: Rule[]): PlainRulebook => ({ format: 'understudy-rulebook', version: 1, rules });
export const everything = { fact: 'product', op: 'every', value: true } as const;
export const make = (id: string, then: Rule['then'], when: Rule['when'] = everything, on = true): Rule => ({
  id,
  on,
  when,
  then,
});

export const variant: VariantFacts = {
  id: 'v',
  title: '3 tubers',
  options: {},
  price: 1450,
  priceBefore: 1600,
  stock: { tracked: true, quantity: 2, sellPastZero: false },
  reserved: 0,
  waiting: 0,
};
export const product: ProductFacts = {
  id: 'p',
  brand: null,
  kind: null,
  seller: null,
  grams: null,
  attributes: {},
  title: 'Dahlia',
  path: '/plants/dahlia',
  tags: [],
  categories: [],
  dates: {},
  waiting: 0,
  variants: [variant],
};
export const guest: ProductSubject = {
  product,
  variant,
  visitor: { signedIn: false, roles: [], customerId: null, locale: 'en', invitations: [] },
  moment: Date.UTC(2026, 10, 25),
  surface: 'product',
  page: null,
};

/** Decides for a guest and one variant, unless given otherwise. */
export const decided = (rules: readonly Rule[], more: Partial<ProductSubject> = {}): Decision =>
  decide(compile(book(...rules), LISBON), { ...guest, ...more });
