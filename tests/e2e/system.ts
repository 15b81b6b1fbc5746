/** The built application with a throwaway database, one for each file of tests. */
import { randomBytes } from 'node:crypto'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { test as base, type Page } from '@playwright/test'
import { freePort } from '../../scripts/start/ports.mjs'
import { startSystem, type System } from '../../scripts/start/system.mjs'

export const NAME = 'harbour office'
export const PASSWORD = 'a-rope-a-knot-a-cleat'

export async function throwawaySystem(): Promise<{ system: System; close: () => Promise<void> }> {
  const folder = mkdtempSync(join(tmpdir(), 'able-mast-test-'))
  const databaseFolder = `${folder}-database`
  const system = await startSystem({ port: await freePort(), databaseFolder, standinsFolder: join(folder, 'standins'), vaultKey: randomBytes(32).toString('base64') })
  return { system, close: async () => { await system.stop(); for (const f of [folder, databaseFolder]) rmSync(f, { recursive: true, force: true }) } }
}

export const test = base.extend<{ complaints: string[] }, { file: string; system: System }>({
  /** Another value in each file of tests gives each a worker, and so a system, of its own. */
  file: ['', { option: true, scope: 'worker' }],
  // eslint-disable-next-line no-empty-pattern
  system: [async ({}, use) => {
    const { system, close } = await throwawaySystem()
    await use(system)
    await close()
  }, { scope: 'worker', timeout: 120_000 }],
  /** What the page complained of while a test ran; checked at its end. */
  complaints: [async ({ page }, use) => {
    const complaints: string[] = []
    page.on('pageerror', (error) => complaints.push(error.message))
    page.on('console', (m) => { if (m.type() === 'error' && !/Failed to load resource/.test(m.text())) complaints.push(m.text()) })
    await use(complaints)
    base.expect(complaints, 'errors on the page').toEqual([])
  }, { auto: true }],
})
export { expect } from '@playwright/test'

/** Chooses in one of Vuetify's lists. */
export async function choose(page: Page, label: string, option: string | RegExp): Promise<void> {
  await base.expect(page.getByRole('option')).toHaveCount(0)
  await page.getByRole('combobox', { name: label }).first().click({ force: true })
  await page.getByRole('option', { name: option, exact: typeof option === 'string' }).click()
}
