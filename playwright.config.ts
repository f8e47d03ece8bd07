import { defineConfig } from '@playwright/test'
import { CHROMIUM, CHROMIUM_ARGS } from './scripts/chromium.mjs'

/** Each worker starts the built server on a data folder of its own (tests/e2e/nolvi.ts). */
export default defineConfig({
  testDir: 'tests/e2e',
  testMatch: '**/*.spec.ts',
  fullyParallel: true,
  forbidOnly: !!process.env.CI,
  workers: 2,
  // These only end what hangs: a machine whose cores are taken by others is ten times as slow.
  timeout: 300_000,
  expect: { timeout: 60_000 },
  reporter: 'list',
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: { executablePath: CHROMIUM, args: CHROMIUM_ARGS },
    trace: 'retain-on-failure',
    screenshot: 'only-on-failure',
  },
})
