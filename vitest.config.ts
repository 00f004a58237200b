import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['{core,server,web,storefront,client,shop,demo}/**/*.test.{ts,tsx}', 'tests/{api,promises}/**/*.test.ts'],
    globalSetup: ['tests/support/template.ts'],
    // Much of it waits for a database or a clock: three at once keep two processors busy.
    maxWorkers: 3,
    isolate: false,
    // argon2 and a database of its own for each file take their time on a busy machine.
    testTimeout: 60_000,
    hookTimeout: 60_000,
  },
});
