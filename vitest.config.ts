import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['{core,server,web,storefront,client,shop,demo}/**/*.test.{ts,tsx}', 'tests/{api,promises}/**/*.test.ts'],
    globalSetup: ['tests/support/template.ts'],
    setupFiles: ['tests/support/seededProperties.ts'],
    // Much of it waits for a database or a clock: three at once keep two processors busy.
    maxWorkers: 3,
    isolate: false,
    // argon2 and a database of its own for each file take their time on a busy machine.
    // Limits of what cannot happen: nothing here measures time.
    expect: { poll: { timeout: 120_000 } },
    testTimeout: 180_000,
    hookTimeout: 180_000,
  },
});
