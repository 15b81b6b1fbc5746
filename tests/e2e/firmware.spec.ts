/** Firmware of one device: back to an older version and up again; what devices run is kept. */
import { readFileSync } from 'node:fs'
import { readBackups, setSpeed } from '@mast/api'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { Person } from '../../demo/person'
import { expect, NAME, PASSWORD, test } from './system'

test.use({ file: 'firmware' })

test('one device goes back a version and up again', async ({ page, system }) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  const { id } = await person.open(dunlinSlipway())
  await person.bringUp(id)
  await person.ask(setSpeed, { params: { site: id }, body: { speed: 200 } })
  await page.goto(`${system.origin}/s/${id}/adopt`)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  const roll = page.getByRole('region', { name: 'Roll' })
  const row = roll.getByRole('row', { name: /Hut AP/ }).first()
  const field = roll.getByLabel('Firmware to run')
  await expect(roll.getByText('3 in service')).toBeVisible()
  await row.click()

  const run = async (typed: string, runs: string): Promise<void> => {
    await field.fill(typed)
    await field.press('Enter')
    await page.getByRole('button', { name: /^Send to devices/ }).click()
    const dialog = page.getByRole('dialog')
    await expect(dialog.getByText(`to ${runs}`)).toBeVisible({ timeout: 30_000 })
    await dialog.getByRole('button', { name: /^Send/ }).click()
    await expect(row.getByText(runs, { exact: true })).toBeVisible({ timeout: 120_000 })
    await expect(roll.getByText('3 in service')).toBeVisible({ timeout: 60_000 })
  }
  await test.step('not below what the controller takes', async () => {
    await field.fill('1.0')
    await field.press('Enter')
    await expect(roll.getByText(/is the least that the controller takes/)).toBeVisible()
  })
  await test.step('back', () => run('5.0.3', '5.0.3'))
  await test.step('and up', () => run('', '5.2.0'))
  await test.step('what devices run was kept by itself, and is had again', async () => {
    const params = { site: id }
    await expect(async () => {
      const { backups } = await person.ask(readBackups, { params })
      expect(new Set(backups.map((b) => b.deviceId)).size).toBe(3)
    }).toPass({ timeout: 90_000 })
    await page.reload()
    await expect(roll.getByText('3 in service')).toBeVisible()
    await row.click()
    await roll.getByText(/Kept (once|\d+ times)/).click()
    const download = page.waitForEvent('download')
    await roll
      .getByRole('link', { name: /^[0-9a-f]{12}$/ })
      .first()
      .click()
    const file = await (await download).path()
    expect(JSON.parse(readFileSync(file, 'utf8'))).toMatchObject({ kind: 'access-point' })
  })
})
