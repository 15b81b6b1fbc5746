/**
 * Without a network: the application opens, edits and ticks are kept through reloads and a closed
 * browser, and sent when it is back.
 */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, type BrowserContext, type Page } from '@playwright/test'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { Caller } from '../caller'
import { CHROMIUM } from '../chromium'
import { expect, NAME, PASSWORD, test } from './system'

/** The form of the first line, beside the drawing of Survey. */
async function openLine(page: Page): Promise<void> {
  const line = page.getByRole('region', { name: 'Lines' }).getByRole('button').first()
  await line.waitFor()
  if ((await line.getAttribute('aria-pressed')) !== 'true') await line.click()
}

test.use({ file: 'offline' })

const BROWSER = {
  ...CHROMIUM,
  viewport: { width: 390, height: 844 },
  serviceWorkers: 'allow' as const,
}
const status = (page: Page) => page.getByRole('banner').getByRole('status')
const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAoAAAAKCAYAAACNMs+9AAAAFUlEQVR42mNk+M9Qz0AEYBxVSF+FAAhKDveksOjmAAAAAElFTkSuQmCC',
  'base64',
)

test('an evening on a roof: opened once, then no network, a reload, a closed browser, and back', async ({
  system,
}) => {
  const caller = await Caller.first(system.origin, NAME, PASSWORD)
  await caller.read('POST', '/api/sites', { name: 'Dunlin Slipway', plan: dunlinSlipway() })
  const profile = mkdtempSync(join(tmpdir(), 'able-mast-browser-'))
  const at = `${system.origin}/s/dunlin-slipway`
  const open = (): Promise<BrowserContext> => chromium.launchPersistentContext(profile, BROWSER)
  let context = await open()
  let page = context.pages()[0]!
  await page.goto(`${at}/bring-up`)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('region', { name: /^Step: Read the serials/ })).toBeVisible()
  await page.goto(system.origin)
  await page.getByRole('link', { name: 'Dunlin Slipway' }).waitFor()
  await page.goto(`${at}/bring-up`)
  await page.evaluate(async () => {
    await navigator.serviceWorker.ready
  })

  await context.setOffline(true)
  await page.reload()
  const step = page.getByRole('region', { name: /^Step:/ })
  await expect(step).toHaveAttribute('aria-label', /^Step: Read the serials/)
  await expect(status(page)).toContainText('server away')
  await step.getByLabel('Reading or note').fill('old router: tag 12, 48.5 Mbit/s')
  await step.getByRole('button', { name: 'Keep it' }).click()
  await step
    .getByLabel('Photograph')
    .setInputFiles({ name: 'old-router.png', mimeType: 'image/png', buffer: PNG })
  const evidence = page.getByRole('region', { name: 'Evidence of this step' })
  await expect(evidence.getByRole('listitem')).toHaveCount(2)
  await expect(evidence.getByText('kept here, not sent yet')).toHaveCount(2)
  await step.getByRole('button', { name: /^(Done|I did it myself)$/ }).click()
  await expect(step).not.toHaveAttribute('aria-label', /^Step: Read the serials/)
  await expect(
    page.getByRole('listitem').filter({ hasText: 'Read the serials' }).getByText('done, not sent'),
  ).toBeVisible()
  await page
    .getByRole('navigation', { name: 'Stops' })
    .getByRole('link', { name: /Survey/ })
    .click()
  await openLine(page)
  const line = page.getByLabel('Line', { exact: true })
  await line.fill('Slipway copper')
  await line.press('Enter')
  await expect(status(page)).toContainText('4 kept here, server away')

  await context.close()
  context = await open()
  page = context.pages()[0]!
  await context.setOffline(true)
  await page.goto(`${at}/survey`)
  await expect(status(page)).toContainText('4 kept here, server away')
  await openLine(page)
  await expect(page.getByLabel('Line', { exact: true })).toHaveValue('Slipway copper')
  await page.goto(system.origin)
  await expect(page.getByRole('link', { name: 'Dunlin Slipway' })).toBeVisible()
  expect(
    (await caller.read<{ revision: number }>('GET', '/api/sites/dunlin-slipway')).revision,
  ).toBe(1)

  await page.goto(`${at}/bring-up`)
  await context.setOffline(false)
  await expect(status(page)).toContainText('rev 2 saved')
  await expect(page.getByText('done, not sent')).toHaveCount(0)
  const { plan } = await caller.read<{ plan: { uplinks: Record<string, { name: string }> } }>(
    'GET',
    '/api/sites/dunlin-slipway',
  )
  expect(Object.values(plan.uplinks)[0]!.name).toBe('Slipway copper')
  expect(
    (await caller.read<{ stepId: string }[]>('GET', '/api/sites/dunlin-slipway/steps')).map(
      (s) => s.stepId,
    ),
  ).toEqual(['read-labels'])
  const kept = await caller.read<{ kind: string; stepId: string; body: { text: string } }[]>(
    'GET',
    '/api/sites/dunlin-slipway/evidence',
  )
  expect(kept.map((e) => [e.kind, e.stepId, e.body.text]).sort()).toEqual([
    ['photo', 'read-labels', 'old-router.png'],
    ['reading', 'read-labels', 'old router: tag 12, 48.5 Mbit/s'],
  ])
  await context.close()
  rmSync(profile, { recursive: true, force: true })
})

test('the server ends and comes back by itself; nothing done meanwhile is lost', async ({
  page,
  system,
}) => {
  const caller = await Caller.first(system.origin, NAME, PASSWORD)
  if (
    !(await caller.read<{ name: string }[]>('GET', '/api/sites')).some(
      (s) => s.name === 'Dunlin Slipway',
    )
  )
    await caller.read('POST', '/api/sites', { name: 'Dunlin Slipway', plan: dunlinSlipway() })
  await page.goto(`${system.origin}/s/dunlin-slipway/survey`)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(status(page)).toContainText('saved')
  await openLine(page)
  const pid = (name: string): number => system.parts.find((p) => p.name === name)!.pid
  for (const [i, name] of ['the server', 'PostgreSQL', 'the server'].entries()) {
    process.kill(pid(name), 'SIGKILL')
    const line = page.getByLabel('Line', { exact: true })
    await line.fill(`Line number ${i}`)
    await line.press('Enter')
    await expect(status(page)).toContainText(/rev \d+ saved/)
    await expect(async () => {
      const { plan } = await caller.read<{ plan: { uplinks: Record<string, { name: string }> } }>(
        'GET',
        '/api/sites/dunlin-slipway',
      )
      expect(Object.values(plan.uplinks)[0]!.name).toBe(`Line number ${i}`)
    }).toPass()
  }
})

test.describe('requests stopped on their way', () => {
  // A page that a service worker looks after makes requests that a test cannot stop.
  test.use({ serviceWorkers: 'block' })

  test('a browser with no room says that nothing is kept, until it is saved', async ({
    page,
    system,
  }) => {
    const caller = await Caller.first(system.origin, NAME, PASSWORD)
    await caller.read('POST', '/api/sites', { name: 'No Room', plan: dunlinSlipway() })
    await page.addInitScript(() => {
      const put = IDBObjectStore.prototype.put
      IDBObjectStore.prototype.put = function (...args) {
        if (this.name === 'changes' || this.name === 'acts')
          throw new DOMException('no room', 'QuotaExceededError')
        return put.apply(this, args)
      }
    })
    await page.goto(`${system.origin}/s/no-room/survey`)
    await page.getByLabel('Name').fill(NAME)
    await page.getByLabel('Password').fill(PASSWORD)
    await page.getByRole('button', { name: 'Sign in' }).click()
    await expect(status(page)).toContainText('rev 1 saved')
    // What Bring-up asks for is here before nothing can be asked any more.
    const stops = page.getByRole('navigation', { name: 'Stops' })
    const step = page.getByRole('region', { name: /^Step:/ })
    await stops.getByRole('link', { name: /Bring-up/ }).click()
    await expect(step).toBeVisible()
    await stops.getByRole('link', { name: /Survey/ }).click()
    await openLine(page)
    await page.route('**/api/**', (route) => route.abort())
    const line = page.getByLabel('Line', { exact: true })
    await line.fill('Kept nowhere')
    await line.press('Enter')
    const warning = page.getByRole('banner').getByRole('alert')
    await expect(warning).toContainText('Not kept: this browser has no room')
    await stops.getByRole('link', { name: /Bring-up/ }).click()
    await step.getByLabel('Reading or note').fill('tag 12')
    await step.getByRole('button', { name: 'Keep it' }).click()
    await expect(warning).toContainText('2')
    await page.unroute('**/api/**')
    await expect(status(page)).toContainText('rev 2 saved')
    await expect(warning).toHaveCount(0)
    expect(
      (await caller.read<{ kind: string }[]>('GET', '/api/sites/no-room/evidence')).map(
        (e) => e.kind,
      ),
    ).toEqual(['reading'])
  })

  test('what one person could not send waits for them when another enters; who forgets it is told first', async ({
    page,
    system,
  }) => {
    const caller = await Caller.first(system.origin, NAME, PASSWORD)
    await caller.read('POST', '/api/sites', { name: 'Shared Laptop', plan: dunlinSlipway() })
    await Caller.invited(caller, 'shared-laptop', 'second engineer', PASSWORD, 'engineer')
    const at = `${system.origin}/s/shared-laptop/survey`
    const line = page.getByLabel('Line', { exact: true })
    const told = page.getByRole('alert')
    async function enterAs(name: string): Promise<void> {
      await page.getByLabel('Name').fill(name)
      await page.getByLabel('Password').fill(PASSWORD)
      await page.getByRole('button', { name: 'Sign in' }).click()
    }
    // Never taken away again: a page that is just loading then waits for what was held at that moment.
    let isCut = false
    await page.route('**/api/sites/*/edits', (route) => (isCut ? route.abort() : route.continue()))
    async function leaveUnsent(text: string): Promise<void> {
      await openLine(page)
      isCut = true
      await line.fill(text)
      await line.press('Enter')
      await expect(status(page)).toContainText('1 kept here')
      // Ended at the server: an answer on its way could bring a cookie back that was only thrown away.
      expect(
        await page.evaluate(async () => (await fetch('/api/session', { method: 'DELETE' })).ok),
      ).toBe(true)
      await page.goto(at)
      isCut = false
    }
    await page.goto(at)
    await enterAs(NAME)
    await expect(status(page)).toContainText('rev 1 saved')

    await leaveUnsent('Waits for its author')
    await enterAs('second engineer')
    await expect(told).toContainText(`of ${NAME} on this device did not reach the server`)
    await enterAs(NAME)
    await expect(status(page)).toContainText('rev 2 saved')
    await openLine(page)
    await expect(line).toHaveValue('Waits for its author')

    await leaveUnsent('Forgotten')
    await enterAs('second engineer')
    await page.getByRole('button', { name: 'Forget it and go on' }).click()
    await expect(status(page)).toContainText('rev 2 saved')
    await openLine(page)
    await expect(line).toHaveValue('Waits for its author')
  })
})
