import { defineConfig } from '@playwright/test';
import { BROWSER } from './tests/support/browser.ts';

export default defineConfig({
  testDir: 'tests/e2e',
  testMatch: '*.spec.ts',
  globalSetup: './tests/support/seeded.ts',
  workers: 2,
  fullyParallel: true,
  retries: 0,
  forbidOnly: true,
  // A busy machine takes three times what an idle one does.
  timeout: 180_000,
  expect: { timeout: 30_000 },
  use: {
    // Each step ends in time to say what it waited for.
    actionTimeout: 60_000,
    navigationTimeout: 60_000,
    viewport: { width: 1280, height: 800 },
    contextOptions: { reducedMotion: 'reduce' },
    screenshot: 'only-on-failure',
    launchOptions: {
      ...(BROWSER === undefined ? {} : { executablePath: BROWSER }),
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        // Pages live for seconds here: the slower of V8's optimising compilers costs more than it gains.
        '--js-flags=--no-opt',
      ],
    },
  },
});
