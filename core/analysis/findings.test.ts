import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { condition, LISBON, rulebook, subject } from '#tests/support/arbitraries.ts';
import { book, everything, guest, make, product, variant } from '#tests/support/oneVariant.ts';
import { compile } from '../engine/compile.ts';
import { decide } from '../engine/decide.ts';
import { guardLines } from '../engine/guard.ts';
import { isBought } from '../controls/controls.ts';
import type { ProductSubject, ProductFacts, Surface, VariantFacts } from '../model/subject.ts';
import { toInstant } from '../model/zone.ts';
import { parseLocal } from '../model/calendar.ts';
import { trace } from '../engine/trace.ts';
import type { Outcome } from '../aspects/outcome.ts';
import type { Rule } from '../rulebook/rulebook.ts';
import { shipDates } from '../fulfilment/shipping.ts';
import { contradicts } from './contradiction.ts';
import { SEVERITY, type Finding, type FindingKind } from './finding.ts';
import { finished } from '#tests/support/finished.ts';
import { Columns } from './columns.ts';
import { RuleMatcher } from './ruleMatcher.ts';
import { Findings, type Looked } from './findings.ts';

const NOTICE: Rule['then'] = { control: { kind: 'notice', text: 'No' } };
const local = (text: string) => toInstant(LISBON.zone, parseLocal(text) ?? NaN);
const NOW = local('2026-11-25T12:00');

const lookAt = (rules: readonly Rule[], products: readonly ProductFacts[], more: Partial<Looked> = {}): Looked => ({
  rulebook: compile(book(...rules), LISBON),
  visitors: [guest.visitor, { ...guest.visitor, signedIn: true, roles: [{ code: 'member', from: null, until: null }] }],
  moments: [NOW],
  roles: ['member', 'trade', 'staff'],
  hasTerms: false,
  methods: new Set(['card', 'invoice']),
  missingPages: new Set(['/gone']),
  ...more,
});

function found(rules: readonly Rule[], products: readonly ProductFacts[] = [product], more: Partial<Looked> = {}) {
  return findingsIn(lookAt(rules, products, more), products);
}

function findingsIn(looked: Looked, products: readonly ProductFacts[]) {
  const findings = new Findings(looked, new RuleMatcher(new Columns(products)));
  finished(findings.look());
  expect(findings.products).toBe(products.length);
  return findings.all();
}

const stocked = (stock: Partial<VariantFacts['stock']>, more: Partial<ProductFacts> = {}): ProductFacts => ({
  ...product,
  variants: [{ ...variant, stock: { ...variant.stock, ...stock } }],
  ...more,
});
const onlyOn = (...surfaces: Surface[]): Rule['when'] => ({
  all: [everything, { fact: 'surface', op: 'in', value: surfaces }],
});
const tagged = (...value: string[]): Rule['when'] => ({ fact: 'product.tags', op: 'hasAny', value });
const during = (from?: string, until?: string): Rule['when'] => ({
  all: [
    everything,
    { fact: 'moment', op: 'between', value: { ...(from ? { from } : {}), ...(until ? { until } : {}) } },
  ],
});
const rare = stocked({}, { id: 'rare', tags: ['rare'], variants: [{ ...variant, id: 'r' }] });
const both = stocked({}, { id: 'both', tags: ['rare', 'late'], variants: [{ ...variant, id: 'b' }] });
const late = stocked({}, { id: 'late', tags: ['late'], variants: [{ ...variant, id: 'l' }] });

const LINK: Outcome = { control: { kind: 'link', href: '/c' } };

/** For every kind, rules in which it is found, and the goods it is found by. What is planted is the rule `planted`. */
const PLANTED: Readonly<Record<FindingKind, { rules: Rule[]; goods?: ProductFacts[]; mended?: RegExp }>> = {
  unfinished: { rules: [make('planted', NOTICE, { all: [] })] },
  contradiction: {
    rules: [
      make('planted', NOTICE, { all: [tagged('rare'), { fact: 'product.tags', op: 'hasNone', value: ['Rare '] }] }),
    ],
    mended: /off/,
  },
  neverWins: {
    rules: [make('above', LINK), make('planted', NOTICE)],
    mended: /above “/,
  },
  idle: { rules: [make('planted', NOTICE), make('below', LINK, tagged('rare'))], goods: [rare] },
  notClosed: {
    rules: [make('above', { control: { kind: 'buy', label: 'Take one' } }, tagged('rare')), make('planted', NOTICE)],
    goods: [rare, late],
    mended: /above “Tagged rare”/,
  },
  fight: {
    rules: [make('above', LINK, tagged('rare')), make('planted', NOTICE, tagged('late'))],
    goods: [rare, both, late],
    mended: /above “Tagged rare”/,
  },
  unknownName: { rules: [make('planted', NOTICE, tagged('rares'))], goods: [rare], mended: /Change it to “rare”/ },
  untrackedStock: {
    rules: [make('planted', NOTICE, { fact: 'stock.quantity', op: 'lte', value: -4 })],
    goods: [stocked({ tracked: false })],
  },
  windowPast: { rules: [make('planted', NOTICE, during(undefined, '2026-11-25'))], mended: /off/ },
  windowInverted: { rules: [make('planted', NOTICE, during('2027-03-01', '2027-02-01'))], mended: /Swap/ },
  windowCloses: { rules: [make('planted', NOTICE, during('2026-11-01', '2026-12-02'))] },
  priceShownElsewhere: {
    rules: [make('planted', { price: { show: false } }, onlyOn('listing'))],
    mended: /all places/,
  },
  guardLetsThrough: { rules: [make('planted', NOTICE, onlyOn('product'))], mended: /all places/ },
  guardRefuses: { rules: [make('planted', NOTICE, onlyOn('product', 'listing'))], mended: /all places/ },
  preorderWithoutDate: {
    rules: [make('planted', { control: { kind: 'preorder' } })],
    goods: [stocked({}, { dates: {} })],
  },
  preorderWithoutTerms: { rules: [make('planted', { control: { kind: 'preorder' } })] },
  hiddenPriceSold: {
    rules: [make('planted', { price: { show: false }, control: { kind: 'buy' } })],
    mended: /Ask for the price/,
  },
  waitlistInStock: { rules: [make('planted', { control: { kind: 'waitlist', per: 'product' } })] },
  missingLanguage: { rules: [make('planted', { control: { kind: 'notice', text: { en: 'No' } } })] },
  longLabel: { rules: [make('planted', { control: { kind: 'buy', label: 'Reserve one of these tubers for April' } })] },
  brokenLink: { rules: [make('planted', { control: { kind: 'link', href: '/gone' } })] },
  touchesEverything: { rules: [make('planted', NOTICE)] },
};
const KINDS = Object.keys(PLANTED) as FindingKind[];

describe('findings', () => {
  it.each(KINDS)('say of the rule that it is: %s, how bad that is, and what mends it', (kind) => {
    const { rules, goods = [product], mended } = PLANTED[kind];
    const mine = found(rules, goods).find((one) => one.kind === kind && one.rule === 'planted');
    expect(mine?.text).toMatch(/“.+”.*[.]$/);
    if (!mended) expect(mine?.mend).toBeNull();
    else expect(mine?.mend?.label).toMatch(mended);
    // What mends it is rid of it.
    const { mend = null } = mine ?? {};
    if (!mend) return;
    const after =
      'moveAbove' in mend
        ? [...rules].reverse()
        : rules.flatMap((rule) => (rule.id !== 'planted' ? [rule] : mend.becomes ? [mend.becomes] : []));
    const isThere = (one: Finding) => one.kind === kind && one.rule === 'planted';
    expect(found(after, goods).some(isThere)).toBe(false);
  });

  it('name payment methods that the shop does not have, where those are known', () => {
    const rule = make('r', { checkout: { hideMethods: ['card', 'cheque'] } });
    const findingsFor = (methods: ReadonlySet<string> | null) =>
      found([rule], [rare], { methods }).flatMap(({ kind, text }) => (kind === 'unknownName' ? text : []));
    expect(findingsFor(new Set(['card', 'invoice']))).toEqual([
      expect.stringMatching(/hides the payment method “cheque”, which the shop does not have\.$/),
    ]);
    expect(findingsFor(null)).toEqual([]);
  });

  it('stand with the worst first', () => {
    const rules = [PLANTED.longLabel, PLANTED.brokenLink].map(
      ({ rules: [rule] }, index) => ({ ...rule, id: `r${index}` }) as Rule,
    );
    expect(found(rules).map(({ kind }) => SEVERITY[kind])).toEqual(expect.arrayContaining(['fault', 'note']));
    expect(found(rules)[0]?.kind).toBe('brokenLink');
  });

  it('are none where there is nothing to say', () => {
    const rule = make('r', { control: { kind: 'notice', text: 'Not now' } }, tagged('rare'));
    expect(found([rule], [rare, late])).toEqual([]);
  });

  it('take the date of the goods themselves for a word about when a pre-order ships', () => {
    const rule = make('r', { control: { kind: 'preorder' } }, tagged('late'));
    const dated = { ...late, dates: { ships: '2027-03-15' } };
    const of = (goods: readonly ProductFacts[]) =>
      found([rule], [rare, ...goods], { hasTerms: true }).map(({ text, witness }) => [text, witness?.product]);
    expect(of([dated])).toEqual([]);
    expect(of([dated, { ...both, dates: {} }])).toEqual([
      ['“Tagged late” takes pre-orders of one variant without saying when it ships.', 'both'],
    ]);
  });

  it('name once, with a closure, all that it makes idle', () => {
    const below = ['a', 'b', 'c', 'd', 'e'].map((id) => make(id, LINK, tagged('rare')));
    const pause = make('pause', { ...NOTICE, cart: { open: false } });
    const all = found([pause, ...below], [rare]).filter(({ kind }) => kind === 'idle' || kind === 'neverWins');
    expect(all.map(({ kind, rule }) => [kind, rule])).toEqual([['idle', 'pause']]);
    expect(all[0]?.text).toMatch(/, and 2 more would decide: meanwhile they decide nothing\.$/);
  });

  it('never move a rule past a closure', () => {
    const member = { fact: 'visitor.signedIn', op: 'is', value: true } as const;
    const rules = [
      make('above', LINK, tagged('rare')),
      make('closed', NOTICE, { all: [tagged('late'), member] }),
      make('below', { control: { kind: 'quote' } }, tagged('rare')),
    ];
    const never = found(rules, [rare, late]).find(({ kind }) => kind === 'neverWins');
    expect(never).toMatchObject({ rule: 'below', other: 'above', mend: null });
    // A rule for some people above a closure is an exception that is meant.
    const staff = [
      make('staff', { control: { kind: 'buy' } }, { all: [tagged('rare'), member] }),
      make('closed', NOTICE),
    ];
    expect(found(staff, [rare]).map(({ kind }) => kind)).not.toContain('notClosed');
  });

  it('take an exception above what it is one to for no fight', () => {
    const rules = [make('above', { control: { kind: 'nothing' } }, tagged('rare')), make('below', NOTICE)];
    expect(found(rules, [rare, late]).map(({ kind }) => kind)).toEqual(['touchesEverything']);
  });
});

/** Whether deciding a finding's witness shows what it says. */
function isTrue({ kind, rule, other, witness }: Finding, looked: Looked, products: readonly ProductFacts[]): boolean {
  if (!witness) return false;
  const goods = products.find(({ id }) => id === witness.product);
  const variant = goods?.variants.find(({ id }) => id === witness.variant);
  const visitor = looked.visitors[witness.visitor];
  if (!goods || !variant || !visitor) return false;
  const at: ProductSubject = {
    product: goods,
    variant,
    visitor,
    moment: witness.moment,
    surface: witness.surface,
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
  switch (kind) {
    case 'neverWins':
      return here?.decided.length === 0 && here.outcome !== 'fails';
    case 'idle':
      return traced.get(other ?? '')?.decided.length === 0;
    case 'notClosed':
      return (
        here?.decided.includes('control') === false && traced.get(other ?? '')?.decided.includes('control') === true
      );
    case 'fight': {
      const aspects = compiled.rules.find((one) => one.rule.id === rule)?.aspects ?? [];
      const won = traced.get(other ?? '')?.decided ?? [];
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
  it('every witness is true', () => {
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
      { numRuns: 300 },
    );
  });

  it('what was planted is found', () => {
    fc.assert(
      fc.property(fc.constantFrom(...KINDS), rulebook, goodsWith, (kind, { rules }, subjects) => {
        const { rules: planted, goods = [product] } = PLANTED[kind];
        // Whatever else there is is about other goods.
        const products = subjects.map((one) => one.product);
        const others = rules.map((rule, index) => ({
          ...rule,
          id: `other-${index}`,
          when: {
            all: [rule.when, { fact: 'product.id' as const, op: 'in' as const, value: products.map(({ id }) => id) }],
          },
        }));
        const all = [...goods, ...products];
        expect(found([...planted, ...others], all).map((one) => `${one.kind} ${one.rule}`)).toContain(
          `${kind} planted`,
        );
      }),
      { numRuns: 400 },
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
      { numRuns: 1000 },
    );
  });
});
