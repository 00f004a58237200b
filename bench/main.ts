import { cpus } from 'node:os';
import type { Audience } from '#core/contract/audienceCalls.ts';
import { setOf } from '#core/aspects/aspects.ts';
import { compile } from '#core/engine/compile.ts';
import { decide } from '#core/engine/decide.ts';
import type { ProductSubject } from '#core/model/subject.ts';
import { trace } from '#core/engine/trace.ts';
import { winners } from '#core/engine/winners.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { makeJob, subjectsOf, type Job } from './job.ts';
import { ratesOf, timeOf } from './measure.ts';
import { FIVE, handWritten, jsonLogic, type Winning } from './peers.ts';
import { cellsOf, rowsOf } from '#web/proof/proofRows.ts';

/**
 * Measures the decision against its peers in one run, after checking that all of them agree, and prints the tables of
 * docs/performance.md. What is compared is a ratio within the run, as machines and their noise differ.
 */
const job = makeJob({ rules: 200, products: 700 });
const large = makeJob({ rules: 2000, products: 700 });
const subjects = subjectsOf(job, 4000);
const largeSubjects = subjectsOf(large, 4000);

const ASPECT_SET = setOf(FIVE);
const ours = (of: Job): Winning => {
  const compiled = compile(of.rulebook, of.shop);
  return (subject) => {
    const { by } = winners(compiled, subject, ASPECT_SET);
    return FIVE.map((aspect) => by[aspect]?.rule.id);
  };
};
const small = { ours: ours(job), closures: handWritten(job), 'json-logic-engine': jsonLogic(job) };
const big = { ours: ours(large), closures: handWritten(large) };
agree(subjects, small);
agree(largeSubjects, big);

const everyOne = (way: Winning, list: readonly ProductSubject[]) => () => {
  for (const subject of list) way(subject);
  return list.length;
};
const rates = ratesOf({
  ours: everyOne(small.ours, subjects),
  closures: everyOne(small.closures, subjects),
  'json-logic-engine': everyOne(small['json-logic-engine'], subjects),
  large: everyOne(big.ours, largeSubjects),
});

/** Facts that no index has met, as a server's are that has just read them: many to a product, as on its page. */
const fresh = Array.from({ length: 20 }, () => structuredClone(subjects));
const freshUs = (timeOf(() => everyOne(small.ours, fresh.pop() ?? [])(), 19) / subjects.length) * 1000;

const compiled = compile(job.rulebook, job.shop);
const wholeUs =
  (timeOf(() => {
    subjects.forEach((subject) => decide(compiled, subject));
  }) /
    subjects.length) *
  1000;
const compileMs = timeOf(() => compile(job.rulebook, job.shop));
const compileLargeMs = timeOf(() => compile(large.rulebook, large.shop));
const traceMs =
  timeOf(() => {
    subjects.slice(0, 200).forEach((subject) => trace(compiled, subject));
  }) / 200;

const AUDIENCES: Audience[] = [[], [], ['member'], ['trade'], ['staff'], ['friend']].map((roles, index) => ({
  name: `Audience ${index}`,
  signedIn: index > 0,
  roles,
  customer: null,
  invited: false,
}));
const proofMs = timeOf(() => {
  const last = job.rulebook.rules.at(-1);
  // A keystroke makes a new rule, and so a new rulebook.
  const draft: Rulebook = {
    ...job.rulebook,
    rules: [...job.rulebook.rules.slice(0, -1), ...(last ? [{ ...last }] : [])],
  };
  const proof = {
    draft: compile(draft, job.shop),
    live: compiled,
    audiences: AUDIENCES,
    surface: 'product',
    moment: job.moment,
  } as const;
  for (const row of rowsOf(job.products.slice(0, 8), 'product').slice(0, 8)) cellsOf(row, 'rule-1', proof);
});

const [cpu] = cpus();
const of = (name: keyof typeof rates) => rates[name] ?? 0;
const times = (ratio: number) => `${ratio.toFixed(1)}×`;
const perSecond = (rate: number) => Math.round(rate).toLocaleString('en-GB');
console.log(`${new Date().toISOString().slice(0, 10)} · ${cpu?.model ?? 'unknown'}, ${cpus().length} cores · Node ${process.version}

All agree on the winners of ${subjects.length} decisions at 200 rules, and ${largeSubjects.length} at 2,000.

| winners of five aspects, one variant, warm | decisions/s | against closures |
|---|---|---|
| closures over sets, by hand | ${perSecond(of('closures'))} | 1 |
| json-logic-engine, compiled | ${perSecond(of('json-logic-engine'))} | ${times(of('json-logic-engine') / of('closures'))} |
| ours, 200 rules | ${perSecond(of('ours'))} | ${times(of('ours') / of('closures'))} |
| ours, 2,000 rules | ${perSecond(of('large'))} | ${times(of('large') / of('closures'))} |

| what | measured | goal |
|---|---|---|
| against closures by hand | ${times(of('ours') / of('closures'))} | at least 10× |
| against json-logic-engine | ${times(of('ours') / of('json-logic-engine'))} | at least 12× |
| 2,000 rules against 200 | ${times(of('ours') / of('large'))} slower | under 3× |
| winners for facts never seen before | ${freshUs.toFixed(1)} µs | |
| the whole decision, with expiry and texts | ${wholeUs.toFixed(1)} µs | at most 20 µs |
| compile 200 rules | ${compileMs.toFixed(1)} ms | under 20 ms |
| compile 2,000 rules | ${compileLargeMs.toFixed(0)} ms | under 200 ms |
| trace of one decision | ${traceMs.toFixed(2)} ms | under 1 ms |
| proof of 8 variants and 6 audiences, with its compile | ${proofMs.toFixed(1)} ms | under 16 ms |`);

/** @throws {Error} at the first decision on which two ways differ */
function agree(list: readonly ProductSubject[], ways: Readonly<Record<string, Winning>>): void {
  const [reference, ...others] = Object.entries(ways);
  for (const subject of list) {
    const wanted = JSON.stringify(reference?.[1](subject));
    for (const [name, way] of others) {
      const found = JSON.stringify(way(subject));
      if (found !== wanted) throw new Error(`${name} says ${found}, not ${wanted}, of ${JSON.stringify(subject)}`);
    }
  }
}
