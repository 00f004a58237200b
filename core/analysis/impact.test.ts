import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LISBON, rulebook, subject } from '#tests/support/arbitraries.ts';
import { book, guest, make, product, variant } from '#tests/support/oneVariant.ts';
import { compile, type CompiledRulebook } from '../engine/compile.ts';
import type { ProductFacts, Surface, VisitorFacts } from '../model/subject.ts';
import { decide, decideVariants } from '../engine/decide.ts';
import { decideListing } from '../engine/listing.ts';
import type { Rule } from '../rulebook/rulebook.ts';
import { finished } from '#tests/support/finished.ts';
import { runs } from '#tests/support/sampling.ts';
import { Columns } from './columns.ts';
import { RuleMatcher } from './ruleMatcher.ts';
import { impactOf } from './impact.ts';
import { changeBetween } from './outcomeDiffer.ts';
import { groupKey } from './changeGroups.ts';

const MEMBER = { ...guest.visitor, signedIn: true, roles: [{ code: 'member', from: null, until: null }] };

interface Comparison {
  readonly before: CompiledRulebook;
  readonly after: CompiledRulebook;
  readonly visitors: readonly VisitorFacts[];
  readonly surface: Surface;
  readonly moments: readonly number[];
}
const compare = (before: Rule[], after: Rule[], more: Partial<Comparison> = {}): Comparison => ({
  before: compile(book(...before), LISBON),
  after: compile(book(...after), LISBON),
  visitors: [guest.visitor, MEMBER],
  surface: 'product',
  moments: [guest.moment],
  ...more,
});

function groupsOf({ before, after, visitors, surface, moments }: Comparison, products: readonly ProductFacts[]) {
  const columns = new Columns(products);
  const onlookers = { visitors, surface, isTogether: surface === 'listing' };
  return { groups: finished(impactOf(new RuleMatcher(columns), onlookers, before, after, moments)), columns };
}

/** Each change as the product, its variant where it is not of the whole, the visitor, the moment and the group. */
function named(comparison: Comparison, products: readonly ProductFacts[]) {
  const { groups, columns } = groupsOf(comparison, products);
  const { row, visitor, moment, group } = groups.changes();
  return [...row].map((control, index) => {
    const { product: of, variant: one } = columns.variantAt(control);
    const id = comparison.surface === 'listing' ? of.id : one.id;
    return [id, visitor[index], comparison.moments[moment[index] ?? -1], groups.kinds[group[index] ?? -1]?.key];
  });
}

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
    expect(named(compare([], [rule]), [dahlia])).toEqual([
      ['small', 0, guest.moment, expect.stringContaining('["control","express"]')],
    ]);
  });

  it('is nothing where another rule says the same, or a rule is called otherwise', () => {
    const then: Rule['then'] = { price: { adjust: { percent: -10 } } };
    const renamed = [make('b', then), make('c', then)];
    expect(named(compare([make('a', then)], renamed), [dahlia])).toEqual([]);
  });

  it('is gathered into groups, the largest first', () => {
    const rules = [
      make('gone', { control: { kind: 'nothing' } }, { fact: 'variant.id', op: 'in', value: ['small'] }),
      make('dear', { price: { show: false } }),
    ];
    const other = { ...dahlia, id: 'other', variants: [{ ...variant, id: 'w' }] };
    const { groups } = groupsOf(compare([], rules), [dahlia, other]);
    expect(groups.changed).toBe(3);
    expect(groups.all()).toMatchObject([
      { count: 2, visitors: [0, 1], before: { kind: 'buy' }, after: { kind: 'buy' }, aspects: ['price'] },
      { count: 1, visitors: [0, 1], after: { kind: 'nothing' }, aspects: ['control', 'express', 'price'] },
    ]);
  });

  it.each(['product', 'listing', 'cart'] as const)('equals deciding one by one, where goods stand: %s', (surface) => {
    let changes = 0;
    fc.assert(
      fc.property(
        rulebook,
        rulebook,
        fc.array(subject, { minLength: 1, maxLength: 14 }),
        fc.shuffledSubarray([0, 1, 2, 3, 4, 5]),
        (before, after, subjects, order) => {
          const seen = new Set<string>();
          const products = subjects.map(({ product: one }, index) => ({ ...one, id: `${one.id} ${index}` }));
          const comparison: Comparison = {
            before: compile(before, LISBON),
            // What was, in some other order, one rule for other goods, with something of what comes: much is alike.
            after: compile(
              {
                ...after,
                rules: [
                  ...renamed(after.rules.slice(0, 2)),
                  ...reordered(before.rules, order).map((rule, index) =>
                    index === 1 ? { ...rule, when: after.rules[0]?.when ?? rule.when } : rule,
                  ),
                ],
              },
              LISBON,
            ),
            visitors: subjects.slice(0, 3).map(({ visitor }) => visitor),
            surface,
            moments: [...new Set(subjects.slice(0, 2).map(({ moment }) => moment))],
          };
          const expected = [...oneByOne(comparison, products)].filter((change) => {
            const key = JSON.stringify([change[0], change[2], change[4]]);
            return !seen.has(key) && seen.add(key);
          });
          const found = named(comparison, products);
          changes += found.length;
          const sorted = (list: readonly (readonly unknown[])[]) => list.map((one) => JSON.stringify(one)).sort();
          expect(sorted(found)).toEqual(sorted(expected.map(([, ...change]) => change)));
        },
      ),
      runs(300),
    );
    expect(changes).toBeGreaterThan(300);
  });
});

const renamed = (rules: readonly Rule[]) => rules.map((rule) => ({ ...rule, id: `other ${rule.id}` }));
/** Puts the named ones first, in the order given. */
const reordered = (rules: readonly Rule[], order: readonly number[]) => [
  ...order.flatMap((index) => rules[index] ?? []),
  ...rules.filter((_rule, index) => !order.includes(index)),
];

/** Each change, with its product's place before it. */
function* oneByOne({ before, after, visitors, surface, moments }: Comparison, products: readonly ProductFacts[]) {
  for (const moment of moments)
    for (const [place, one] of products.entries())
      for (const [visitor, facts] of visitors.entries()) {
        const seen = { visitor: facts, moment, surface, page: null };
        const rows = surface === 'listing' ? [null] : one.variants;
        for (const [at, row] of rows.entries()) {
          const of = (by: CompiledRulebook) =>
            row === null
              ? decideListing(decideVariants(by, one, seen), one, facts.locale, by.shop)
              : decide(by, { ...seen, product: one, variant: row });
          const outcome = changeBetween(of(before), of(after));
          if (outcome.aspects.length > 0)
            yield [`${place} ${at}`, row?.id ?? one.id, visitor, moment, groupKey(outcome)] as const;
        }
      }
}
