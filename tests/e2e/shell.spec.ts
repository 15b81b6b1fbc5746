/** What holds for every sheet: live screens, keyboard, themes, narrow screens, accessibility. */
import { keyOf, sheets as lineOfSheets } from '@mast/core/sheets'
import AxeBuilder from '@axe-core/playwright'
import type { Page } from '@playwright/test'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { quayside } from '../sites/quayside'
import { Person } from '../../demo/person'
import { expect, NAME, PASSWORD, settled, test, turnTo } from './system'

test.use({ file: 'shell' })

const sheets = lineOfSheets.map((s) => s.id)

test.beforeAll(async ({ system }) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  const there = (await person.sites()).map((s) => s.name)
  for (const plan of [quayside(), dunlinSlipway()])
    if (!there.includes(plan.site.name)) await person.open(plan)
})

async function signIn(page: Page, origin: string, path: string): Promise<void> {
  await page.goto(origin + path)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.waitForURL(origin + path)
  await page.getByLabel('Title block').waitFor()
}

test('an edit on one screen appears on another, and a fix mends both', async ({
  page,
  context,
  system,
}) => {
  await signIn(page, system.origin, '/s/kittiwake-harbour/wiring')
  const other = await context.newPage()
  await other.goto(`${system.origin}/s/kittiwake-harbour/wiring`)
  await expect(other.getByRole('heading', { name: 'Remarks 4' })).toBeVisible()
  await page.getByRole('button', { name: 'Tag VLAN 90 Visitors on Cupboard switch port 2' }).click()
  await expect(other.getByRole('heading', { name: 'Remarks 3' })).toBeVisible()
  await expect(other.getByRole('banner').getByRole('status')).toContainText('rev 2 saved')
  await expect(
    other.getByText('Tag VLAN 90 Visitors on Cupboard switch port 2').first(),
  ).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(other.getByRole('heading', { name: 'Remarks 4' })).toBeVisible()
})

test('the loom takes over what is changed elsewhere of what it names and colours', async ({
  page,
  context,
  system,
}) => {
  await signIn(page, system.origin, '/s/kittiwake-harbour/wiring')
  const strands = (name: string) =>
    page.locator('.loom .strand', { has: page.locator('title', { hasText: name }) })
  await expect(strands('VLAN 90 Visitors')).not.toHaveCount(0)
  const [count, colour] = [
    await strands('VLAN 90 Visitors').count(),
    await strands('VLAN 90 Visitors').first().getAttribute('style'),
  ]
  const other = await context.newPage()
  await other.goto(`${system.origin}/s/kittiwake-harbour/addresses`)
  await other
    .getByRole('region', { name: 'Segments' })
    .getByRole('row')
    .filter({ hasText: 'Visitors' })
    .click()
  await other.getByLabel('Name', { exact: true }).fill('Callers')
  await other.getByLabel('Name', { exact: true }).press('Enter')
  await expect(strands('VLAN 90 Callers')).toHaveCount(count)
  await expect(strands('Visitors')).toHaveCount(0)
  // Another number is another place in the row, which decides the colour.
  await other.getByLabel('VLAN id').first().fill('5')
  await other.getByLabel('VLAN id').first().press('Enter')
  await expect(strands('VLAN 5 Callers')).toHaveCount(count)
  expect(await strands('VLAN 5 Callers').first().getAttribute('style')).not.toBe(colour)
  for (let i = 0; i < 2; i++) await other.getByRole('button', { name: 'Undo' }).click()
  await expect(strands('VLAN 90 Visitors')).toHaveCount(count)
})

test('the keyboard goes along the line, finds, undoes', async ({ page, system }) => {
  await signIn(page, system.origin, '/s/kittiwake-harbour/survey')
  await page.keyboard.press(']')
  await page.waitForURL(/addresses$/)
  await page.keyboard.press(keyOf('bridges'))
  await page.waitForURL(/bridges$/)
  await page.keyboard.press('[')
  await page.waitForURL(/wifi$/)
  await page.getByLabel('Title block').waitFor()
  await page.keyboard.press('/')
  await page.getByRole('combobox', { name: /^Find a stop/ }).fill('quay ap')
  await expect(page.getByRole('option', { name: /Quay AP/ })).toHaveAttribute(
    'aria-selected',
    'true',
  )
  await page.keyboard.press('Enter')
  await page.waitForURL(/wiring$/)
  await expect(page.getByRole('heading', { name: 'Ports of Quay AP' })).toBeVisible()
  await page
    .getByRole('button', { name: 'Power Gate camera by an injector beside an outlet' })
    .click()
  const status = page.getByRole('banner').getByRole('status')
  await expect(
    page.getByRole('button', { name: 'Power Gate camera by an injector beside an outlet' }),
  ).toBeHidden()
  await page.locator('main').click({ position: { x: 5, y: 5 } })
  await page.keyboard.press('Control+z')
  await expect(
    page.getByRole('button', { name: 'Power Gate camera by an injector beside an outlet' }),
  ).toBeVisible()
  await expect(status).toContainText('saved')
})

test('pointing at a remark marks its subject on the sheet', async ({ page, system }) => {
  await signIn(page, system.origin, '/s/kittiwake-harbour/wiring')
  await page.getByRole('article').filter({ hasText: 'Kiosk switch cannot assign a VLAN' }).hover()
  await expect(page.locator('.device.hot')).toHaveCount(2)
})

test('the night theme is kept, and a signed-out person comes back to the sheet asked for', async ({
  page,
  system,
}) => {
  await signIn(page, system.origin, '/s/kittiwake-harbour/addresses')
  const paper = () => page.locator('main').evaluate((e) => getComputedStyle(e).backgroundColor)
  const day = await paper()
  await page.getByRole('button', { name: 'Night theme' }).click()
  await expect.poll(paper).not.toBe(day)
  await page.reload()
  await page.getByLabel('Title block').waitFor()
  expect(await paper()).not.toBe(day)
  await page.getByRole('button', { name: 'Sign out' }).click()
  await page.waitForURL(/enter$/)
  await signIn(page, system.origin, '/s/kittiwake-harbour/policy')
})

test('a drawing that is printed fits its page, on A4 and on A3', async ({ page, system }) => {
  await signIn(page, system.origin, '/s/kittiwake-harbour/wiring')
  await page.locator('.loom svg[data-drawing]').waitFor()
  await page.emulateMedia({ media: 'print' })
  // The area within margins of 12 mm, at 96 px an inch.
  for (const [width, height] of [
    [703, 1032],
    [1032, 703],
    [1032, 1497],
    [1497, 1032],
  ] as const) {
    await page.setViewportSize({ width, height })
    const box = (await page.locator('.loom svg[data-drawing]').boundingBox())!
    expect(box.y).toBeLessThan(height / 3)
    expect(box.y + box.height).toBeLessThanOrEqual(height)
    expect(box.x + box.width).toBeLessThanOrEqual(width)
  }
})

test('find or do opens the form for what is to be added', async ({ page, system }) => {
  await signIn(page, system.origin, '/s/kittiwake-harbour/policy')
  for (const [what, field] of [
    ['Add a segment', 'Segment name'],
    ['Add a device', 'Profile'],
  ] as const) {
    const find = page.getByRole('combobox', { name: /^Find a stop/ })
    // In a field, which the form that opened may still take the keyboard to, it is a letter.
    await expect(async () => {
      await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur())
      await page.keyboard.press('/')
      await expect(find).toBeVisible({ timeout: 2000 })
    }).toPass()
    await find.fill(what)
    await page.keyboard.press('Enter')
    await expect(page.getByLabel(field).first()).toBeVisible()
    await page.keyboard.press('Escape')
  }
})

test('on a phone nothing of Bring-up and Prove is wider than the screen', async ({
  page,
  system,
}) => {
  await page.setViewportSize({ width: 390, height: 844 })
  await signIn(page, system.origin, '/s/dunlin-slipway/bring-up')
  for (const sheet of ['bring-up', 'prove']) {
    await page.goto(`${system.origin}/s/dunlin-slipway/${sheet}`)
    await page.getByLabel('Title block').waitFor()
    expect(
      await page.evaluate(() => document.documentElement.scrollWidth),
      sheet,
    ).toBeLessThanOrEqual(390)
  }
  await page.goto(`${system.origin}/s/dunlin-slipway/bring-up`)
  const button = page.getByRole('region', { name: /^Step:/ }).getByRole('button', { name: 'Done' })
  expect((await button.boundingBox())!.height).toBeGreaterThanOrEqual(44)
  // What is typed into the laptop, under the name of its own interface.
  await page.getByText(/^The laptop on each factory subnet/).click()
  await page.getByLabel('Interface of a Linux laptop').fill('enp3s0; reboot')
  const first = page.getByRole('region', { name: 'Laptop on 192.168.1.0/24' })
  await expect(first).toContainText('ip address add 192.168.1.10/24 dev enp3s0reboot')
  await page.getByText(/^Where each device will be found/).click()
  await expect(page.getByRole('group', { name: 'Addresses that they will get' })).toContainText(
    'reserved for its hardware address',
  )
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390)
  // What clashes is read whole, and not cut off at the edge.
  const clash = first.locator('.mark').first()
  expect(await clash.evaluate((e) => e.scrollWidth - e.clientWidth)).toBe(0)
})

test('axe finds nothing serious on any sheet, by day and by night', async ({ page, system }) => {
  await signIn(page, system.origin, '/s/kittiwake-harbour/survey')
  const found: string[] = []
  const look = async (where: string, axe: AxeBuilder): Promise<void> => {
    const { violations } = await axe
      .setLegacyMode()
      .options({ resultTypes: ['violations'] })
      .analyze()
    const serious = violations.filter((v) => v.impact === 'serious' || v.impact === 'critical')
    found.push(
      ...serious.map(
        (v) =>
          `${where} ${v.id}: ${v.nodes
            .slice(0, 3)
            .map((n) => n.html.slice(0, 160))
            .join(' | ')}`,
      ),
    )
  }
  for (const theme of ['day', 'night']) {
    // By night the colours are others, and nothing else is.
    const axe = (): AxeBuilder =>
      theme === 'day'
        ? new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
        : new AxeBuilder({ page }).withRules(['color-contrast'])
    await page.evaluate((t) => localStorage.setItem('mast-theme', t), theme)
    await page.goto(system.origin)
    await page.getByText('Kittiwake Harbour').waitFor()
    await look(`${theme} sites`, axe())
    await page.goto(`${system.origin}/s/kittiwake-harbour/survey`)
    await settled(page)
    for (const sheet of sheets) {
      await turnTo(page, sheet)
      await look(`${theme} ${sheet}`, axe())
    }
  }
  expect(found).toEqual([])
})

test('the drawer keeps a file and a removal apart, and asks before it removes', async ({
  page,
  system,
}) => {
  await signIn(page, system.origin, '/s/dunlin-slipway/survey')
  await page.goto(system.origin)
  const more = page.getByRole('button', { name: 'More for Dunlin Slipway' })
  await more.click()
  await page.getByText('Save as a file').click()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('Dunlin Slipway as one file')
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    dialog.getByRole('button', { name: 'Save the file' }).click(),
  ])
  expect(file.suggestedFilename()).toBe('dunlin-slipway.site.json')
  await expect(dialog).toBeHidden()
  await more.click()
  await page.getByText('Remove ...').click()
  await expect(dialog).toContainText('Remove Dunlin Slipway?')
  await dialog.getByRole('button', { name: 'Keep it' }).click()
  await expect(more).toBeVisible()
})

test('a segment is not given a VLAN that is taken', async ({ page, system }) => {
  await signIn(page, system.origin, '/s/kittiwake-harbour/addresses')
  await page.getByRole('button', { name: 'Add a segment' }).click()
  const vlan = page.getByLabel('VLAN id')
  await page.getByLabel('Segment name').fill('Tents')
  await vlan.fill('20')
  await expect(page.getByText("VLAN 20 is Office's already")).toBeVisible()
  await expect(page.getByRole('button', { name: 'Add segment' })).toBeDisabled()
  await vlan.fill('21')
  await page.getByRole('button', { name: 'Add segment' }).click()
  await expect(page.locator('tr[data-row="tents"]')).toBeFocused()
  await page.getByRole('button', { name: 'Undo' }).click()
})
