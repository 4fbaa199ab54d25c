import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  workers: 2,
  retries: 0,
  timeout: 180_000,
  expect: { timeout: 30_000 },
  outputDir: '../.test/playwright',
  reporter: [['list'], ['json']],
  use: {
    actionTimeout: 30_000,
    navigationTimeout: 30_000,
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--font-render-hinting=none',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--disable-quic',
        '--no-first-run',
      ],
    },
  },
});
