import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { Person } from '../../demo/person'
import { expect, NAME, PASSWORD, test } from './system'

test.use({ file: 'faults' })

const faults: [name: string, label: RegExp, cause: RegExp][] = [
  [
    'swapped cables',
    /^Exchange the plugs of Crew desk and Tide board$/,
    /The cables of Crew desk and Tide board are exchanged: Hut switch port 4 and Hut switch port 5/,
  ],
  [
    'a missing tag',
    /^Lose tag 90 on Hut switch port 2$/,
    /VLAN 90 Visitors has no tag between Hut switch port 2 and Hut AP port eth0/,
  ],
  [
    'a wrong tag on the hand-off',
    /^The provider uses tag 13$/,
    /The provider does not answer on Slipway line with tag 12: the tag on the hand-off is probably another/,
  ],
  ['a dead line', /^Cut the provider's line, Slipway line$/, /Slipway line is dead/],
  [
    'a mistyped serial',
    /^The label of Hut AP says another serial$/,
    /The serial of Hut AP was mistyped: the plan has AM-AP-60385, a device calls as AM-AP-60386/,
  ],
]

test('each fault put in is named by the proof, and gone when it is taken out', async ({
  page,
  system,
}) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  const { id } = await person.open(dunlinSlipway())
  await person.bringUp(id)

  await page.goto(`${system.origin}/s/${id}/prove`)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByText(/Proven: all/)).toBeVisible()
  await page.getByRole('button', { name: 'x200' }).click()
  await page.getByText('Faults').click()
  const prove = page.getByRole('button', { name: 'Run the proof' })

  for (const [name, label, cause] of faults)
    await test.step(name, async () => {
      const fault = page.getByRole('checkbox', { name: label })
      await fault.check()
      await expect(page.getByText('1 in', { exact: true })).toBeVisible()
      const causes = page.getByRole('region', { name: 'Likely causes' }).getByRole('listitem')
      await expect(async () => {
        await prove.click()
        await expect(prove).toBeEnabled({ timeout: 60_000 })
        await expect(
          page.getByText(/(result contradicts|results contradict) the plan$/),
        ).toBeVisible({ timeout: 3000 })
        await expect(causes.first()).toContainText(cause, { timeout: 3000 })
      }).toPass({ timeout: 120_000 })
      await fault.uncheck()
      await expect(async () => {
        await prove.click()
        await expect(prove).toBeEnabled({ timeout: 60_000 })
        await expect(page.getByText(/Proven: all/)).toBeVisible({ timeout: 3000 })
      }).toPass({ timeout: 120_000 })
    })
})
