import { defineConfig } from '@playwright/test'
import { CHROMIUM } from './tests/chromium'

export default defineConfig({
  testDir: 'tests/e2e',
  // Each file has a system of its own, so two of them do not meet; a page waits more than it works.
  workers: 2,
  retries: 0,
  timeout: 300_000,
  expect: { timeout: 30_000 },
  reporter: [['line'], ['json']],
  outputDir: '.mast/e2e',
  use: {
    viewport: { width: 1280, height: 800 },
    colorScheme: 'light',
    actionTimeout: 20_000,
    screenshot: 'only-on-failure',
    launchOptions: CHROMIUM,
  },
})
