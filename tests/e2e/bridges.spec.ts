/** Bridges: profile, staircase, ends, ground out of files, and the aim helper on a phone. */
import { claimDevice } from '@mast/api'
import { applyEdits, editCall } from '@mast/core/plan'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { Person } from '../../demo/person'
import { Device } from '../attacks/device'
import { soundSite } from '../sites/sound'
import { expect, NAME, PASSWORD, settled, test } from './system'

test.use({ file: 'bridges' })

test('heights are moved, ends are set, the ground is read, and all follows', async ({
  page,
  system,
}) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  await person.open(kittiwakeHarbour())
  await page.goto(`${system.origin}/s/kittiwake-harbour/bridges`)
  await page.getByLabel('Name', { exact: true }).fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await settled(page)
  const answer = page.getByRole('region', { name: 'Answer' })
  await expect(answer).toContainText('44 % of the first Fresnel zone is free')
  await expect(answer).toContainText('40 and 40 dBm EIRP; set 4 and 4 dBm')
  await expect(answer).toContainText('Check with your regulator')

  const profile = page.getByRole('region', { name: 'Profile of the path' })
  const kiosk = profile.getByRole('slider', { name: 'Height of Berth bridge, kiosk end' })
  await kiosk.focus()
  for (let n = 0; n < 3; n++) await page.keyboard.press('Shift+ArrowUp')
  await expect(kiosk).toHaveAttribute('aria-valuenow', '7')
  await expect(answer).not.toContainText('44 % of the first')
  // Dragged with the pointer it follows as well.
  const masts = profile.getByRole('slider', { name: 'Top of Moored masts at high water' })
  const before = await masts.getAttribute('aria-valuenow')
  const box = (await masts.boundingBox())!
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2 + 40, { steps: 4 })
  await page.mouse.up()
  await expect(masts).not.toHaveAttribute('aria-valuenow', before!)

  await page.getByRole('tab', { name: 'Light bridge' }).click()
  const ends = page.getByRole('region', { name: 'Both ends' })
  await expect(ends).toContainText('too short for 3.40 km')
  await page
    .getByRole('complementary', { name: 'Remarks' })
    .getByRole('button', { name: 'Set the distance at both ends for this path' })
    .click()
  await expect(ends).not.toContainText('too short')
  const stairs = page.getByRole('region', { name: 'Staircase' })
  await stairs.getByRole('img', { name: /^Free space/ }).focus()
  await expect(stairs.getByRole('status')).toContainText('ITU-R P.525')

  const way = page.getByRole('region', { name: 'On the way' })
  await way.getByLabel('Read the ground').setInputFiles({
    name: 'ground.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('distance,height\n0,6\n1700,3\n3400,14\nx,2\n'),
  })
  await expect(way.getByRole('status')).toHaveText('ground.csv: 3 heights.')
  await expect(way).toContainText('line 5, column 1: no distance')
  await way.getByLabel('Read the ground').setInputFiles({
    name: 'N57W007.hgt',
    mimeType: 'application/octet-stream',
    buffer: Buffer.alloc(1000),
  })
  await expect(way).toContainText('it was cut off, or is packed')
  await way.getByLabel('Read the ground').setInputFiles({
    name: 'N57W007.hgt',
    mimeType: 'application/octet-stream',
    buffer: Buffer.alloc(1201 * 1201 * 2),
  })
  await expect(way.getByRole('status')).toContainText(/^N57W007.hgt: \d+ heights/)

  // What is typed is kept where it was refused, with the reason.
  const coordinates = ends.getByLabel('Coordinates').first()
  await coordinates.fill('north of the mill')
  await coordinates.press('Enter')
  await expect(ends).toContainText('expected latitude and longitude in degrees')
  await expect(coordinates).toHaveValue('north of the mill')
  await ends.getByLabel('Key, 14 or more').first().fill('eleven geese on a quay')
  await ends.getByLabel('Key, 14 or more').first().press('Enter')
  await expect(ends.getByLabel('Key, 14 or more').first()).toHaveValue('')

  const fold = page.getByRole('region', { name: 'Masts', exact: true })
  await fold.getByText('Which masts see each other').click()
  await fold.getByLabel('Rank over a tile').setInputFiles({
    name: 'N57W007.hgt',
    mimeType: 'application/octet-stream',
    buffer: Buffer.alloc(1201 * 1201 * 2),
  })
  await expect(fold.getByRole('table', { name: 'Pairs of masts' })).toBeVisible()
})

test('on a phone: cautions first, readings typed without a network, and the stand-in aimed', async ({
  page,
  system,
}) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  const { id: site } = await person.open(
    soundSite({
      profileId: 'bridge-5ghz-dish',
      channel: 112,
      widthMhz: 40,
      metres: 3400,
      degrees: 70,
      heightAM: 20,
      heightBM: 25,
      ground: [],
      obstacles: [],
    }),
  )
  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto(`${system.origin}/s/sound/bridges`)
  await page.getByLabel('Name', { exact: true }).fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await settled(page)
  const aim = page.getByRole('region', { name: 'Aim' })
  await expect(aim.getByLabel('It reads, dBm')).toHaveCount(0)
  await aim.getByRole('checkbox', { name: /^Not alone/ }).check()
  const reading = aim.getByLabel('Reading', { exact: true })
  await expect(reading).toHaveText('--')
  await page.context().setOffline(true)
  const read = async (text: string): Promise<void> => {
    await aim.getByLabel('It reads, dBm').fill(text)
    await aim.getByRole('button', { name: 'Read', exact: true }).click()
  }
  await read('a lot')
  await expect(aim).toContainText('a level is a number of dBm')
  await read('-80.6')
  await expect(reading).toHaveText('-81')
  await expect(aim).toContainText('most likely a side lobe, about 12.8 degrees beside the beam')
  await aim.getByRole('button', { name: 'Next sweep' }).click()
  await read('-63')
  await expect(aim).toContainText('As expected, within 3 dB')
  await aim.getByRole('button', { name: 'Keep this reading' }).click()
  await expect(aim).toContainText('kept here, not sent yet')
  await page.context().setOffline(false)
  await expect(aim).not.toContainText('kept here, not sent yet')

  // Both units are on the bench and then on their masts.
  const inPlace = new Set([
    ...['record-hand-off', 'read-labels', 'bench-power', 'laptop', 'set', 'bridge-set'],
    ...['laptop-automatic', 'place'],
  ])
  await person.bringUp(site, (step) => inPlace.has(step.kind))
  await aim.getByRole('checkbox', { name: 'On the stand-in' }).check()
  await aim.getByRole('button', { name: 'Loosen it and follow the advice' }).click()
  await expect(aim.getByRole('status')).toContainText(/^Sweep/)
  await expect(aim.getByRole('status')).toContainText(/^Back to the best/, { timeout: 120_000 })
  await expect(aim).toContainText('As expected, within 3 dB')

  // On a side lobe: the proof says so, with where to look.
  await page.goto(`${system.origin}/s/${site}/prove`)
  await page.getByText('Faults').click()
  await page.getByRole('checkbox', { name: /side lobe/ }).check()
  await expect(page.getByText('1 in', { exact: true })).toBeVisible()
  const causes = page.getByRole('region', { name: 'Likely causes' }).getByRole('listitem')
  const prove = page.getByRole('button', { name: 'Run the proof' })
  await expect(async () => {
    await prove.click()
    await expect(prove).toBeEnabled({ timeout: 60_000 })
    await expect(causes.first()).toContainText('most likely a side lobe', { timeout: 3000 })
  }).toPass({ timeout: 120_000 })
  await expect(causes.first()).toContainText('Aim: sweep')
})

test('what a radio reports to its controller is read by the helper as it comes', async ({
  page,
  system,
}) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  const { id: site } = await person.open(
    applyEdits(
      soundSite({
        profileId: 'bridge-5ghz-managed',
        channel: 112,
        widthMhz: 40,
        metres: 3400,
        degrees: 70,
        heightAM: 20,
        heightBM: 25,
        ground: [],
        obstacles: [],
      }),
      [editCall('changeDevice', { id: 'shore-radio', changes: { serial: 'AM-BRG-00077' } })],
    ),
  )
  const radio = new Device(system.origin, 'AM-BRG-00077')
  expect(await radio.hello()).toBe('unclaimed')
  await person.ask(claimDevice, {
    params: { site, device: 'shore-radio' },
    body: { serial: 'AM-BRG-00077' },
  })
  expect(await radio.askToken()).toBe(200)
  const hears = (dbm: number | null) =>
    radio.report({ paths: [{ port: 'air', dbm, sendsMbps: 90, hearsMbps: 60 }] })
  expect(await hears(null)).toBe(200)

  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto(`${system.origin}/s/${site}/bridges`)
  await page.getByLabel('Name', { exact: true }).fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await settled(page)
  const aim = page.getByRole('region', { name: 'Aim' })
  await aim.getByRole('checkbox', { name: /^Not alone/ }).check()
  await aim.getByRole('checkbox', { name: 'By its reports' }).check()
  await expect(aim.getByRole('status')).toHaveText('It hears nothing of the other end')
  expect(await hears(-80.6)).toBe(200)
  const reading = aim.getByLabel('Reading', { exact: true })
  await expect(reading).toHaveText('-81')
  await expect(aim).toContainText('most likely a side lobe')
  expect(await hears(-63.2)).toBe(200)
  await expect(reading).toHaveText('-63')
  await expect(aim).toContainText('As expected, within 3 dB')
})
