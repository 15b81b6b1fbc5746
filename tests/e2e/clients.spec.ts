/** Who is on the air: seen, counted, named, held to a speed, shut out and let back. */
import { readClients, setFault, setSpeed } from '@mast/api'
import { faultsOffered } from '@mast/standins/control'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { Person } from '../../demo/person'
import { expect, NAME, PASSWORD, test } from './system'

test.use({ file: 'clients', viewport: { width: 390, height: 844 } })

test('a client that drains the line is found, held to a speed, shut out and let back, on a phone', async ({
  page,
  system,
}) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  const plan = dunlinSlipway()
  const { id } = await person.open(plan)
  await person.bringUp(id)
  const params = { site: id }
  await person.ask(setSpeed, { params, body: { speed: 200 } })
  const { fault } = faultsOffered(plan).find((o) => o.fault.kind === 'draining-client')!
  const host = plan.devices[(fault as { deviceId: string }).deviceId]!
  await page.goto(`${system.origin}/s/${id}/adopt`)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  const clients = page.getByRole('region', { name: 'Clients' })
  const row = clients.getByRole('row', { name: new RegExp(host.name) }).first()
  const mine = async () =>
    (await person.ask(readClients, { params })).clients.find(
      (c) => c.hardwareAddress === host.hardwareAddress,
    )!

  await test.step('is there with what it has moved', async () => {
    await expect(row).toContainText(host.hardwareAddress!, { timeout: 60_000 })
    await row.click()
    await expect(clients.getByText(`In the plan as ${host.name}.`)).toBeVisible()
    await expect(clients.getByRole('img', { name: /^Moved in the last 3 hours: / })).toBeVisible()
    expect((await mine()).address).toMatch(/^[\d.]+$/)
  })
  await test.step('is a finding once it takes the line from the others', async () => {
    await person.ask(setFault, { params, body: { fault, on: true } })
    await expect(row).toContainText('takes the line from the others', { timeout: 120_000 })
    await expect(page.getByText(/has fetched .* in the last hour/)).toBeAttached()
  })
  await test.step('is held to a speed, under a name', async () => {
    await clients.getByLabel('Held to').fill('2')
    await clients.getByLabel('Held to').press('Enter')
    await expect(row).toContainText('held to 2 Mbit/s')
    await clients.getByLabel('Called').fill('Skipper')
    await clients.getByLabel('Called').press('Enter')
    await expect(clients.getByRole('row', { name: /Skipper/ }).first()).toBeVisible()
  })
  await test.step('is shut out, and heard no more', async () => {
    await clients.getByRole('button', { name: 'Shut it out' }).click()
    await expect(clients.getByText('shut out').first()).toBeVisible()
    const last = (await mine()).seenAt!
    await expect(async () => {
      const { seenAt } = await mine()
      // Not heard for longer than any report takes at this speed.
      expect(Date.now() - new Date(seenAt!).getTime()).toBeGreaterThan(5000)
    }).toPass({ timeout: 60_000 })
    expect(new Date((await mine()).seenAt!).getTime()).toBeGreaterThanOrEqual(
      new Date(last).getTime(),
    )
  })
  await test.step('and let back in', async () => {
    const before = (await mine()).seenAt!
    await clients.getByRole('button', { name: 'Let it back in' }).click()
    await expect(async () => {
      expect(new Date((await mine()).seenAt!).getTime()).toBeGreaterThan(new Date(before).getTime())
    }).toPass({ timeout: 60_000 })
  })
})
