/** Devices that set themselves up from their box: nobody claims them, and the proof is the same. */
import { readBootstrap, readLog, readRoll, setSpeed } from '@mast/api'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { Person } from '../../demo/person'
import { expect, NAME, PASSWORD, test } from './system'

test.use({ file: 'firstStart' })

test('makers vouch for the owner, and devices come from their box by themselves', async ({
  page,
  system,
}) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  const { id } = await person.open(dunlinSlipway())
  const params = { site: id }
  await page.goto(`${system.origin}/s/${id}/wiring`)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  const controller = page.getByRole('group', { name: 'Controller' })
  await test.step('the controller serves them, at a port of its own', async () => {
    await controller.getByLabel(/^Devices set themselves up/).check()
    await expect(controller.getByLabel('They ask at port')).toHaveValue('8543')
    await controller.getByLabel('And are passed on to').fill('nowhere')
    await controller.getByLabel('And are passed on to').press('Enter')
    await expect(controller.getByText(/a name or address with its port/)).toBeVisible()
    await controller.getByLabel('And are passed on to').fill('')
    await controller.getByLabel('And are passed on to').press('Enter')
  })
  const box = page.locator('details', { hasText: 'From the box' }).first()
  /** What is opened while the sheet is still coming is drawn anew, and closed. */
  const openBox = (shows: string): Promise<void> =>
    expect(async () => {
      const button = box.getByRole('button', { name: shows })
      if (!(await button.isVisible())) await box.locator('summary').click()
      await expect(button).toBeVisible({ timeout: 2000 })
    }).toPass({ timeout: 30_000 })
  await test.step('the site has an owner, and makers vouch for it', async () => {
    await page.goto(`${system.origin}/s/${id}/adopt`)
    await openBox('Make the owner')
    await box.getByRole('button', { name: 'Make the owner' }).click()
    await expect(box.getByRole('button', { name: 'Save its certificate' })).toBeVisible()
    await expect(box.getByText('nobody vouches for it').first()).toBeVisible()
    await box.locator('input[type=file]').setInputFiles({
      name: 'letter.txt',
      mimeType: 'text/plain',
      buffer: Buffer.from('Dear owner'),
    })
    await expect(box.getByText(/it is no certificate and no voucher/)).toBeVisible()
  })
  await test.step('with the bench full, devices are their owner’s by themselves', async () => {
    // The stand-ins are there once somebody looks for them.
    await person.ask(setSpeed, { params, body: { speed: 1000 } })
    await page.reload()
    await openBox('Have the maker of the stand-ins vouch')
    await box.getByRole('button', { name: 'Have the maker of the stand-ins vouch' }).click()
    await expect(box.getByText(/its maker vouches until/).first()).toBeVisible()
    const { vouchers, makers } = await person.ask(readBootstrap, { params })
    expect(makers.map((m) => m.name)).toEqual(['Maker of the stand-ins'])
    expect(vouchers.length).toBeGreaterThan(2)
  })
  // The gateway is who tells the others where to ask.
  await person.bringUp(
    id,
    () => true,
    (device) => device === 'gateway',
  )
  await test.step('and the log says by whose word', async () => {
    const { devices } = await person.ask(readRoll, { params })
    expect(new Set(devices.map((d) => d.state))).toEqual(new Set(['in-service']))
    const { entries } = await person.ask(readLog, { params })
    const said = entries.filter((e) => /was set up from its box/.test(e.what))
    expect(said.length).toBe(devices.length - 1)
    expect(entries.filter((e) => e.what.startsWith('Claimed ')).length).toBe(1)
    await page.reload()
    await expect(page.getByText(/its maker vouches for/).first()).toBeVisible()
  })
})
