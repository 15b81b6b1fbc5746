/** Chromium as Debian has it, without what it does by itself in the background. */
import { chromium, type Browser } from '@playwright/test'

export const chrome = (): Promise<Browser> =>
  chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--disable-quic',
      '--no-first-run',
    ],
  })
