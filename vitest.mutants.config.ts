import { defineConfig } from 'vitest/config';

/** The tests of the rooms that decide: quick enough to be run for every mutant. */
export default defineConfig({
  test: {
    testTimeout: 60_000,
    include: ['core/{engine,aspects,controls,facts,model,rulebook,texts}/**/*.test.ts'],
  },
});
