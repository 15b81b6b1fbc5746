/**
 * The way from signing in to the proof with the keyboard alone: whatever has to be pressed can be
 * reached by Tab and shows that it is.
 */
import type { Locator, Page } from '@playwright/test'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { keyOf } from '@mast/core/sheets'
import { Caller } from '../caller'
import { expect, NAME, PASSWORD, test } from './system'

test.use({ file: 'keyboard' })
test.beforeEach(({ page }) => {
  // No pointer: a click that slipped in would be a lie.
  for (const way of ['click', 'move', 'down'] as const)
    page.mouse[way] = () => {
      throw new Error('the mouse is not to be used here')
    }
})

const MOST_TABS = 400
/**
 * Tabs on until something has the focus, as a person would; it must then be visible that it has.
 */
async function tabTo(page: Page, target: Locator): Promise<void> {
  await target.first().waitFor()
  for (let i = 0; i < MOST_TABS; i++) {
    if (
      await target.evaluateAll((list) =>
        list.some(
          (e) =>
            e === document.activeElement ||
            (e.contains(document.activeElement) && document.activeElement?.tagName === 'INPUT'),
        ),
      )
    ) {
      const outline = await page.evaluate(() => {
        const e = document.activeElement!
        const s = getComputedStyle(e)
        return (
          s.outlineStyle !== 'none' ||
          s.boxShadow !== 'none' ||
          e.matches('input, textarea, [role=combobox]') ||
          e.closest('svg') !== null ||
          getComputedStyle(e, '::after').outlineStyle !== 'none' ||
          e.querySelector('.v-btn__overlay') !== null
        )
      })
      expect(outline, 'the focus can be seen').toBe(true)
      return
    }
    await page.keyboard.press('Tab')
  }
  throw new Error(`${String(target)} cannot be reached by Tab`)
}
async function press(page: Page, target: Locator, key = 'Enter'): Promise<void> {
  await tabTo(page, target)
  await page.keyboard.press(key)
}

test('signs in, opens a site, mends, edits, undoes, works a step, proves, signs out', async ({
  page,
  system,
}) => {
  const owner = await Caller.first(system.origin, NAME, PASSWORD)
  const plan = dunlinSlipway()
  const broken = structuredClone(plan)
  const [network] = Object.values(broken.wirelessNetworks)
  for (const p of Object.values(broken.ports))
    if (p.deviceId === 'switch')
      p.taggedSegmentIds = p.taggedSegmentIds.filter((s) => s !== network!.segmentId)
  await owner.read('POST', '/api/sites', { name: 'Dunlin Slipway', plan: broken })

  await page.goto(system.origin)
  await tabTo(page, page.getByLabel('Name'))
  await page.keyboard.type(NAME)
  await page.keyboard.press('Tab')
  await page.keyboard.type(PASSWORD)
  await page.keyboard.press('Enter')
  await page.waitForURL(`${system.origin}/`)
  await press(page, page.getByRole('link', { name: 'Dunlin Slipway', exact: true }))
  await page.waitForURL(/survey$/)
  await page.getByLabel('Title block').waitFor()

  await page.keyboard.press('3')
  await page.waitForURL(/wiring$/)
  const fix = page
    .getByRole('complementary', { name: 'Remarks' })
    .getByRole('button', { name: /^Tag VLAN/ })
  const clear = page.getByText('Nothing to remark on this sheet.')
  await expect(async () => {
    if (await clear.isVisible()) return
    await press(page, fix)
    await expect(clear).toBeVisible({ timeout: 2000 })
  }).toPass({ timeout: 60_000 })
  const status = page.getByRole('banner').getByRole('status')
  await expect(status).toContainText('saved')
  const mended = await status.textContent()
  await page.keyboard.press('1')
  await page.waitForURL(/survey$/)
  await press(page, page.getByRole('region', { name: 'Lines' }).getByRole('button').first())
  await tabTo(page, page.getByLabel('Line', { exact: true }))
  await page.keyboard.press('Control+a')
  await page.keyboard.type('Slipway copper')
  await page.keyboard.press('Enter')
  await expect(status).toContainText('saved')
  await expect(status).not.toHaveText(mended!)
  await press(page, page.getByRole('button', { name: 'Undo' }))
  await expect(page.getByLabel('Line', { exact: true })).not.toHaveValue('Slipway copper')
  await press(
    page,
    page.getByRole('link', { name: /^rev \d/ }).or(page.getByTitle('History of this site')),
  )
  await page.waitForURL(/history$/)
  await expect(
    page.getByRole('region', { name: 'Revisions' }).getByRole('row').nth(1),
  ).toContainText('Undo')
  await page.goBack()
  await page.getByLabel('Title block').waitFor()

  await page.keyboard.press(keyOf('bring-up'))
  await page.waitForURL(/bring-up$/)
  const step = page.getByRole('region', { name: /^Step:/ })
  await expect(step).toHaveAttribute('aria-label', /Read the serials/)
  await tabTo(page, step.getByLabel('Reading or note'))
  await page.keyboard.type('all legible')
  await page.keyboard.press('Enter')
  await expect(step.getByText('all legible')).toBeVisible()
  await press(page, step.getByRole('button', { name: /^(Done|I did it myself)$/ }))
  await expect(step).not.toHaveAttribute('aria-label', /Read the serials/)

  await page.keyboard.press('Escape')
  await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur())
  await page.keyboard.press(keyOf('prove'))
  await page.waitForURL(/prove$/)
  await press(page, page.getByRole('button', { name: 'Run the proof' }))
  await expect(page.getByText(/(contradict|untested|as planned)/).first()).toBeVisible({
    timeout: 60_000,
  })
  await press(page, page.getByRole('button', { name: 'Sign out' }))
  await page.waitForURL(/enter/)
})
