// Reads what the checks and both test runners reported.
import { existsSync, readFileSync } from 'node:fs';

/** @returns each runner's report; null where it did not run, undefined where it left none */
export function readResults(folder, { steps, runsUnit, runsBrowser }) {
  const read = (file) =>
    existsSync(`${folder}/${file}`) ? JSON.parse(readFileSync(`${folder}/${file}`, 'utf8')) : undefined;
  return { steps, unit: runsUnit ? read('unit.json') : null, browser: runsBrowser ? read('browser.json') : null };
}

/** Adds up checks and tests. A runner that left no report, or found no test, counts as a failure. */
export function tally({ steps, unit, browser }) {
  const total = { passed: 0, failed: 0, skipped: 0 };
  const add = (passed, failed, skipped = 0) => {
    total.passed += passed;
    total.failed += failed;
    total.skipped += skipped;
  };
  for (const { isTests, passed } of steps) if (!isTests) add(passed ? 1 : 0, passed ? 0 : 1);
  if (unit) {
    // A file that could not be loaded has no tests to count.
    const broken = unit.testResults.filter(
      ({ status, assertionResults }) => status === 'failed' && assertionResults.length === 0,
    );
    add(unit.numPassedTests, unit.numFailedTests + broken.length, unit.numPendingTests + unit.numTodoTests);
  }
  if (browser) {
    const { expected, unexpected, flaky, skipped } = browser.stats;
    add(expected, unexpected + flaky + browser.errors.length, skipped);
  }
  for (const [report, name] of [
    [unit, 'unit and API tests'],
    [browser, 'browser tests'],
  ]) {
    const failed = steps.some((step) => step.name === name && !step.passed);
    if (report === undefined || (failed && total.failed === 0)) add(0, 1);
  }
  return total;
}

function* testsIn(suite) {
  for (const spec of suite.specs ?? [])
    for (const test of spec.tests) yield { file: spec.file, title: spec.title, test };
  for (const inner of suite.suites ?? []) yield* testsIn(inner);
}
const browserTests = ({ browser }) => (browser?.suites ?? []).flatMap((suite) => [...testsIn(suite)]);

/** Names every failed test, with the folder or log that shows why. */
export function failures(results, folder) {
  const lines = (results.unit?.testResults ?? []).flatMap(({ name, status, assertionResults }) => {
    const failed = assertionResults.filter((one) => one.status === 'failed').map(({ fullName }) => fullName);
    return status === 'failed' ? [`✗ ${name}: ${failed.join('; ') || 'could not be loaded'}`] : [];
  });
  for (const { file, title, test } of browserTests(results)) {
    if (test.status === 'expected' || test.status === 'skipped') continue;
    const [shot] = (test.results[0]?.attachments ?? []).filter(({ path }) => path !== undefined);
    lines.push(`✗ ${file}: ${title}: ${shot ? shot.path.replace(/\/[^/]*$/, '') : folder}`);
  }
  return lines.length === 0 ? [] : ['', ...lines, `Logs of the run: ${folder}`];
}

/** Tabulates CPU seconds: of each step, and of each browser test with those of servers, browsers and runner. */
export function cpuTable(results, { tests, postgres }) {
  const row = (...cells) => cells.map((cell, at) => (at === 0 ? String(cell).padEnd(90) : cell.padStart(9))).join('');
  const seconds = (value) => value.toFixed(1);
  const lines = ['', row('step', 'wall s', 'CPU s')];
  for (const { name, wall, cpu } of results.steps) lines.push(row(name, seconds(wall), seconds(cpu)));
  lines.push(row('PostgreSQL, all steps', '', seconds(postgres)));
  if (!tests) return lines.join('\n');
  lines.push('', row('browser test', 'wall s', 'server', 'browser', 'runner'));
  const measured = browserTests(results).map(({ file, title, test }) => {
    const [run] = test.results;
    const note = test.annotations.find(({ type }) => type === 'cpu')?.description;
    return { what: `${file} ${title}`.slice(0, 88), wall: run.duration / 1000, ...JSON.parse(note ?? '{}') };
  });
  const cost = ({ server = 0, browser = 0, runner = 0 }) => server + browser + runner;
  for (const one of measured.sort((a, b) => cost(b) - cost(a)))
    lines.push(row(one.what, ...[one.wall, one.server ?? 0, one.browser ?? 0, one.runner ?? 0].map(seconds)));
  const sum = (part) => seconds(measured.reduce((total, one) => total + (one[part] ?? 0), 0));
  lines.push(row('all', sum('wall'), sum('server'), sum('browser'), sum('runner')));
  return lines.join('\n');
}
