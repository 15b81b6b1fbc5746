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

async function freePorts(count: number): Promise<number[]> {
  const ports = new Set<number>()
  while (ports.size < count) ports.add(await freePort())
  return [...ports]
}

export async function throwawaySystem(
  processes = 1,
): Promise<{ system: System; close: () => Promise<void> }> {
  const folder = mkdtempSync(join(tmpdir(), 'able-mast-test-'))
  const databaseFolder = `${folder}-database`
  const system = await startSystem({
    ports: await freePorts(processes),
    databaseFolder,
    standinsFolder: join(folder, 'standins'),
    vaultKey: randomBytes(32).toString('base64'),
  })
  return {
    system,
    close: async () => {
      await system.stop()
      for (const f of [folder, databaseFolder]) rmSync(f, { recursive: true, force: true })
    },
  }
}

export const test = base.extend<
  { complaints: string[] },
  { file: string; processes: number; system: System }
>({
  /** Another value in each file of tests gives each a worker, and so a system, of its own. */
  file: ['', { option: true, scope: 'worker' }],
  /** How many server processes share the database. */
  processes: [1, { option: true, scope: 'worker' }],
  system: [
    async ({ processes }, use) => {
      const { system, close } = await throwawaySystem(processes)
      await use(system)
      await close()
    },
    { scope: 'worker', timeout: 120_000 },
  ],
  /** What the page complained of while a test ran; checked at its end. */
  complaints: [
    async ({ page }, use) => {
      const complaints: string[] = []
      page.on('pageerror', (error) => complaints.push(error.message))
      page.on('console', (m) => {
        if (m.type() === 'error' && !/Failed to load resource/.test(m.text()))
          complaints.push(m.text())
      })
      await use(complaints)
      base.expect(complaints, 'errors on the page').toEqual([])
    },
    { auto: true },
  ],
})
export { expect } from '@playwright/test'

/** Until a sheet is there whole, with its remarks. */
export async function settled(page: Page): Promise<void> {
  await page.getByLabel('Title block').waitFor()
  await page.locator('main[aria-busy=true]').waitFor({ state: 'detached' })
  await page.locator('.computing').waitFor({ state: 'detached' })
}
/** From sheet to sheet as a person goes, without loading the application again. */
export async function turnTo(page: Page, sheet: string): Promise<void> {
  await page.locator(`nav[aria-label="Stops"] a[href$="/${sheet}"]`).click()
  await page.waitForURL(new RegExp(`/${sheet}$`))
  await settled(page)
}

/** Chooses in one of Vuetify's lists. */
export async function choose(page: Page, label: string, option: string | RegExp): Promise<void> {
  await base.expect(page.getByRole('option')).toHaveCount(0)
  const wanted = page.getByRole('option', { name: option, exact: typeof option === 'string' })
  // A forced click goes to where the field was a moment ago; what is still being put up above it
  // may have moved it since.
  await base
    .expect(async () => {
      if (!(await wanted.isVisible()))
        await page.getByRole('combobox', { name: label }).first().click({ force: true })
      await base.expect(wanted).toBeVisible({ timeout: 3000 })
    })
    .toPass({ timeout: 30_000 })
  await wanted.click()
}

/** Brings all of the long lists of a sheet. */
export async function showAll(page: Page): Promise<void> {
  const more = page.getByRole('button', { name: 'Show more' }).first()
  // The button comes after its list, as a piece of its own.
  const whole = (): Promise<void> =>
    page.locator('main[aria-busy=true]').waitFor({ state: 'detached' })
  for (await whole(); await more.isVisible(); await whole()) await more.click().catch(() => {})
}
