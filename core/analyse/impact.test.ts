import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LISBON, rulebook, subject } from '#tests/support/arbitraries.ts';
import { book, guest, make, product, variant } from '#tests/support/oneVariant.ts';
import { compile } from '../decide/compile.ts';
import { decide, decideVariants } from '../decide/decide.ts';
import { decideListing } from '../decide/listing.ts';
import type { Rule } from '../rulebook/rulebook.ts';
import { aspectsBetween, ChangeGroups, changesIn, type Change, type Comparison } from './impact.ts';

const MEMBER = { ...guest.visitor, signedIn: true, roles: [{ code: 'member', from: null, until: null }] };
const compare = (before: Rule[], after: Rule[], more: Partial<Comparison> = {}): Comparison => ({
  before: compile(book(...before), LISBON),
  after: compile(book(...after), LISBON),
  visitors: [guest.visitor, MEMBER],
  surface: 'product',
  moment: guest.moment,
  ...more,
});
const names = (changes: Iterable<Change>) =>
  [...changes].map(({ product: { id }, variant: one, visitor, aspects }) => [one?.id ?? id, visitor, aspects.join()]);

describe('what changes', () => {
  const small = { ...variant, id: 'small', price: 900 };
  const dahlia = { ...product, variants: [small, variant] };
  const NOT_MEMBER: Rule['when'] = { fact: 'visitor.roles', op: 'hasNone', value: ['member'] };

  it('is named for each variant and visitor, with the aspects that a shopper can see', () => {
    const rule = make(
      'r',
      { control: { kind: 'notice', text: 'No' } },
      { all: [{ fact: 'variant.price', op: 'lt', value: 1000 }, NOT_MEMBER] },
    );
    expect(names(changesIn(compare([], [rule]), [dahlia]))).toEqual([['small', 0, 'control,express']]);
  });

  it('is nothing where another rule says the same, or a rule is called otherwise', () => {
    const then: Rule['then'] = { price: { adjust: { percent: -10 } } };
    const renamed = [make('b', then), make('c', then)];
    expect([...changesIn(compare([make('a', then)], renamed), [dahlia])]).toEqual([]);
  });

  it('is gathered into groups, the largest first', () => {
    const rules = [
      make('gone', { control: { kind: 'nothing' } }, { fact: 'variant.id', op: 'in', value: ['small'] }),
      make('dear', { price: { show: false } }),
    ];
    const groups = new ChangeGroups();
    for (const change of changesIn(compare([], rules), [
      dahlia,
      { ...dahlia, id: 'other', variants: [{ ...variant, id: 'w' }] },
    ]))
      groups.add(change);
    expect(groups.changed).toBe(3);
    expect(groups.all()).toMatchObject([
      { count: 2, visitors: [0, 1], before: { kind: 'buy' }, after: { kind: 'buy' }, aspects: ['price'] },
      { count: 1, visitors: [0, 1], after: { kind: 'nothing' }, aspects: ['control', 'express', 'price'] },
    ]);
  });

  it.each(['product', 'listing'] as const)('equals deciding one by one, on the %s page', (surface) => {
    fc.assert(
      fc.property(rulebook, rulebook, fc.array(subject, { minLength: 1, maxLength: 4 }), (before, after, subjects) => {
        const [first] = subjects;
        if (!first) return;
        const comparison: Comparison = {
          before: compile(before, LISBON),
          // What was, with something of what comes: so that much is alike.
          after: compile({ ...after, rules: uniquely([...after.rules.slice(0, 2), ...before.rules]) }, LISBON),
          visitors: subjects.map(({ visitor }) => visitor),
          surface,
          moment: first.moment,
        };
        const products = subjects.map(({ product: one }) => one);
        expect([...changesIn(comparison, products)]).toEqual([...oneByOne(comparison, products)]);
      }),
      { numRuns: 200 },
    );
  });
});

const uniquely = (rules: readonly Rule[]) => rules.map((rule, index) => ({ ...rule, id: `${rule.id}-${index}` }));

function* oneByOne({ before, after, visitors, surface, moment }: Comparison, products: readonly Change['product'][]) {
  for (const one of products)
    for (const [visitor, facts] of visitors.entries()) {
      const seen = { visitor: facts, moment, surface, page: null };
      const rows = surface === 'listing' ? [null] : one.variants;
      for (const row of rows) {
        const of = (by: typeof before) =>
          row === null
            ? decideListing(decideVariants(by, one, seen), one, facts.locale, by.shop)
            : decide(by, { ...seen, product: one, variant: row });
        const [was, is] = [of(before), of(after)];
        const aspects = aspectsBetween(was, is);
        if (aspects.length > 0) yield { product: one, variant: row, visitor, before: was, after: is, aspects };
      }
    }
}
