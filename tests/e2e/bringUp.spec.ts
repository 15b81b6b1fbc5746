/** The day: how devices are set up, who does what, what waits, where things are, the night. */
import type { Page } from '@playwright/test'
import { quayside } from '../sites/quayside'
import { Person } from '../../demo/person'
import { choose, expect, NAME, PASSWORD, showAll, test } from './system'

test.use({ file: 'bringUp' })

test.beforeAll(async ({ system }) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  const there = (await person.sites()).map((s) => s.name)
  if (!there.includes(quayside().site.name)) await person.open(quayside())
})

const PATH = '/s/kittiwake-harbour/bring-up'
async function signIn(page: Page, origin: string): Promise<void> {
  await page.goto(origin + PATH)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.waitForURL(origin + PATH)
  await page.getByRole('list', { name: 'Run sheet' }).waitFor()
}
const sheet = (page: Page) => page.getByRole('list', { name: 'Run sheet' })
const step = (page: Page) => page.getByRole('region', { name: /^Step:/ })

test('a device that fetches everything takes its bench off the run sheet, and says what that costs', async ({
  page,
  system,
}) => {
  await signIn(page, system.origin)
  await expect(sheet(page)).toContainText('Bench: give Quay AP power')
  await page.getByText(/^How each device is set up/).click()
  await page.getByRole('checkbox', { name: 'Compare for Quay AP' }).check()
  await page.getByRole('button', { name: 'What would it cost for Quay AP?' }).click()
  const costs = page.getByRole('table', { name: 'What each way costs' })
  const row = (name: RegExp) => costs.getByRole('row', { name })
  await expect(row(/password and firmware by hand.*on the bench/)).toContainText('as it is')
  await row(/^all of it from the controller/)
    .getByRole('button', { name: 'Do it so' })
    .click()
  await showAll(page)
  await expect(sheet(page)).not.toContainText('Bench: give Quay AP power')
  await expect(sheet(page)).toContainText('Name and claim Quay AP')
  await expect(page.getByText('Not prepared: the controller is behind it')).toBeVisible()
  await choose(page, 'How Cupboard switch gets what it is told', 'all of it by its own page')
  await expect(sheet(page)).toContainText(
    'Set Cupboard switch by its own page: address, role, controller',
  )
  await choose(page, 'How Cupboard switch is reached', 'its serial console')
  await expect(sheet(page)).toContainText('Console cable into Cupboard switch')
})

test('two people with names, who calls whom, and a step that takes longer', async ({
  page,
  system,
}) => {
  await signIn(page, system.origin)
  await page.getByText(/^One person:/).click()
  await choose(page, 'People', '2')
  await page.getByLabel('Person 1').fill('Cupboard')
  await page.getByLabel('Person 2').fill('Quay')
  await expect(page.getByText('2 people: Cupboard, Quay')).toBeVisible()
  await choose(page, 'This device is held by', 'Quay')
  await expect(step(page).getByText(/^Now: Quay/)).toBeVisible()
  // They are remembered on this device.
  await page.reload()
  await expect(page.getByText('2 people: Cupboard, Quay')).toBeVisible()
  await step(page).getByRole('button', { name: '60 min' }).click()
  await expect(
    step(page)
      .getByText(/^The day ends /)
      .last(),
  ).toBeVisible()
})

test('a label opens its step, and one that is mistyped says whose it nearly is', async ({
  page,
  system,
}) => {
  await signIn(page, system.origin)
  const serial = quayside().devices.switch!.serial!
  const field = page.getByLabel('Serial or hardware address off a label')
  await field.fill(serial.toLowerCase())
  await field.press('Enter')
  await expect(step(page)).toHaveAttribute('aria-label', /Cupboard switch/)
  await field.fill(`${serial.slice(0, -1)}X`)
  await page.getByRole('button', { name: 'Open its step' }).click()
  await expect(page.getByText(/Cupboard switch has .* which differs in 1 place/)).toBeVisible()
})

test('what a scan saw points a device out by its hardware address', async ({ page, system }) => {
  await signIn(page, system.origin)
  await page.getByText(/^Where each device will be found/).click()
  const mac = quayside().devices['quay-ap']!.hardwareAddress!
  await page
    .getByLabel('or paste what ip neigh, a lease table or a port scan says')
    .fill(
      `192.168.2.20 dev eth0 lladdr ${mac} REACHABLE\n10.20.20.9 dev eth0 lladdr 00:00:5e:00:53:9 STALE`,
    )
  await page.getByRole('button', { name: 'Look for them' }).click()
  await expect(page.getByText('It is at 192.168.2.20, not where it was guessed.')).toBeVisible()
  await expect(page.getByText(/line 2/)).toBeVisible()
})

test('waits live through a closed page and a clock set back, on a phone, and the day can stop', async ({
  page,
  context,
  system,
}) => {
  await page.setViewportSize({ width: 390, height: 844 })
  await signIn(page, system.origin)
  const tick = async (title: RegExp): Promise<void> => {
    await sheet(page).getByRole('button', { name: title }).click()
    await expect(step(page)).toHaveAttribute('aria-label', title)
    const caution = step(page).getByRole('checkbox')
    if (await caution.isVisible()) await caution.check()
    await step(page)
      .getByRole('button', { name: /^(Done|I did it myself)$/ })
      .click()
    await expect(sheet(page).getByRole('listitem').filter({ hasText: title })).toHaveClass(/done/)
  }
  await tick(/Read the serials/)
  await tick(/Bench: give Harbour gateway power/)
  const waits = page.getByRole('region', { name: 'Waits' })
  await expect(waits.getByRole('heading', { name: '1 running' })).toBeVisible()
  await expect(waits).toContainText('Bench: give Harbour gateway power')
  // It has its factory password and power: not how it is left for the night.
  await page.getByRole('button', { name: 'Stop here for today' }).click()
  await expect(page.getByText('Harbour gateway has power and its factory password.')).toBeVisible()
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390)
  // Another page, as after a locked phone: the wait is where it is by the clock.
  const other = await context.newPage()
  await other.clock.install({ time: Date.now() - 3_600_000 })
  await other.goto(system.origin + PATH)
  const there = other.getByRole('region', { name: 'Waits' })
  await expect(there.getByRole('heading', { name: '1 running' })).toBeVisible()
  // Its clock is an hour behind: no wait is longer than it was made.
  await expect(there.locator('.left').first()).toHaveText(/^(90|8\d) s$/)
  await other.close()
})

test('a claim list is sorted by line, claimed, and its counts add up', async ({ page, system }) => {
  await signIn(page, system.origin)
  await page.goto(`${system.origin}/s/kittiwake-harbour/adopt`)
  await page.getByText('Claim by a list').click()
  const { switch: cupboard, gateway } = quayside().devices
  await page.locator('.claims input[type=file]').setInputFiles({
    name: 'labels.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(
      `serial,model\n${cupboard!.serial},\n${cupboard!.serial},\n${gateway!.serial!.slice(0, -1)}X,\n`,
    ),
  })
  await expect(page.getByText('3 rows, 1 can be claimed, 0 are already, 2 not.')).toBeVisible()
  await expect(page.getByRole('row', { name: /^line 3 .*it is on line 2 already/ })).toBeVisible()
  await expect(
    page.getByRole('row', { name: /^line 4 .*Harbour gateway has .* 1 place off/ }),
  ).toBeVisible()
  await page.getByRole('button', { name: 'Claim one' }).click()
  await expect(
    page.getByText('0 were claimed, 1 came in, 1 are claimed now: it adds up.'),
  ).toBeVisible()
  await expect(page.getByText('3 rows, 0 can be claimed, 1 are already, 2 not.')).toBeVisible()
})
