import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['{core,server,web,storefront,shop,demo}/**/*.test.{ts,tsx}', 'tests/{api,promises}/**/*.test.ts'],
    globalSetup: ['tests/support/template.ts'],
    // argon2 and a database of its own for each file take their time on a busy machine.
    testTimeout: 60_000,
    hookTimeout: 60_000,
  },
});
