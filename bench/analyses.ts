import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { calendar, catalogOf, findings, impactIndex, impactPage, rows } from '../server/rehearsal/analyses.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { finished } from '#tests/support/finished.ts';
import { makeJob } from './job.ts';

/** Measures what looks over the whole catalog: 300,000 variants, 200 rules, six audiences. `npm run bench analyses`. */
const VARIANTS = 300_000;
const EDITS = 9;
const job = makeJob({ rules: 200, products: VARIANTS / 3 });
const { products, rulebook } = job;
const base = {
  shop: job.shop,
  audiences: job.visitors.map(({ signedIn, roles }) => ({ signedIn, roles: roles.map(({ code }) => code) })),
  moment: job.moment,
};
const editedAt = (place: number): Rulebook => ({
  ...rulebook,
  rules: rulebook.rules.map((rule, index) =>
    index === place ? { ...rule, then: { control: { kind: 'nothing' as const } } } : rule,
  ),
});
setFlagsFromString('--expose-gc');
const collect = runInNewContext('gc') as () => void;
const seconds = (work: () => unknown): number => {
  const begun = performance.now();
  work();
  return (performance.now() - begun) / 1000;
};
function timed<Answer>(what: string, goal: string, work: () => Answer): Answer {
  let answer: Answer | undefined;
  const took = seconds(() => {
    answer = work();
  });
  console.log(`| ${what} | ${took.toFixed(2)} s | ${goal} |`);
  return answer as Answer;
}

console.log('| over the whole catalog | measured | goal |\n| --- | --- | --- |');
collect();
const before = process.memoryUsage().heapUsed;
const catalog = timed('its columns', '1.5 s with the next', () => catalogOf(products));
const impact = { ...base, surface: 'product', days: 0, before: rulebook } as const;
const question = { ...impact, after: editedAt(0) };
timed('impact of one edited rule, the first time', '', () => finished(impactIndex(catalog, question)));
const edits = Array.from({ length: EDITS }, (_, edit) =>
  seconds(() => finished(impactIndex(catalog, { ...impact, after: editedAt(edit + 1) }))),
).sort((a, b) => a - b);
const listed = edits.map((took) => took.toFixed(2)).join(', ');
console.log(`| impact of another edited rule, nine of them: ${listed} | ${edits[4]?.toFixed(2)} s | 0.1 s |`);
const reversed = { ...impact, after: { ...rulebook, rules: [...rulebook.rules].reverse() } };
timed('impact of all rules in another order, the first time', '', () => finished(impactIndex(catalog, reversed)));
const index = timed('the same again', '0.4 s', () => finished(impactIndex(catalog, reversed)));
timed('a page of its changes, searched', '', () =>
  impactPage(catalog, reversed, index, { search: 'size 1', skip: 100, limit: 50 }),
);
timed('impact of one edited rule, at every change within 30 days', '', () =>
  finished(impactIndex(catalog, { ...question, days: 30 })),
);
timed('impact of one edited rule on listings', '', () =>
  finished(impactIndex(catalog, { ...impact, after: editedAt(7), surface: 'listing' })),
);
timed('representative rows', '', () =>
  finished(rows(catalog, { ...base, rulebook, moments: [job.moment], surfaces: ['product', 'listing'] })),
);
const found = timed('findings, within 20 s', '', () =>
  finished(
    findings(catalog, {
      ...base,
      rulebook,
      roles: ['member', 'trade', 'staff', 'friend'],
      hasTerms: true,
      missingPages: [],
      methods: null,
      within: 20_000,
    }),
  ),
);
timed('calendar of 30 days', '', () => finished(calendar(catalog, { ...base, rulebook, days: 30 })));
collect();
const { heapUsed, arrayBuffers } = process.memoryUsage();
console.log(
  `${catalog.columns.rows} variants of ${products.length} products; ${index.changes.row.length} changes by the other order; findings looked through ${found.looked} products; beside the goods, ${Math.round((heapUsed - before + arrayBuffers) / 1e6)} MB.`,
);
