import { compile } from '#core/engine/compile.ts';
import { Columns } from '#core/analysis/columns.ts';
import type { FindingKind, QuickFix } from '#core/analysis/finding.ts';
import { Findings, type Looked } from '#core/analysis/findings.ts';
import { RuleMatcher } from '#core/analysis/ruleMatcher.ts';
import type { Outcome } from '#core/aspects/outcome.ts';
import { parseLocal } from '#core/model/calendar.ts';
import type { ProductFacts, Surface, VariantFacts } from '#core/model/subject.ts';
import { toInstant } from '#core/model/zone.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { LISBON } from './arbitraries.ts';
import { finished } from './finished.ts';
import { book, everything, guest, make, product, variant } from './oneVariant.ts';

export const NOTICE: Rule['then'] = { control: { kind: 'notice', text: 'No' } };
export const local = (text: string) => toInstant(LISBON.zone, parseLocal(text) ?? NaN);
export const NOW = local('2026-11-25T12:00');

export const lookAt = (
  rules: readonly Rule[],
  products: readonly ProductFacts[],
  more: Partial<Looked> = {},
): Looked => ({
  rulebook: compile(book(...rules), LISBON),
  visitors: [guest.visitor, { ...guest.visitor, signedIn: true, roles: [{ code: 'member', from: null, until: null }] }],
  moments: [NOW],
  isOfSeller: false,
  roles: ['member', 'trade', 'staff'],
  hasTerms: false,
  methods: new Set(['card', 'invoice']),
  missingPages: new Set(['/gone']),
  ...more,
});

export function found(
  rules: readonly Rule[],
  products: readonly ProductFacts[] = [product],
  more: Partial<Looked> = {},
) {
  return findingsIn(lookAt(rules, products, more), products);
}

export function findingsIn(looked: Looked, products: readonly ProductFacts[]) {
  const findings = new Findings(looked, new RuleMatcher(new Columns(products)));
  finished(findings.look());
  return findings.all();
}

export const stocked = (stock: Partial<VariantFacts['stock']>, more: Partial<ProductFacts> = {}): ProductFacts => ({
  ...product,
  variants: [{ ...variant, stock: { ...variant.stock, ...stock } }],
  ...more,
});
export const onlyOn = (...surfaces: Surface[]): Rule['when'] => ({
  all: [everything, { fact: 'surface', op: 'in', value: surfaces }],
});
export const tagged = (...value: string[]): Rule['when'] => ({ fact: 'product.tags', op: 'hasAny', value });
export const during = (from?: string, until?: string): Rule['when'] => ({
  all: [
    everything,
    { fact: 'moment', op: 'between', value: { ...(from ? { from } : {}), ...(until ? { until } : {}) } },
  ],
});
export const rare = stocked({}, { id: 'rare', tags: ['rare'], variants: [{ ...variant, id: 'r' }] });
export const both = stocked({}, { id: 'both', tags: ['rare', 'late'], variants: [{ ...variant, id: 'b' }] });
export const late = stocked({}, { id: 'late', tags: ['late'], variants: [{ ...variant, id: 'l' }] });

export const LINK: Outcome = { control: { kind: 'link', href: '/c' } };

/** For every kind, rules in which it is found, and the goods it is found by. What is planted is the rule `planted`. */
export const PLANTED: Readonly<
  Record<FindingKind, { rules: Rule[]; goods?: ProductFacts[]; quickFix?: QuickFix['kind'] }>
> = {
  unfinished: { rules: [make('planted', NOTICE, { all: [] })] },
  contradiction: {
    rules: [
      make('planted', NOTICE, { all: [tagged('rare'), { fact: 'product.tags', op: 'hasNone', value: ['Rare '] }] }),
    ],
    quickFix: 'switchOff',
  },
  neverWins: {
    rules: [make('above', LINK), make('planted', NOTICE)],
    quickFix: 'moveAbove',
  },
  idle: { rules: [make('planted', NOTICE), make('below', LINK, tagged('rare'))], goods: [rare] },
  notClosed: {
    rules: [make('above', { control: { kind: 'buy', label: 'Take one' } }, tagged('rare')), make('planted', NOTICE)],
    goods: [rare, late],
    quickFix: 'moveAbove',
  },
  fight: {
    rules: [make('above', LINK, tagged('rare')), make('planted', NOTICE, tagged('late'))],
    goods: [rare, both, late],
    quickFix: 'moveAbove',
  },
  unknownName: { rules: [make('planted', NOTICE, tagged('rares'))], goods: [rare], quickFix: 'useNearest' },
  unknownMethod: { rules: [make('planted', { checkout: { hideMethods: ['cheque'] } })] },
  untrackedStock: {
    rules: [make('planted', NOTICE, { fact: 'stock.quantity', op: 'lte', value: -4 })],
    goods: [stocked({ tracked: false })],
  },
  windowPast: { rules: [make('planted', NOTICE, during(undefined, '2026-11-25'))], quickFix: 'switchOff' },
  windowInverted: { rules: [make('planted', NOTICE, during('2027-03-01', '2027-02-01'))], quickFix: 'swapDates' },
  windowCloses: { rules: [make('planted', NOTICE, during('2026-11-01', '2026-12-02'))] },
  priceShownElsewhere: {
    rules: [make('planted', { price: { show: false } }, onlyOn('listing'))],
    quickFix: 'allPlaces',
  },
  guardLetsThrough: { rules: [make('planted', NOTICE, onlyOn('product'))], quickFix: 'allPlaces' },
  guardRefuses: { rules: [make('planted', NOTICE, onlyOn('product', 'listing'))], quickFix: 'allPlaces' },
  preorderWithoutDate: {
    rules: [make('planted', { control: { kind: 'preorder' } })],
    goods: [stocked({}, { dates: {} })],
  },
  nowhereToSignIn: {
    rules: [make('planted', { control: { kind: 'waitlist', per: 'product', account: 'required' } })],
  },
  preorderWithoutTerms: { rules: [make('planted', { control: { kind: 'preorder' } })] },
  hiddenPriceSold: {
    rules: [make('planted', { price: { show: false }, control: { kind: 'buy' } })],
    quickFix: 'askForPrice',
  },
  waitlistInStock: { rules: [make('planted', { control: { kind: 'waitlist', per: 'product' } })] },
  missingLanguage: { rules: [make('planted', { control: { kind: 'notice', text: { en: 'No' } } })] },
  longLabel: { rules: [make('planted', { control: { kind: 'buy', label: 'Reserve one of these tubers for April' } })] },
  brokenLink: { rules: [make('planted', { control: { kind: 'link', href: '/gone' } })] },
  touchesEverything: { rules: [make('planted', NOTICE)] },
};
export const KINDS = Object.keys(PLANTED) as FindingKind[];
