/** A person at the run sheet: reads the step, does it, claims where it says so. */
import type { Page } from '@playwright/test'
import { expect } from './system'

export const goTo = (page: Page, stop: string) =>
  page
    .getByRole('navigation', { name: 'Stops' })
    .getByRole('link', { name: new RegExp(stop) })
    .click()

/**
 * Does whatever step is current until a proof is asked for, or all is done; claims in Adopt, by the
 * serial off the label. Gives how many steps that were.
 */
export async function workThrough(
  page: Page,
  /** By the names of devices. */
  serials: Readonly<Record<string, string>>,
): Promise<number> {
  let steps = 0
  for (;;) {
    const step = page.getByRole('region', { name: /^Step:/ })
    const finished = page.getByText('Every step is done. On to the proof.')
    await expect(step.or(finished)).toBeVisible()
    if (await finished.isVisible()) return steps
    const title = (await step.getAttribute('aria-label'))!.slice('Step: '.length)
    if (title.startsWith('Run the proof')) return steps
    const claims = /^Name and claim (.*)$/.exec(title)
    if (claims) {
      await goTo(page, 'Adopt')
      const row = page.getByRole('row', { name: new RegExp(`^${claims[1]!} `) })
      await expect(row.getByRole('img', { name: /is seen$/ })).toBeVisible({ timeout: 60_000 })
      await row.click()
      const entry = page.locator('.entry')
      await entry.getByLabel('Serial off the label').fill(serials[claims[1]!]!)
      await entry.getByRole('button', { name: 'Claim' }).click()
      await expect(row.getByText('in service', { exact: true })).toBeVisible()
      await goTo(page, 'Bring-up')
    } else if (!/^See .* in service$/.test(title)) {
      const own = page.getByRole('region', { name: `Step: ${title}`, exact: true })
      const caution = own.getByRole('checkbox')
      const hands = own.getByRole('button', { name: 'Let the stand-ins do it' })
      const done = own.getByRole('button', { name: /^(Done|I did it myself)$/ })
      await expect(done).toBeVisible()
      if (await caution.isVisible()) await caution.check()
      const button = (await hands.isVisible()) ? hands : done
      await expect(button).toBeEnabled({ timeout: 60_000 })
      await button.click()
    }
    await expect(
      page
        .getByRole('list', { name: 'Run sheet' })
        .getByRole('listitem')
        .filter({ hasText: title }),
    ).toHaveClass(/done/, { timeout: 90_000 })
    steps++
  }
}
