import { writeFileSync } from 'node:fs';
import { setOf } from '#core/aspects/aspects.ts';
import { compile } from '#core/engine/compile.ts';
import { decide } from '#core/engine/decide.ts';
import { winners } from '#core/engine/winners.ts';
import type { ProductSubject, VisitorFacts } from '#core/model/subject.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { finished } from '#tests/support/finished.ts';
import { catalogOf, impactIndex } from '../server/rehearsal/analyses.ts';
import { makeJob, subjectsOf, type Job } from './job.ts';
import { timeOf } from './measure.ts';
import { FIVE } from './peers.ts';
import { drawn, type Panel } from './drawn.ts';

/** Measures how the cost of things grows with rules, visitors, products and audiences, prints it, and draws docs/scale.svg. */
const RULES = [20, 50, 100, 200, 500, 1000, 2000];
const VISITORS = [1, 10, 100, 1000, 10_000];
const PRODUCTS = [100, 1000, 10_000, 100_000];
const AUDIENCES = [1, 2, 4, 8, 16, 32];
const ASPECTS = setOf(FIVE);

/** µs of one, when all are decided. */
function usOf(job: Job, subjects: readonly ProductSubject[], times = 9): number {
  const compiled = compile(job.rulebook, job.shop);
  const all = () => {
    for (const subject of subjects) decide(compiled, subject);
  };
  all();
  return (timeOf(all, times) / subjects.length) * 1000;
}

/** µs of one whose facts no index has met. */
function freshUsOf(job: Job, subjects: readonly ProductSubject[]): number {
  const compiled = compile(job.rulebook, job.shop);
  const fresh = Array.from({ length: 9 }, () => structuredClone(subjects));
  const all = () => {
    for (const subject of fresh.pop() ?? []) winners(compiled, subject, ASPECTS);
  };
  return (timeOf(all) / subjects.length) * 1000;
}

const edited = ({ rulebook }: Job, place: number): Rulebook => ({
  ...rulebook,
  rules: rulebook.rules.map((rule, index) =>
    index === place ? { ...rule, then: { control: { kind: 'nothing' as const } } } : rule,
  ),
});

/** Seconds that the impact of one edited rule takes: the median of some rules. */
function impactOf(job: Job, catalog: ReturnType<typeof catalogOf>, audiences: number): number {
  const base = {
    shop: job.shop,
    audiences: Array.from({ length: audiences }, (_, index) => ({
      signedIn: index > 0,
      roles: [`role ${index}`, 'member'],
    })),
    moment: job.moment,
    surface: 'product',
    days: 0,
    before: job.rulebook,
  } as const;
  let place = 0;
  const once = () => finished(impactIndex(catalog, { ...base, after: edited(job, (place += 1)) }));
  once();
  return timeOf(once, 5) / 1000;
}

const rulesAt = (rules: number) => {
  const some = makeJob({ rules, products: 700 });
  const subjects = subjectsOf(some, 2000);
  const compileMs = timeOf(() => compile(some.rulebook, some.shop), 5);
  return { at: rules, warm: usOf(some, subjects), fresh: freshUsOf(some, subjects), compileMs };
};
// Warms up first: the first measurement would include compilation.
rulesAt(200);
const byRules = RULES.map(rulesAt);

const job = makeJob({ rules: 200, products: 700 });
const byVisitors = VISITORS.map((count) => {
  const visitors = Array.from({ length: count }, (_, index): VisitorFacts => {
    const like = job.visitors[index % job.visitors.length]!;
    return { ...like, customerId: like.signedIn ? `c-${index}` : null };
  });
  const subjects = subjectsOf({ ...job, visitors }, 20_000);
  return { at: count, warm: usOf(job, subjects, 3) };
});

const productsAt = (products: number) => {
  const large = makeJob({ rules: 200, products });
  const columns = timeOf(() => catalogOf(large.products), 3) / 1000;
  return { at: products, columns, impact: impactOf(large, catalogOf(large.products), 6) };
};
productsAt(3000);
const byProducts = PRODUCTS.map(productsAt);

const many = makeJob({ rules: 200, products: 30_000 });
const goods = catalogOf(many.products);
const byAudiences = AUDIENCES.map((audiences) => ({ at: audiences, impact: impactOf(many, goods, audiences) }));

const line = <Row extends { at: number }>(name: string, rows: readonly Row[], of: (row: Row) => number) => ({
  name,
  points: rows.map((row) => ({ x: row.at, y: of(row) })),
});
const panels: readonly Panel[] = [
  {
    title: 'Rules',
    unit: 'µs a decision',
    lines: [
      line('facts met before', byRules, ({ warm }) => warm),
      line('facts never met', byRules, ({ fresh }) => fresh),
    ],
  },
  { title: 'Rules', unit: 'ms to compile them', lines: [line('', byRules, ({ compileMs }) => compileMs)] },
  { title: 'Different visitors', unit: 'µs a decision', lines: [line('', byVisitors, ({ warm }) => warm)] },
  {
    title: 'Products',
    unit: 'seconds',
    lines: [
      line('columns', byProducts, ({ columns }) => columns),
      line('impact of one edited rule', byProducts, ({ impact }) => impact),
    ],
  },
  {
    title: 'Audiences',
    unit: 'seconds of impact, 30,000 products',
    lines: [line('', byAudiences, ({ impact }) => impact)],
  },
];
for (const { title, unit, lines } of panels)
  for (const { name, points } of lines)
    console.log(
      `${title}, ${unit}${name && `, ${name}`}: ${points.map(({ x, y }) => `${x} → ${y.toPrecision(3)}`).join('; ')}`,
    );
writeFileSync('docs/scale.svg', drawn(panels));
