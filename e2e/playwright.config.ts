import { defineConfig } from '@playwright/test';
import { ARGUMENTS } from './browser';

export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  outputDir: '../test-results',
  // One waits much: for answers, for what settles. Two use both processors of a small machine, each with a server of its own.
  workers: 2,
  // Two shared processors stop for seconds now and then: a file is tried once more, and told as flaky.
  retries: 1,
  timeout: 180_000,
  expect: { timeout: 20_000 },
  reporter: [['list']],
  use: {
    viewport: { width: 1280, height: 800 },
    actionTimeout: 20_000,
    trace: 'on-first-retry',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: ARGUMENTS,
    },
  },
});
