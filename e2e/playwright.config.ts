import { defineConfig } from '@playwright/test';
import { BROWSER } from '../tools/browser';

/** Every test runs on a phone and on a desk screen, unless it says that it is about one of them. */
export default defineConfig({
  testDir: '.',
  timeout: 60_000,
  // One more than the cores: much of a test is waiting for the page, and what waits leaves room for another.
  workers: 3,
  expect: { timeout: 10_000 },
  fullyParallel: false,
  // One more try on a machine that is busy elsewhere; what passes only then is listed as flaky, to be looked into.
  retries: 1,
  forbidOnly: true,
  reporter: [['list'], ['json']],
  use: {
    baseURL: process.env.BASE_URL,
    launchOptions: BROWSER,
    serviceWorkers: 'block',
    // What failed once is tried again with every step recorded: recording all of it costs every test.
    screenshot: 'only-on-failure',
    trace: 'on-first-retry',
  },
  outputDir: '../test-results',
  projects: [
    // What does not depend on the width is tried on the phone alone ("@phone" in its title); keys on the desk alone.
    { name: 'phone', grepInvert: /@desk/, use: { viewport: { width: 390, height: 844 } } },
    { name: 'desk', grepInvert: /@phone/, use: { viewport: { width: 1280, height: 800 } } },
  ],
});
