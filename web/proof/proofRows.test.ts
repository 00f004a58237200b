import { describe, expect, it } from 'vitest';
import type { AudienceFacts } from '#core/model/audience.ts';
import { compile } from '#core/engine/compile.ts';
import type { ProductFacts } from '#core/model/subject.ts';
import type { Condition } from '#core/rulebook/condition.ts';
import type { Outcome } from '#core/aspects/outcome.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { LISBON } from '#tests/support/arbitraries.ts';
import { book, everything, make, product, variant } from '#tests/support/oneVariant.ts';
import { cellsOf, reachOf, reachOfAll, rowsOf, surfaceOf, type ProofSurface } from './proofRows.ts';

const AUDIENCES: (AudienceFacts & { name: string })[] = [
  { name: 'Guest', signedIn: false, roles: [] },
  { name: 'Member', signedIn: true, roles: ['member'] },
];
const plant = (id: string, tags: string[], sizes: number): ProductFacts => ({
  ...product,
  id,
  tags,
  variants: Array.from({ length: sizes }, (_, index) => ({ ...variant, id: `${id}-${index}` })),
});
const GOODS = [plant('hosta', ['rare'], 2), plant('aster', [], 3), plant('dibber', ['gift'], 1)];
const tagged = (tag: string): Condition => ({ fact: 'product.tags', op: 'hasAny', value: [tag] });
const members: Condition = { fact: 'visitor.roles', op: 'hasAny', value: ['member'] };

const proofOf = (draft: Rule[], live: Rule[] = [], surface: ProofSurface = 'product') => ({
  draft: compile(book(...draft), LISBON),
  live: compile(book(...live), LISBON),
  audiences: AUDIENCES,
  surface,
  moment: Date.UTC(2026, 10, 25),
});

describe('the reach of rules', () => {
  it('counts variants, and their products, of which a rule decides anything for anybody', () => {
    const rules = [
      make('rare', { control: { kind: 'waitlist', per: 'variant' } }, tagged('rare')),
      make('members', { price: { adjust: { percent: -10 } } }, { all: [everything, members] }),
      make('hidden', { control: { kind: 'nothing' } }, tagged('rare')),
      make('pause', { cart: { open: false } }, tagged('gift')),
      make('off', { express: 'hide' }, everything, false),
    ];
    const reach = reachOfAll(compile(book(...rules), LISBON), GOODS, AUDIENCES, 0);
    expect(Object.fromEntries(reach)).toEqual({
      rare: { variants: 2, products: 1 },
      members: { variants: 6, products: 3 },
      pause: { variants: 1, products: 1 },
    });
  });
  it('shows a row of every look that a rule gives, and some that it leaves alone', () => {
    const rule = make(
      'r',
      { control: { kind: 'notice', text: '{product.id}' } },
      { any: [tagged('rare'), tagged('gift')] },
    );
    const proof = proofOf([rule]);
    const { decided, others, decidedCount, changedCount } = reachOf(rowsOf(GOODS, 'product'), 'r', proof);
    expect([decidedCount, changedCount]).toEqual([3, 3]);
    expect(decided.map(({ key }) => key)).toEqual(['hosta-0', 'hosta-1', 'dibber-0']);
    expect(others.map(({ product: { id } }) => id)).toEqual(['aster', 'aster']);
  });
});

describe('a cell', () => {
  const cells = (then: Outcome, surface: ProofSurface, live: Rule[] = []) => {
    const [row] = rowsOf(GOODS, surface);
    if (!row) throw new Error('there are goods');
    return cellsOf(row, 'r', proofOf([make('r', then)], live, surface));
  };
  it.each<[string, Outcome]>([
    ['a note', { notes: [{ place: 'badge', text: 'New' }] }],
    ['a price', { price: { adjust: { amount: -5 } } }],
    ['a quantity', { limits: { min: 2 } }],
    ['visibility', { visibility: { state: 'offListings' } }],
    ['a text after the order', { afterOrder: { text: 'Thanks' } }],
    ['a style', { style: ['x'] }],
  ])('is marked as changed by %s', (_name, then) => {
    expect(cells(then, 'product').map(({ changed, byRule }) => [changed, byRule])).toEqual([
      [true, true],
      [true, true],
    ]);
    expect(cells(then, 'product', [make('other', then)]).map(({ changed }) => changed)).toEqual([false, false]);
  });
  it('of the cart speaks of cart and checkout alone', () => {
    const closed = cells({ cart: { open: false } }, 'cart');
    expect(closed.map(({ visit, changed, byRule }) => [visit.cart.open, changed, byRule])).toEqual([
      [false, true, true],
      [false, true, true],
    ]);
    expect(cells({ express: 'hide' }, 'cart').map(({ changed }) => changed)).toEqual([false, false]);
    expect(cells({ cart: { open: false } }, 'product').map(({ changed }) => changed)).toEqual([false, false]);
  });
});

it('a rule that speaks of the cart and the checkout alone is shown there', () => {
  expect(surfaceOf(make('r', { cart: { open: false }, checkout: { open: false } }))).toBe('cart');
  expect(surfaceOf(make('r', { cart: { open: false }, express: 'hide' }))).toBe('product');
  expect(surfaceOf(make('r', {}))).toBe('product');
});
