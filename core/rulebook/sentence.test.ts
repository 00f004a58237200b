import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LISBON, OF_LISBON, rule, subject } from '#tests/support/arbitraries.ts';
import { compile } from '../engine/compile.ts';
import { decide } from '../engine/decide.ts';
import { decideVisit } from '../engine/visit.ts';
import type { Condition } from './condition.ts';
import type { Outcome } from '../aspects/outcome.ts';
import { Rule } from './rulebook.ts';
import { fullSentence, plain, segmentsOf, shortSentence } from './sentence.ts';

const KEEP: Outcome = { control: { kind: 'buy' } };
const all = (...members: Condition[]): Condition => ({ all: members });
const EVERY = { fact: 'product', op: 'every', value: true } as const;
const leaf = (fact: string, op: string, value: unknown) => ({ fact, op, value }) as Condition;

const conditions: [Condition, string][] = [
  [EVERY, 'everything'],
  [leaf('product.id', 'in', ['paper-lantern', 'hosta']), 'products that are paper-lantern or hosta'],
  [leaf('product.id', 'notIn', ['hosta']), 'products other than hosta'],
  [leaf('product.tags', 'hasAny', ['rare']), 'products tagged rare'],
  [leaf('product.tags', 'hasAny', ['rare', 'in the green', 'gift']), 'products tagged rare, “in the green” or gift'],
  [leaf('product.tags', 'hasAll', ['rare', 'gift']), 'products tagged rare and gift'],
  [leaf('product.tags', 'hasNone', ['rare', 'or']), 'products not tagged rare or “or”'],
  [leaf('product.categories', 'within', ['plants/bulbs']), 'products in plants/bulbs and all below'],
  [leaf('product.categories', 'notWithin', ['seeds']), 'products not in seeds and all below'],
  [leaf('product.categories', 'exactly', ['seeds', 'tools']), 'products directly in seeds or tools'],
  [
    leaf('stock.status', 'in', ['outOfStock', 'backorder']),
    'products in variants that are out of stock or on backorder',
  ],
  [leaf('stock.status', 'notIn', ['untracked']), 'products in variants that are not untracked'],
  [
    leaf('product.brand', 'in', ['Quillfern', 'Thornback Forge']),
    'products of the brand Quillfern or “Thornback Forge”',
  ],
  [leaf('product.kind', 'notIn', ['seed']), 'products not of the kind seed'],
  [leaf('product.seller', 'in', ['Tidewater Ferns']), 'products sold by “Tidewater Ferns”'],
  [leaf('product.path', 'equals', '/a'), 'products at “/a”'],
  [leaf('product.path', 'startsWith', '/a'), 'products at addresses that begin with “/a”'],
  [leaf('product.path', 'contains', 'a'), 'products at addresses that contain “a”'],
  [
    leaf('product.attribute', 'in', { name: 'hardiness', values: ['H5', 'H6'] }),
    'products whose hardiness is H5 or H6',
  ],
  [leaf('product.attribute', 'notIn', { name: 'hardiness', values: ['H5'] }), 'products whose hardiness is not H5'],
  [leaf('variant.id', 'in', ['a-1']), 'products in the variant a-1'],
  [leaf('variant.id', 'notIn', ['a-1', 'b']), 'products in variants other than a-1 or b'],
  [
    leaf('variant.option', 'in', { name: 'Size', values: ['9 cm pot'] }),
    'products in variants whose Size is “9 cm pot”',
  ],
  [leaf('variant.price', 'lt', 500), 'products in variants that cost less than 500 in minor units'],
  [leaf('variant.price', 'between', [1, 2]), 'products in variants that cost 1 in minor units to 2 in minor units'],
  [leaf('stock.productTotal', 'lte', 3), 'products with at most 3 left in total'],
  [all(EVERY, leaf('visitor.customer', 'in', ['c-1'])), 'everything, for the customer c-1'],
  [all(EVERY, leaf('visitor.customer', 'notIn', ['c-1'])), 'everything, for everyone but the customer c-1'],
  [all(EVERY, leaf('visitor.locale', 'in', ['en', 'fr'])), 'everything, for visitors who read en or fr'],
  [all(EVERY, leaf('surface', 'in', ['listing', 'quickView'])), 'everything, on listings or quick views'],
  [leaf('stock.quantity', 'lt', 5), 'products in variants with fewer than 5 left'],
  [leaf('stock.quantity', 'between', [1, 3]), 'products in variants with 1 to 3 left'],
  [all(EVERY, leaf('visitor.signedIn', 'is', false)), 'everything, for guests'],
  [all(EVERY, leaf('visitor.signedIn', 'is', true)), 'everything, for signed-in customers'],
  [
    all(EVERY, leaf('visitor.roles', 'hasAny', ['member', 'trade'])),
    'everything, for customers with the role member or trade',
  ],
  [
    all(EVERY, leaf('visitor.roles', 'hasAll', ['member', 'trade'])),
    'everything, for customers with the roles member and trade',
  ],
  [all(leaf('visitor.roles', 'hasNone', ['staff']), EVERY), 'everything, for everyone without the role staff'],
  [all(EVERY, leaf('moment', 'between', { from: '2027-01-12T09:00' })), 'everything, from 12 January 2027, 09:00'],
  [
    all(EVERY, leaf('moment', 'between', { from: '2027-01-12', until: '2027-02-02T00:00' })),
    'everything, from 12 January 2027 until 2 February 2027',
  ],
  [
    all(EVERY, leaf('moment', 'weekly', { days: [6, 1, 1], from: '18:00', until: '08:00' })),
    'everything, on Mondays and Saturdays from 18:00 until 08:00 the next day',
  ],
  [
    all(EVERY, leaf('moment', 'yearly', { from: '12-20', until: '01-07' })),
    'everything, every year from 20 December until 7 January',
  ],
  [
    all(EVERY, leaf('moment', 'around', { date: 'ships', from: '-P120D', until: 'P0D' })),
    'everything, from 120 days before its ship date until that date',
  ],
  [
    all(EVERY, leaf('moment', 'around', { date: 'last order', until: 'P1M2DT3H' })),
    'everything, until 1 month, 2 days and 3 hours after its “last order” date',
  ],
  [
    all(leaf('product.tags', 'hasAny', ['rare']), {
      any: [leaf('visitor.signedIn', 'is', true), { none: [leaf('stock.quantity', 'gte', 9)] }],
    }),
    'products tagged rare, where any of these is true (for signed-in customers; where none of these is true (in variants with at least 9 left))',
  ],
  [leaf('visitor.signedIn', 'is', false), 'choose products, for guests'],
  [{ all: [] }, 'choose products'],
];

const outcomes: [Outcome, string][] = [
  [KEEP, 'keep the button'],
  [{ control: { kind: 'buy', label: 'Reserve' } }, 'keep the button, labelled “Reserve”'],
  [
    { control: { kind: 'buy', label: { en: 'Reserve', fr: 'Réserver' }, onListing: { label: 'Soon' } } },
    'keep the button, labelled en “Reserve” (fr “Réserver”) (“Soon” on listings)',
  ],
  [
    { control: { kind: 'link', href: 'tel:+351', label: 'Ring us', newTab: true } },
    'show a link labelled “Ring us”, leading to “tel:+351” in a new tab',
  ],
  [
    { control: { kind: 'link', href: '/c' } },
    'show a link labelled en “Find out more” (fr “En savoir plus”), leading to “/c”',
  ],
  [
    { control: { kind: 'signIn', href: '/in', label: 'Join', onListing: { kind: 'nothing' } } },
    'ask to sign in, labelled “Join”, leading to “/in”, and on listings remove the button',
  ],
  [{ control: { kind: 'notice', text: 'Say ”no“' } }, 'show “Say \\”no“” instead of the button'],
  [
    { control: { kind: 'nothing' }, price: { show: false }, express: 'show' },
    'remove the button; hide the price; show express pay',
  ],
  [{ price: { show: false, text: 'On request' } }, 'show “On request” instead of the price'],
  [{ price: { show: true } }, 'show the price'],
  [{}, 'choose what happens'],
];

describe('the full sentence', () => {
  it.each(conditions)('of %j', (when, expected) => {
    expect(fullSentence({ when, then: KEEP }, OF_LISBON)).toBe(`For ${expected}: keep the button.`);
  });
  it.each(outcomes)('of %j', (then, expected) => {
    expect(fullSentence({ when: EVERY, then }, OF_LISBON)).toBe(`For everything: ${expected}.`);
  });
  it('says when nothing below counts', () => {
    expect(fullSentence({ when: EVERY, then: KEEP, stopHere: true }, OF_LISBON)).toBe(
      'For everything: keep the button; ignore the rules below.',
    );
  });
  it('says when a rule is off', () => {
    expect(fullSentence({ on: false, when: EVERY, then: KEEP }, OF_LISBON)).toBe(
      'Switched off. For everything: keep the button.',
    );
  });
  it('can call goods by their names, and leave out the name of the main language', () => {
    const names = { category: () => 'Plants › Bulbs', product: () => 'Dahlia', mainLocale: 'en', shop: LISBON };
    const sentence = fullSentence(
      {
        when: leaf('product.categories', 'within', ['plants/bulbs']),
        then: { control: { kind: 'buy', label: { en: 'A', fr: 'B' } } },
      },
      names,
    );
    expect(sentence).toBe('For products in Plants › Bulbs and all below: keep the button, labelled “A” (fr “B”).');
  });
});

describe('the short sentence', () => {
  it('says which goods, when and for whom', () => {
    const when = all(leaf('visitor.roles', 'hasNone', ['staff']), leaf('product.tags', 'hasAny', ['rare']));
    expect(shortSentence({ when, then: KEEP })).toBe('Tagged rare, for everyone without the role staff');
  });
});

const BELOW: Rule = {
  id: 'below',
  on: true,
  when: EVERY,
  then: {
    control: { kind: 'nothing' },
    express: 'show',
    price: { show: false },
    notes: [{ place: 'badge', text: 'below' }],
    style: ['below'],
  },
};

/** Every rule that differs from one in a single value: another, none, or the other way round. */
function changesOf(one: Rule): Rule[] {
  return alternatives(one).flatMap((other) => {
    const parsed = Rule.safeParse({ ...(other as object), id: one.id, name: one.name });
    return parsed.success ? [parsed.data] : [];
  });
}

function alternatives(value: unknown): unknown[] {
  if (typeof value === 'boolean') return [!value];
  if (typeof value === 'number') return [value + 1, -value];
  if (typeof value === 'string') return [`${value}x`, value.toUpperCase()];
  if (Array.isArray(value)) {
    const items = value as unknown[];
    return [
      items.toReversed(),
      ...items.map((_item, index) => items.toSpliced(index, 1)),
      ...items.flatMap((item, index) => alternatives(item).map((other) => items.with(index, other))),
    ];
  }
  return Object.entries(value as object).flatMap(([key, inner]) => {
    const { [key]: _taken, ...others } = value as Record<string, unknown>;
    return [others, ...alternatives(inner).map((other) => ({ ...others, [key]: other }))];
  });
}

describe('properties', () => {
  it('rules with one full sentence decide alike', () => {
    fc.assert(
      fc.property(rule, fc.array(subject, { minLength: 8, maxLength: 8 }), (one, subjects) => {
        const sentence = fullSentence(one, OF_LISBON);
        const decisionsOf = (rule: Rule) => {
          const compiled = compile(
            { format: 'understudy-rulebook', version: 1, rules: [{ ...rule, id: 'r' }, BELOW] },
            LISBON,
          );
          return subjects.map((seen) => [decide(compiled, seen), decideVisit(compiled, seen, [seen])]);
        };
        for (const other of changesOf(one)) {
          if (fullSentence(other, OF_LISBON) === sentence) expect(decisionsOf(other)).toEqual(decisionsOf(one));
        }
      }),
      { numRuns: 40 },
    );
  });

  it('every condition and every group is a piece of the sentence, under its own place', () => {
    fc.assert(
      fc.property(rule, (one) => {
        const pointers: string[] = [];
        const walk = (segments: ReturnType<typeof segmentsOf>) => {
          for (const segment of segments) {
            if (segment.kind === 'words' || (segment.kind === 'phrase' && segment.lacking)) continue;
            pointers.push(segment.pointer);
            if (segment.kind === 'group') segment.members.forEach(walk);
          }
        };
        walk(segmentsOf(one, OF_LISBON));
        const leaves =
          compile({ format: 'understudy-rulebook', version: 1, rules: [one] }, LISBON).rules[0]?.leaves ?? [];
        expect(pointers).toEqual(expect.arrayContaining(leaves.map(({ pointer }) => pointer)));
        expect(new Set(pointers).size).toBe(pointers.length);
        expect(plain(segmentsOf(one, OF_LISBON))).toBe(fullSentence({ ...one, on: true }, OF_LISBON));
      }),
    );
  });
});
