import fc from 'fast-check';
import { Href } from '../texts/hrefSchema.ts';
import { describe, expect, it } from 'vitest';
import { LISBON, instant, rule, rulebook, subject } from '#tests/support/arbitraries.ts';
import { book, decided, everything, guest, make, product } from '#tests/support/oneVariant.ts';
import { Rulebook as RulebookSchema } from '../rulebook/rulebook.ts';
import type { Decision } from './decision.ts';
import { parse } from '../contract/validation.ts';
import { compile } from './compile.ts';
import { ASPECTS, setOf } from '../aspects/aspects.ts';
import { decide, decidingRules } from './decide.ts';
import { decideListing } from './listing.ts';
import { plainWinners } from '#tests/support/plainInterpreter.ts';
import { runs } from '#tests/support/sampling.ts';
import { trace } from './trace.ts';
import { winners } from './winners.ts';

describe('which rule wins', () => {
  it('without rules, everything is the shop’s own', () => {
    expect(decided([])).toMatchObject({
      control: { kind: 'buy', label: null },
      express: 'show',
      price: { show: true, amount: 1450, was: 1600 },
      reasons: { control: [], express: [], price: [] },
      validUntil: null,
    });
  });

  it('each aspect goes to the first counting rule that speaks to it', () => {
    const decision = decided([
      make('off', { express: 'show' }, everything, false),
      make('never', { express: 'show' }, { none: [everything] }),
      make('price', { price: { show: false } }),
      make('control', { control: { kind: 'nothing' }, price: { show: true } }),
      make('late', { control: { kind: 'buy' }, express: 'show' }),
    ]);
    expect(decision.control.kind).toBe('nothing');
    expect(decision.price.show).toBe(false);
    expect(decision.express).toBe('show');
    expect(decision.reasons).toMatchObject({ control: ['control'], price: ['price'], express: ['late'] });
  });

  it('express pay follows the control, unless a rule says otherwise', () => {
    expect(decided([make('a', { control: { kind: 'link', href: '/x' } })])).toMatchObject({
      express: 'hide',
      reasons: { express: ['a'] },
    });
    expect(decided([make('a', { control: { kind: 'buy', label: 'Reserve' } })])).toMatchObject({
      express: 'show',
      reasons: { express: [] },
    });
  });

  it('a counting rule that stops here closes the list, and the trace says so', () => {
    const stop = { ...make('stop', { price: { show: false } }), stopHere: true };
    const rules = [
      stop,
      make('below', { control: { kind: 'nothing' } }),
      make('off', { express: 'hide' }, everything, false),
    ];
    expect(decided(rules)).toMatchObject({
      control: { kind: 'buy' },
      price: { show: false },
      reasons: { control: [] },
    });
    expect(trace(compile(book(...rules), LISBON), guest).map(({ outcome }) => outcome)).toEqual([
      'counts',
      'closed',
      'off',
    ]);
    const failing = { ...stop, when: { none: [everything] } };
    expect(decided([failing, ...rules.slice(1)]).control.kind).toBe('nothing');
    const again = { ...make('again', { price: { show: true } }), stopHere: true };
    expect(decided([make('first', { price: { show: true } }), again, ...rules.slice(1)]).control.kind).toBe('buy');
  });

  it('an unfinished rule never counts', () => {
    const unfinished = [
      make('nobody', { express: 'hide' }, { fact: 'visitor.signedIn', op: 'is', value: false }),
      make('empty', { express: 'hide' }, { all: [everything, { any: [] }] }),
      make('silent', {}),
    ];
    expect(decided(unfinished).express).toBe('show');
    expect(trace(compile(book(...unfinished), LISBON), guest).map(({ outcome }) => outcome)).toEqual(
      Array(3).fill('unfinished'),
    );
  });

  it('the trace says who decided, who lost, and what was so', () => {
    const rules = [
      make('first', { control: { kind: 'nothing' } }),
      make('second', { control: { kind: 'buy' }, express: 'hide' }, { fact: 'stock.quantity', op: 'lt', value: 5 }),
      make('third', { control: { kind: 'buy' } }, { fact: 'stock.quantity', op: 'gt', value: 5 }),
    ];
    expect(trace(compile(book(...rules), LISBON), guest)).toMatchObject([
      { ruleId: 'first', outcome: 'counts', decided: ['control'], lost: [] },
      {
        ruleId: 'second',
        outcome: 'counts',
        decided: ['express'],
        lost: ['control'],
        leaves: [{ expected: 5, actual: 2, matched: true }],
      },
      { ruleId: 'third', outcome: 'fails', decided: [], lost: [], leaves: [{ matched: false }] },
    ]);
  });
});

describe('what a control says', () => {
  const onListing = { surface: 'listing' } as const;
  it('on listings, other words or another stand-in, which inherits nothing', () => {
    const relabelled = make('a', {
      control: { kind: 'link', href: '/x', label: 'Long words', newTab: true, onListing: { label: 'Short' } },
    });
    expect(decided([relabelled], onListing).control).toMatchObject({
      kind: 'link',
      label: 'Short',
      href: '/x',
      newTab: true,
    });
    expect(decided([relabelled]).control).toMatchObject({ label: 'Long words' });
    const other = make('a', {
      control: { kind: 'link', href: '/x', label: 'Long words', onListing: { kind: 'signIn', href: '/in' } },
    });
    expect(decided([other], onListing).control).toMatchObject({ kind: 'signIn', label: 'Sign in to buy', href: '/in' });
    expect(decided([other], { surface: 'quickView' }).control.kind).toBe('link');
  });

  it('in the visitor’s language, else its language alone, else the shop’s', () => {
    const rules = [make('a', { control: { kind: 'buy', label: { en: 'Reserve', fr: 'Réserver' } } })];
    const labelIn = (locale: string | null) => decided(rules, { visitor: { ...guest.visitor, locale } }).control.label;
    expect(['fr', 'FR-ca', 'en-GB', 'de', null].map(labelIn)).toEqual([
      'Réserver',
      'Réserver',
      'Reserve',
      'Reserve',
      'Reserve',
    ]);
  });

  it('with placeholders and plurals filled, and nothing from outside taken for markup', () => {
    const text =
      '{product.title}: **{stock.quantity, plural, one {# left} other {# left}}**, {variant.price}, ships {product.date.ships}';
    const odd = { ...product, title: '<i>*Dahlia*</i>', dates: { ships: '2027-05-20' } };
    const { control } = decided([make('a', { control: { kind: 'notice', text } })], { product: odd });
    expect(control.html).toBe('&lt;i&gt;*Dahlia*&lt;/i&gt;: <strong>2 left</strong>, €14.50, ships 20 May 2027');
    const link = decided(
      [make('a', { control: { kind: 'link', href: '/c?t={product.title}&d={product.date.none}' } })],
      { product: odd },
    );
    expect(link.control).toMatchObject({ href: '/c?t=%3Ci%3E*Dahlia*%3C/i%3E&d=' });
  });
  it.each([
    ['{product.path}', '/plants/dahlia'],
    ['/{product.path}', '/plants/dahlia'],
    ['{product.path}?from=list&title={product.title}', '/plants/dahlia?from=list&title=Dahlia'],
    ['/sign-in?back={product.path}', '/sign-in?back=/plants/dahlia'],
    ['{product.attribute.sold-at}', 'https://bindery.example/dahlia%20x?a=b'],
    ['{product.attribute.sold-at}&ref={product.id}', 'https://bindery.example/dahlia%20x?a=b&ref=p'],
    ['{product.attribute.nowhere}', null],
    ['{product.attribute.script}', null],
    ['{product.attribute.other-host}', '/evil.example/x'],
    ['/x/{product.attribute.script}', '/x/javascript%3Aalert(1)'],
    ['tel:+351 21 (000) 00-01', 'tel:+351210000001'],
  ])('an address %s leads to %s', (href, to) => {
    const attributes = {
      'sold-at': 'https://bindery.example/dahlia x?a=b',
      script: 'javascript:alert(1)',
      'other-host': '//evil.example/x',
    };
    expect(Href.safeParse(href).error).toBeUndefined();
    const { control } = decided([make('a', { control: { kind: 'link', href } })], {
      product: { ...product, path: '/plants/dahlia', attributes },
    });
    expect(control).toMatchObject({ kind: 'link', href: to });
  });
  it('a page that sends elsewhere sends to pages only', () => {
    const away = (redirectTo: string) =>
      decided([make('a', { visibility: { state: 'blocked', redirectTo } })], {
        product: { ...product, attributes: { yard: 'tel:+351', shop: 'https://bindery.example/' } },
      }).visibility.redirectTo;
    expect(['{product.attribute.yard}', '{product.attribute.shop}', '{product.path}'].map(away)).toEqual([
      null,
      'https://bindery.example/',
      product.path,
    ]);
  });
});

describe('a listing of several variants', () => {
  const of = (...decisions: Decision[]) => decideListing(decisions, product, null, LISBON);
  const plain = decided([]);
  const nothing = decided([make('n', { control: { kind: 'nothing' } })]);
  const signIn = decided([make('s', { control: { kind: 'signIn', href: '/in' } })]);

  const unpriced = decided([make('u', { price: { show: false, text: 'On request' } })]);

  it('alike, they speak for it', () => {
    expect(of(nothing, nothing)).toMatchObject({
      variantId: null,
      control: { kind: 'nothing' },
      express: 'hide',
      reasons: { control: ['n'] },
    });
    expect(of(plain).variantId).toBe('v');
  });
  it('when any can be bought, it leads to where one chooses', () => {
    expect(of(nothing, plain)).toMatchObject({
      control: { kind: 'choose', href: '/plants/dahlia', label: 'See sizes and prices' },
      express: 'hide',
      availability: 'InStock',
    });
  });
  it('otherwise the first kind in the order of hope stands', () => {
    expect(of(nothing, signIn).control.kind).toBe('signIn');
    expect(of(nothing, signIn).reasons.control).toEqual(['n', 's']);
  });
  it('shows the lowest of the prices that are shown, and the earliest expiry', () => {
    const dear = { ...plain, price: { ...plain.price, amount: 2000 }, validUntil: '2027-01-01T00:00:00.000+00:00' };
    const later = { ...plain, validUntil: '2027-01-01T00:30:00.000+01:00' };
    expect(of(dear, later, unpriced)).toMatchObject({
      price: { amount: 1450, from: true },
      validUntil: later.validUntil,
    });
    expect(of(unpriced, unpriced).price).toMatchObject({ show: false, amount: null, text: 'On request' });
    expect(of(later, dear).validUntil).toBe(later.validUntil);
  });
  it('is as available as the best of them', () => {
    const as = (availability: Decision['availability']) => ({ ...plain, availability });
    expect(of(as('OutOfStock'), as('BackOrder')).availability).toBe('BackOrder');
    expect(of(as('BackOrder'), as('PreOrder'), as('OutOfStock')).availability).toBe('PreOrder');
    expect(of(as('OutOfStock'), as('OutOfStock')).availability).toBe('OutOfStock');
  });
  it('is of at least one', () => {
    expect(() => of()).toThrow(RangeError);
  });
});

describe('properties', () => {
  const shown = ({ validUntil: _, ...decision }: Decision) => decision;

  it('generated rulebooks are valid ones', () => {
    fc.assert(
      fc.property(rulebook, (generated) => {
        expect(parse(RulebookSchema, generated)).toEqual({ ok: true, value: generated });
      }),
    );
  });

  it('same input, same answer', () => {
    fc.assert(
      fc.property(rulebook, subject, (rules, seen) => {
        const frozen = JSON.stringify([rules, seen]);
        expect(decide(compile(rules, LISBON), seen)).toEqual(decide(compile(rules, LISBON), seen));
        expect(JSON.stringify([rules, seen])).toBe(frozen);
      }),
    );
  });

  it('compiled equals plainly interpreted', () => {
    fc.assert(
      fc.property(rulebook, subject, (rules, seen) => {
        const { by, gathered } = winners(compile(rules, LISBON), seen, setOf(ASPECTS));
        const alone = Object.entries(by).map(([aspect, compiled]) => [aspect, [compiled]] as const);
        const ids = [...alone, ...Object.entries(gathered)]
          .filter(([, won]) => won.length > 0)
          .map(([aspect, won]) => [aspect, won.map(({ rule }) => rule.id)] as const);
        expect(Object.fromEntries(ids)).toEqual(plainWinners(rules, seen, LISBON));
      }),
      runs(400),
    );
  });

  it('names who decides as the decision does', () => {
    fc.assert(
      fc.property(rulebook, subject, (rules, one) => {
        const compiled = compile(rules, LISBON);
        expect(decidingRules(compiled, one)).toEqual(decide(compiled, one).reasons);
      }),
    );
  });

  it('validUntil is that of the first change, whichever rule it is of', () => {
    const until = (id: string, date: string) =>
      make(
        id,
        { control: { kind: 'nothing' } },
        { all: [everything, { fact: 'moment', op: 'between', value: { from: date } }] },
      );
    const [soon, late] = [until('soon', '2027-01-01'), until('late', '2027-02-01')];
    for (const rules of [
      [soon, late],
      [late, soon],
    ])
      expect(decided(rules).validUntil).toBe('2027-01-01T00:00:00.000+00:00');
  });

  it('validUntil is never late', () => {
    fc.assert(
      fc.property(rulebook, subject, fc.array(instant, { minLength: 1, maxLength: 6 }), (rules, seen, later) => {
        const compiled = compile(rules, LISBON);
        const now = decide(compiled, seen);
        const end = now.validUntil === null ? Infinity : Date.parse(now.validUntil);
        expect(end).toBeGreaterThan(seen.moment);
        for (const moment of [...later, Math.min(end - 1, seen.moment + 1), end - 1]) {
          if (moment <= seen.moment || moment >= end) continue;
          expect(shown(decide(compiled, { ...seen, moment }))).toEqual(shown(now));
        }
      }),
      runs(400),
    );
  });

  it('reorderings that cannot matter do not', () => {
    fc.assert(
      fc.property(rulebook, rule, subject, fc.nat(), (rules, extra, seen, place) => {
        const idle = { ...extra, on: false };
        const at = place % (rules.rules.length + 1);
        const withIdle = { ...rules, rules: rules.rules.toSpliced(at, 0, idle) };
        expect(decide(compile(withIdle, LISBON), seen)).toEqual(decide(compile(rules, LISBON), seen));
      }),
    );
  });
});
