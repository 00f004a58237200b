import { calendar, catalogOf, findings, impactIndex, impactPage, rows } from '../server/rehearsal/analyses.ts';
import { finished } from '#tests/support/finished.ts';
import { makeJob } from './job.ts';

/** Measures what looks over the whole catalog: 300,000 variants, 200 rules, six audiences. `npm run bench analyses`. */
const VARIANTS = 300_000;
const job = makeJob({ rules: 200, products: VARIANTS / 3 });
const { products } = job;
const base = {
  shop: job.shop,
  audiences: job.visitors.map(({ signedIn, roles }) => ({ signedIn, roles: roles.map(({ code }) => code) })),
  moment: job.moment,
};
/** What takes long is measured on a tenth. */
const tenth = catalogOf(products.slice(0, products.length / 10));
const { rulebook } = job;
const [first, ...others] = rulebook.rules;
if (!first) throw new Error('a job has rules');
const edited = { ...rulebook, rules: [{ ...first, then: { control: { kind: 'nothing' as const } } }, ...others] };
const reversed = { ...rulebook, rules: [...rulebook.rules].reverse() };

console.log('| over the whole catalog | measured | goal |\n| --- | --- | --- |');
function timed<Answer>(what: string, goal: string, work: () => Answer): Answer {
  const begun = performance.now();
  const answer = work();
  console.log(`| ${what} | ${((performance.now() - begun) / 1000).toFixed(2)} s | ${goal} |`);
  return answer;
}

const catalog = timed('its index', '', () => catalogOf(products));
const impact = { ...base, surface: 'product', days: 0, before: rulebook } as const;
timed('impact of one edited rule, the first time', '1.5 s', () =>
  finished(impactIndex(catalog, { ...impact, after: edited })),
);
const question = { ...impact, after: { ...edited, rules: edited.rules.toSpliced(9, 1) } };
const index = timed('impact of two edited rules, after that', '0.1 s', () => finished(impactIndex(catalog, question)));
timed('a page of its changes, searched', '', () =>
  impactPage(catalog, question, index, { search: 'size 1', skip: 100, limit: 50 }),
);
timed('impact of all rules in another order', '0.4 s', () =>
  finished(impactIndex(catalog, { ...impact, after: reversed })),
);
timed('representative rows of a tenth', '', () =>
  finished(rows(tenth, { ...base, rulebook, moments: [job.moment], surfaces: ['product', 'listing'] })),
);
const found = timed('findings of a tenth, within 20 s', '', () =>
  finished(
    findings(tenth, {
      ...base,
      rulebook,
      roles: ['member', 'trade', 'staff', 'friend'],
      hasTerms: true,
      missingPages: [],
      within: 20_000,
    }),
  ),
);
timed('calendar of a tenth, 7 days', '', () => finished(calendar(tenth, { ...base, rulebook, days: 7 })));
const variants = catalog.columns.rows;
console.log(
  `${variants} variants of ${products.length} products; findings looked through ${found.looked} of ${tenth.products.length}.`,
);
