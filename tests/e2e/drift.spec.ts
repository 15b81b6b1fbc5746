/** What is changed at the page of a device is told line by line, loaded again, or taken over. */
import { setFault, setSpeed } from '@mast/api'
import { faultsOffered } from '@mast/standins/control'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { Person } from '../../demo/person'
import { expect, NAME, PASSWORD, test } from './system'

test.use({ file: 'drift' })

test('a socket put into another VLAN at its own page', async ({ page, system }) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  const plan = dunlinSlipway()
  const { id } = await person.open(plan)
  await person.bringUp(id)
  const params = { site: id }
  await person.ask(setSpeed, { params, body: { speed: 200 } })
  const { fault } = faultsOffered(plan).find((o) => o.fault.kind === 'changed-by-hand')!
  /** While it writes, its page takes nothing. */
  const set = (on: boolean) =>
    expect(async () => {
      await person.ask(setFault, { params, body: { fault, on } })
    }).toPass({ timeout: 60_000 })
  await page.goto(`${system.origin}/s/${id}/adopt`)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  const roll = page.getByRole('region', { name: 'Roll' })
  const all = roll.getByText('3 in service')
  const lines = page.locator('[data-line]')
  await expect(all).toBeVisible()

  await test.step('is drift, and shown as the line that differs', async () => {
    await set(true)
    await expect(roll.getByText('drifted').first()).toBeVisible({ timeout: 60_000 })
    await roll
      .getByRole('row', { name: /Hut switch/ })
      .first()
      .click()
    await expect(lines).toHaveCount(1, { timeout: 60_000 })
    await expect(lines.first()).toContainText(/port \d, untagged VLAN/)
  })
  await test.step('is overwritten where what was sent is loaded again', async () => {
    await page.getByRole('button', { name: 'Load what was sent again' }).click()
    await expect(page.getByText('It loads what was sent when it calls next.')).toBeVisible()
    await expect(all).toBeVisible({ timeout: 90_000 })
  })
  await test.step('or comes into the plan, which then wants what runs', async () => {
    await set(false)
    await set(true)
    await expect(lines).toHaveCount(1, { timeout: 90_000 })
    await lines.first().getByRole('checkbox', { name: 'Into the plan' }).check()
    await page.getByRole('button', { name: 'Take 1 into the plan' }).click()
    await expect(page.getByText(/1 line is in the plan now/)).toBeVisible()
    await page.getByRole('button', { name: /^Send to devices/ }).click()
    const dialog = page.getByRole('dialog')
    // Now the plan says what that means, before anybody else is told.
    await expect(dialog.getByText(/needed by Crew desk/)).toBeVisible({ timeout: 30_000 })
    await dialog.getByRole('button', { name: 'Not now' }).click()
    await page.getByRole('button', { name: 'Undo' }).click()
    await expect(lines.first().getByRole('checkbox', { name: 'Into the plan' })).toBeVisible()
  })
})
