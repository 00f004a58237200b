// Adds up what the checks and both test runners report, in one closing line.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';

const [folder] = process.argv.slice(2);
const read = (file) => {
  try {
    return readFileSync(join(folder, file), 'utf8');
  } catch {
    return null;
  }
};
const total = { passed: 0, failed: 0, skipped: 0 };
const add = (passed, failed, skipped) => {
  total.passed += passed;
  total.failed += failed;
  total.skipped += skipped;
};

const checks = (read('checks') ?? '').split('\n');
add(checks.filter((line) => line === 'passed').length, checks.filter((line) => line === 'failed').length, 0);

// A runner that left no report did not run: that is a failure, not nothing.
const unit = JSON.parse(read('vitest.json') ?? 'null');
if (unit) {
  const broken = unit.testResults.filter(
    ({ status, assertionResults }) => status === 'failed' && assertionResults.length === 0,
  );
  add(unit.numPassedTests, unit.numFailedTests + broken.length, unit.numPendingTests + unit.numTodoTests);
  if (unit.numTotalTests === 0) add(0, 1, 0);
} else add(0, 1, 0);
const browser = JSON.parse(read('playwright.json') ?? 'null');
if (browser) {
  add(
    browser.stats.expected,
    browser.stats.unexpected + browser.stats.flaky + browser.errors.length,
    browser.stats.skipped,
  );
  if (browser.stats.expected === 0) add(0, 1, 0);
} else add(0, 1, 0);

console.log(`${total.passed} passed, ${total.failed} failed, ${total.skipped} skipped`);
process.exit(total.failed > 0 ? 1 : 0);
