// Runs what bin/test was asked to run, side by side where that saves time, and reports it. TEST_PG_URL and TEST_PG_PID name
// the PostgreSQL to use.
import { spawn, spawnSync } from 'node:child_process';
import { createWriteStream, existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { parseArgs } from 'node:util';
import pg from 'pg';
import { cpuSeconds, processTree } from './cpuTime.mjs';
import { cpuTable, failures, readResults, tally } from './testResults.mjs';
import { shiftOf, startDate } from './testClock.mjs';

const { values, positionals: files } = parseArgs({
  allowPositionals: true,
  options: {
    changed: { type: 'boolean', default: false },
    long: { type: 'boolean', default: false },
    measure: { type: 'boolean', default: false },
    at: { type: 'string' },
    seed: { type: 'string' },
  },
});
/** Each run has a folder of its own, with its reports and logs, and a folder for each browser test that failed. */
const RUNS = '.data/test-runs';
const KEPT_RUNS = 5;
const RESULTS = `${RUNS}/${new Date().toISOString().slice(0, 19).replaceAll(':', '')}-${process.pid}`;
mkdirSync(`${RESULTS}/logs`, { recursive: true });
for (const old of readdirSync(RUNS).sort().slice(0, -KEPT_RUNS))
  rmSync(`${RUNS}/${old}`, { recursive: true, force: true });

const seed = Number(values.seed ?? new Date().toISOString().slice(0, 10).replaceAll('-', ''));
const at = values.at === undefined ? null : startDate(values.at, seed);
say(`Seed ${seed}${at ? `, starting at ${at.toISOString()}, TZ ${process.env.TZ ?? 'as set here'}` : ''}`);
Object.assign(process.env, { TEST_RESULTS: RESULTS, TEST_SEED: String(seed), ...(values.long && { TEST_LONG: '1' }) });
if (at) await shiftClocks(at);

const steps = [];
const isTest = (file) => /\.(test|spec)\.tsx?$/.test(file);
const unknown = files.filter((file) => !existsSync(file) || !isTest(file));
if (unknown.length > 0) {
  say(`Not a test file: ${unknown.join(', ')}`);
  process.exit(2);
}
const browserFiles = files.filter((file) => file.endsWith('.spec.ts'));
const unitFiles = files.filter((file) => !file.endsWith('.spec.ts'));
const isWhole = files.length === 0;
const runsUnit = isWhole || unitFiles.length > 0;
const runsBrowser = isWhole || browserFiles.length > 0;

await Promise.all([isWhole ? runChecks() : undefined, runTests()]);
const results = readResults(RESULTS, { steps, runsUnit, runsBrowser });
for (const line of failures(results, RESULTS)) say(line);
say(cpuTable(results, { tests: values.measure, postgres: cpuSeconds(processTree(process.env.TEST_PG_PID)) }));
const { passed, failed, skipped } = tally(results);
console.log(`${passed} passed, ${failed} failed, ${skipped} skipped`);
process.exitCode = failed > 0 ? 1 : 0;

async function runChecks() {
  await step('format', ['node_modules/.bin/oxfmt', '--check', '.']);
  // Uses one checker per program, since each one infers shared types again: half the CPU time of the default four.
  await step('types', ['node', 'node_modules/typescript-7/bin/tsc', '-b', '--checkers', '1']);
  // Limits the linter to one checker through Go's runtime, since it has no option for that.
  await step('lint', ['node_modules/.bin/oxlint'], { env: { GOMAXPROCS: '1' } });
  await step('boundaries', ['node', 'bin/boundaries.mjs']);
  await step('dead code', ['node_modules/.bin/knip', '--no-progress']);
}

async function runTests() {
  if (!(await step('build', ['node', 'bin/build.mjs']))) return;
  if (runsUnit)
    await step(
      'unit and API tests',
      [
        'node_modules/.bin/vitest',
        'run',
        ...['--reporter=default', '--reporter=json', `--outputFile.json=${RESULTS}/unit.json`],
        ...(values.changed ? ['--changed', '--passWithNoTests'] : unitFiles),
      ],
      { shown: true },
    );
  if (runsBrowser)
    await step(
      'browser tests',
      [
        'node_modules/.bin/playwright',
        'test',
        '--reporter=list,json',
        `--output=${RESULTS}/browser`,
        ...changedSpecs(),
        ...browserFiles,
      ],
      { shown: true, env: { PLAYWRIGHT_JSON_OUTPUT_FILE: `${RESULTS}/browser.json` } },
    );
}

/** Browser tests run the built programs, so a change to any of these can affect them all; a change to a test affects that test. */
function changedSpecs() {
  if (!values.changed) return [];
  const { stdout } = spawnSync('git', ['status', '--porcelain', '--untracked-files=all'], { encoding: 'utf8' });
  const changed = stdout.split('\n').map((line) => line.slice(3));
  const isBuilt = (file) => /^(core|server|web|storefront|client|shop|simulators|demo)\//.test(file) && !isTest(file);
  return changed.some(isBuilt) ? [] : ['--only-changed', '--pass-with-no-tests'];
}

/** Runs a command to its end, with its output in a log. A check's output is shown only if it fails. */
async function step(name, command, { shown = false, env = {} } = {}) {
  const log = `${RESULTS}/logs/${name.replaceAll(' ', '-')}.log`;
  const file = createWriteStream(log);
  if (shown) say(`— ${name}`);
  const begun = performance.now();
  // The shell's own `time` adds up the CPU time of all that the command started and waited for.
  const script = 'TIMEFORMAT="%U %S"; exec 4>&2; { time "$@" 2>&4 4>&-; } 2>&3';
  const child = spawn('bash', ['-c', script, name, ...command], {
    env: { ...process.env, ...env },
    stdio: ['ignore', 'pipe', 'pipe', 'pipe'],
  });
  let times = '';
  child.stdio[3].on('data', (chunk) => (times += chunk));
  for (const stream of [child.stdout, child.stderr]) {
    stream.pipe(file, { end: false });
    if (shown) stream.pipe(process.stderr, { end: false });
  }
  const code = await new Promise((resolve) => child.once('close', resolve));
  file.end();
  const [user = 0, system = 0] = times.trim().split(/\s+/).map(Number);
  steps.push({
    name,
    isTests: shown,
    passed: code === 0,
    wall: (performance.now() - begun) / 1000,
    cpu: user + system,
  });
  if (!shown) say(`— ${name}: ${code === 0 ? 'passed' : `failed, see ${log}\n${readFileSync(log, 'utf8')}`}`);
  return code === 0;
}

/** Has every program, page and database that the tests start take another instant for now. */
async function shiftClocks(start) {
  const shift = shiftOf(start);
  process.env.CLOCK_SHIFT_MS = String(shift);
  process.env.NODE_OPTIONS = `${process.env.NODE_OPTIONS ?? ''} --import=${new URL('../tests/support/clockShift.mjs', import.meta.url).href}`;
  // SQL finds this now() before PostgreSQL's own, in every database made from the template.
  for (const database of ['postgres', 'template1']) {
    const url = new URL(process.env.TEST_PG_URL);
    url.pathname = `/${database}`;
    const client = new pg.Client({ connectionString: url.href });
    await client.connect();
    await client.query(`CREATE SCHEMA clock; CREATE FUNCTION clock.now() RETURNS timestamptz LANGUAGE sql STABLE
      AS $$ SELECT pg_catalog.now() + interval '${shift} milliseconds' $$`);
    if (database === 'postgres')
      await client.query(`ALTER ROLE CURRENT_USER SET search_path = "$user", public, clock, pg_catalog`);
    await client.end();
  }
}

function say(text) {
  process.stderr.write(`${text}\n`);
}
