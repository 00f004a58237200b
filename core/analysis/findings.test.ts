import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { condition, LISBON, rulebook, subject } from '#tests/support/arbitraries.ts';
import { book, make, product } from '#tests/support/oneVariant.ts';
import { compile } from '../engine/compile.ts';
import { decide } from '../engine/decide.ts';
import { guardLines } from '../engine/guard.ts';
import { isBought } from '../controls/controls.ts';
import type { ProductSubject, ProductFacts, Surface } from '../model/subject.ts';
import { trace } from '../engine/trace.ts';
import type { Rule } from '../rulebook/rulebook.ts';
import { shipDates } from '../fulfilment/shipping.ts';
import { contradicts } from './contradiction.ts';
import { SEVERITY, type Finding } from './finding.ts';
import {
  found,
  findingsIn,
  KINDS,
  late,
  LINK,
  lookAt,
  NOTICE,
  both,
  during,
  local,
  NOW,
  PLANTED,
  rare,
  tagged,
} from '#tests/support/planted.ts';
import { runs } from '#tests/support/sampling.ts';
import type { Looked } from './findings.ts';
import { withQuickFix } from './quickFixes.ts';

describe('findings', () => {
  it.each(KINDS)('tell of the rule that it is: %s, how bad that is, and what ends it', (kind) => {
    const { rules, goods = [product], quickFix } = PLANTED[kind];
    const isThere = (one: Finding) => one.about.kind === kind && one.rule === 'planted';
    const mine = found(rules, goods).find(isThere);
    expect(mine?.severity).toBe(SEVERITY[kind]);
    expect(mine?.quickFix?.kind).toBe(quickFix);
    if (mine?.quickFix) expect(found(withQuickFix(rules, 'planted', mine.quickFix), goods).some(isThere)).toBe(false);
  });

  it('name payment methods that the shop does not have, where those are known', () => {
    const rule = make('r', { checkout: { hideMethods: ['card', 'cheque'] } });
    const findingsFor = (methods: ReadonlySet<string> | null) =>
      found([rule], [rare], { methods }).flatMap(({ about }) => (about.kind === 'unknownMethod' ? about.code : []));
    expect(findingsFor(new Set(['card', 'invoice']))).toEqual(['cheque']);
    expect(findingsFor(null)).toEqual([]);
  });

  it('stand with the worst first', () => {
    const rules = [PLANTED.longLabel, PLANTED.brokenLink].map(
      ({ rules: [rule] }, index) => ({ ...rule, id: `r${index}` }) as Rule,
    );
    expect(found(rules).map(({ severity }) => severity)).toEqual(expect.arrayContaining(['fault', 'note']));
    expect(found(rules)[0]?.about.kind).toBe('brokenLink');
  });

  it('are none where there is nothing to say', () => {
    const rule = make('r', { control: { kind: 'notice', text: 'Not now' } }, tagged('rare'));
    expect(found([rule], [rare, late])).toEqual([]);
  });

  it('take the date of the goods themselves for a word about when a pre-order ships', () => {
    const rule = make('r', { control: { kind: 'preorder' } }, tagged('late'));
    const dated = { ...late, dates: { ships: '2027-03-15' } };
    const of = (goods: readonly ProductFacts[]) =>
      found([rule], [rare, ...goods], { hasTerms: true }).map(({ about, count, example }) => [
        about.kind,
        count,
        example?.product,
      ]);
    expect(of([dated])).toEqual([]);
    expect(of([dated, { ...both, dates: {} }])).toEqual([['preorderWithoutDate', 1, 'both']]);
  });

  it('name once, with a closure, all that it makes idle', () => {
    const ids = ['a', 'b', 'c', 'd', 'e'];
    const below = ids.map((id) => make(id, LINK, tagged(id)));
    const goods = ids.map((id) => ({ ...rare, id, tags: [id], variants: [{ ...rare.variants[0]!, id }] }));
    const pause = make('pause', { ...NOTICE, cart: { open: false } });
    const all = found([pause, ...below], goods).filter(
      ({ about: { kind } }) => kind === 'idle' || kind === 'neverWins',
    );
    expect(all.map(({ about, rule }) => [about, rule])).toEqual([
      [{ kind: 'idle', rules: ['a', 'b', 'c', 'd', 'e'] }, 'pause'],
    ]);
  });

  it('name rules that never decide, also where a closure decides first for a time or for good', () => {
    const times = { moments: [NOW, local('2026-12-26T12:00')] };
    const frost = (when: Rule['when']) => make('frost', { ...NOTICE, cart: { open: false } }, when);
    const hidden = ['a', 'b', 'c', 'd', 'e'].map((id) => make(id, { control: { kind: 'quote' } }, tagged('rare')));
    const rules = [make('above', LINK, tagged('rare')), ...hidden];
    for (const closed of [during('2026-12-24T00:00', '2027-01-07T00:00'), during()]) {
      const all = found([frost(closed), ...rules], [rare, late], times);
      expect(all.filter(({ about }) => about.kind === 'neverWins').map(({ rule, about }) => [rule, about])).toEqual(
        hidden.map(({ id }) => [id, { kind: 'neverWins', by: ['above'] }]),
      );
    }
    // Only rules that would decide without the closure count as idle.
    const idle = found([frost(during()), ...rules], [rare, late], times).filter(({ about }) => about.kind === 'idle');
    expect(idle.map(({ rule, about }) => [rule, about])).toEqual([['frost', { kind: 'idle', rules: ['above'] }]]);
    // A closure can itself be out of reach.
    const below = [make('above', LINK), make('closed', NOTICE)];
    expect(found(below, [rare], times).map(({ rule, about }) => `${about.kind} ${rule}`)).toContain('neverWins closed');
  });

  it('never move a rule past a closure', () => {
    const member = { fact: 'visitor.signedIn', op: 'is', value: true } as const;
    const rules = [
      make('above', LINK, tagged('rare')),
      make('closed', NOTICE, { all: [tagged('late'), member] }),
      make('below', { control: { kind: 'quote' } }, tagged('rare')),
    ];
    const never = found(rules, [rare, late]).find(({ about }) => about.kind === 'neverWins');
    expect(never).toMatchObject({ rule: 'below', about: { by: ['above'] }, quickFix: null });
    // A rule for some people above a closure is an exception that is meant.
    const staff = [
      make('staff', { control: { kind: 'buy' } }, { all: [tagged('rare'), member] }),
      make('closed', NOTICE),
    ];
    expect(found(staff, [rare]).map(({ about }) => about.kind)).not.toContain('notClosed');
  });

  it('take an exception above what it is one to for no fight', () => {
    const rules = [make('above', { control: { kind: 'nothing' } }, tagged('rare')), make('below', NOTICE)];
    expect(found(rules, [rare, late]).map(({ about }) => about.kind)).toEqual(['touchesEverything']);
  });
});

/** Whether deciding a finding's example shows what it says. */
function isTrue({ about, rule, example }: Finding, looked: Looked, products: readonly ProductFacts[]): boolean {
  if (!example) return false;
  const goods = products.find(({ id }) => id === example.product);
  const variant = goods?.variants.find(({ id }) => id === example.variant);
  const visitor = looked.visitors[example.visitor];
  if (!goods || !variant || !visitor) return false;
  const at: ProductSubject = {
    product: goods,
    variant,
    visitor,
    moment: example.moment,
    surface: example.surface,
    page: null,
  };
  const { rulebook: compiled } = looked;
  const on = (surface: Surface) => decide(compiled, { ...at, surface });
  const traced = new Map(trace(compiled, at).map((entry) => [entry.ruleId, entry]));
  const here = traced.get(rule);
  const passes = () => {
    const { visitor: by, moment } = at;
    const line = { variantId: variant.id, quantity: on('product').limits.min };
    const [verdict] = guardLines(compiled, { via: 'cart', visitor: by, moment }, [line], () => ({
      product: goods,
      variant,
    })).lines;
    return !['notForSale', 'signInFirst', 'membersOnly', 'capReached'].includes(verdict?.refusal ?? '');
  };
  switch (about.kind) {
    case 'neverWins':
      return here?.decided.length === 0 && here.outcome !== 'fails';
    case 'idle':
      return traced.get(about.rules[0] ?? '')?.decided.length === 0;
    case 'notClosed':
      return here?.decided.includes('control') === false && traced.get(about.by)?.decided.includes('control') === true;
    case 'fight': {
      const aspects = compiled.rules.find((one) => one.rule.id === rule)?.aspects ?? [];
      const won = traced.get(about.by)?.decided ?? [];
      const isLost = aspects.some((aspect) => won.includes(aspect) && !here?.decided.includes(aspect));
      return (here?.outcome === 'counts' || here?.outcome === 'closed') && isLost;
    }
    case 'untrackedStock':
      return !variant.stock.tracked && here?.outcome !== 'counts';
    case 'priceShownElsewhere':
      return (
        !decide(compiled, at).price.show &&
        (['product', 'listing', 'quickView'] as const).some((place) => on(place).price.show)
      );
    case 'guardLetsThrough':
      return !isBought(decide(compiled, at).control) && passes();
    case 'guardRefuses':
      return isBought(decide(compiled, at).control) && !passes();
    case 'hiddenPriceSold':
      return !on('product').price.show && on('product').control.kind === 'buy';
    case 'waitlistInStock':
      return on('product').control.kind === 'waitlist' && variant.stock.quantity > 0;
    case 'preorderWithoutDate': {
      const { control } = on('product');
      return (
        control.kind === 'preorder' &&
        Object.values(shipDates(control.ships, goods, { moment: at.moment, shop: compiled.shop })).every(
          (date) => date === null,
        )
      );
    }
    case 'touchesEverything':
      return here !== undefined && here.outcome !== 'fails';
    default:
      return false;
  }
}

const goodsWith = fc.array(subject, { minLength: 1, maxLength: 3 }).map((subjects) =>
  subjects.map((one, index) => ({
    ...one,
    product: {
      ...one.product,
      id: `g${index}`,
      variants: one.product.variants.map((variant, n) => ({ ...variant, id: `g${index}-${n}` })),
    },
  })),
);

describe('over generated rulebooks', () => {
  it('every example is true', () => {
    fc.assert(
      fc.property(rulebook, goodsWith, ({ rules }, subjects) => {
        const products = subjects.map((one) => one.product);
        const looked = lookAt(rules, products, {
          visitors: subjects.map(({ visitor }) => visitor),
          moments: subjects.map(({ moment }) => moment),
        });
        for (const one of findingsIn(looked, products))
          if (one.count !== null) expect([one, isTrue(one, looked, products)]).toEqual([one, true]);
      }),
      runs(300),
    );
  });

  it('a closure on top of them hides no rule that never decides', () => {
    const dates = during('2026-12-24T00:00', '2027-01-07T00:00');
    fc.assert(
      fc.property(rulebook, goodsWith, ({ rules }, subjects) => {
        const products = subjects.map((one) => one.product);
        const seen = {
          visitors: subjects.map(({ visitor }) => visitor),
          moments: [NOW, local('2026-12-26T12:00'), ...subjects.map(({ moment }) => moment)],
        };
        const neverWinning = (isOn: boolean) =>
          found([make('frost', NOTICE, dates, isOn), ...rules], products, seen).flatMap(({ rule, about }) =>
            about.kind === 'neverWins' ? [rule] : [],
          );
        expect(neverWinning(true)).toEqual(neverWinning(false));
      }),
      runs(300),
    );
  });

  it('what was planted is found', () => {
    fc.assert(
      fc.property(fc.constantFrom(...KINDS), rulebook, goodsWith, (kind, { rules }, subjects) => {
        const { rules: planted, goods = [product] } = PLANTED[kind];
        // Everything else is about other products.
        const products = subjects.map((one) => one.product);
        const others = rules.map((rule, index) => ({
          ...rule,
          id: `other-${index}`,
          when: {
            all: [rule.when, { fact: 'product.id' as const, op: 'in' as const, value: products.map(({ id }) => id) }],
          },
        }));
        const all = [...goods, ...products];
        expect(found([...planted, ...others], all).map((one) => `${one.about.kind} ${one.rule}`)).toContain(
          `${kind} planted`,
        );
      }),
      runs(400),
    );
  });

  it('nothing that fulfils a condition is said to contradict it', () => {
    fc.assert(
      fc.property(condition, subject, (when, one) => {
        const { test } = compile(book(make('r', NOTICE, when)), LISBON).rules[0] ?? {
          test: () => ({ matches: false }),
        };
        if (contradicts(when, LISBON.zone)) expect(test(one).matches).toBe(false);
      }),
      runs(1000),
    );
  });
});
