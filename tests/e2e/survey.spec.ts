/**
 * Survey and Addresses through the real interface: lines, labels, lists, scans, the ruler, leases,
 * files, other sites, a site from another one.
 */
import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import QRCode from 'qrcode'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { petrelStreet } from '../../demo/petrelStreet'
import { Caller } from '../caller'
import { choose, expect, NAME, PASSWORD, settled, test } from './system'

test.use({ file: 'survey' })

async function enter(page: Page, origin: string, path: string): Promise<Caller> {
  const owner = await Caller.first(origin, NAME, PASSWORD)
  const there = new Set((await owner.read<{ id: string }[]>('GET', '/api/sites')).map((s) => s.id))
  if (!there.has('kittiwake-harbour'))
    await owner.read('POST', '/api/sites', { name: 'Kittiwake Harbour', plan: kittiwakeHarbour() })
  if (!there.has('petrel-street-chandlery'))
    await owner.read('POST', '/api/sites', {
      name: 'Petrel Street Chandlery',
      plan: petrelStreet(),
    })
  await page.goto(origin + path)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await settled(page)
  return owner
}
const saved = (page: Page) =>
  expect(page.getByRole('banner').getByRole('status')).toContainText('saved')
async function planOf(owner: Caller, id = 'kittiwake-harbour') {
  return (
    await owner.read<{ plan: ReturnType<typeof kittiwakeHarbour> }>('GET', `/api/sites/${id}`)
  ).plan
}
const remarks = (page: Page) => page.getByRole('complementary', { name: 'Remarks' })

test('a second line of another kind, its gate, and the licence that its socket needs', async ({
  page,
  system,
}) => {
  const owner = await enter(page, system.origin, '/s/kittiwake-harbour/survey')
  await expect(page.getByRole('button', { name: /^1 Harbour fibre gate open/ })).toBeVisible()
  await page.getByRole('button', { name: /^1 Harbour fibre/ }).click()
  await expect(page.getByText('Gate open: the old line may be unplugged')).toBeVisible()
  await page.getByRole('button', { name: /^2 Cellular standby/ }).click()
  await expect(page.getByText('5 of 5 facts of Cellular standby are known.')).toBeVisible()
  const name = page.getByLabel('Access point name')
  await name.fill('')
  await name.press('Enter')
  await expect(page.getByText('Gate shut: do not unplug the old line')).toBeVisible()
  await expect(page.getByRole('listitem').filter({ hasText: 'Access point name' })).toContainText(
    "the SIM's letter",
  )
  await name.fill('data.example')
  await name.press('Enter')
  await remarks(page).getByRole('button', { name: 'Second line is there' }).click()
  await expect(remarks(page).getByText('A licence or registration is missing')).toBeHidden()
  await saved(page)
  expect((await planOf(owner)).devices.gateway!.licencesHeld).toContain('second-line')

  await page.getByRole('button', { name: 'Record another line' }).click()
  await choose(page, 'Address given', 'PPPoE')
  await expect(page.getByText('usually 1492 under PPPoE (RFC 2516); ask')).toBeVisible()
  await page.getByLabel('PPPoE password', { exact: true }).fill('rope-and-tide')
  await page.getByLabel('PPPoE password', { exact: true }).press('Enter')
  await expect(page.getByLabel('PPPoE password, in the vault')).toBeVisible()
  await page.getByRole('button', { name: 'Remove this line' }).click()
  await expect(page.getByRole('button', { name: /^3 / })).toHaveCount(0)
})

test('a list with other headings is mapped, a label is read off a photograph, leases are matched', async ({
  page,
  system,
}) => {
  const owner = await enter(page, system.origin, '/s/petrel-street-chandlery/survey')
  const list =
    'Bezeichnung;Art;Seriennummer;Ort;Bemerkung\r\nScales;Wired host;;Shop;old\r\nStore ' +
    'switch;Switch 8 PoE+ 65 W;AM-SWI-5O118;Shop;\r\nDoor camera;Camera PoE;;Attic;\r\n'
  await page
    .getByLabel('Import CSV', { exact: true })
    .setInputFiles({ name: 'liste.csv', mimeType: 'text/csv', buffer: Buffer.from(list) })
  const review = page.getByLabel('What the file says')
  await expect(review).toContainText("line 1, column 1 the column 'name' is missing")
  for (const [column, heading] of [
    ['name', 'Bezeichnung'],
    ['profile', 'Art'],
    ['serial', 'Seriennummer'],
    ['location', 'Ort'],
  ] as const)
    await choose(page, column, heading)
  await expect(review).toContainText(
    '1 of 3 rows can be imported; 2 remarks. 3 devices are there now; 4 afterwards.',
  )
  await expect(review).toContainText(
    'line 3, column 3 AM-SWI-5O118 does not look like a serial of this kind, for example ' +
      'AM-GGG-44444; is it AM-SWI-50118?',
  )
  await expect(review).toContainText("line 4, column 4 there is no location 'Attic'")
  await review.getByRole('button', { name: 'Import 1' }).click()
  await expect(review).toContainText(
    '3 before, 1 imported, 4 now; 2 rows were left where they are.',
  )
  await review.getByRole('button', { name: 'Done' }).click()

  // Another box in its place: the label of the old one no longer counts, the cable stays; one with
  // too few sockets is refused.
  const equipment = page.getByRole('region', { name: 'Equipment' })
  await equipment.getByRole('row', { name: /^Shop gateway/ }).click()
  await choose(page, 'Profile', 'Card terminal')
  await expect(
    equipment.getByText(
      'Card terminal has too few sockets of the kinds that are in use on Shop gateway',
    ),
  ).toBeVisible()
  await equipment.getByRole('row', { name: /^Shop AP/ }).click()
  await choose(page, 'Profile', 'Outdoor AP 2x2')
  await expect(equipment.getByRole('row', { name: /^Shop AP Outdoor AP 2x2/ })).toBeVisible()
  await expect(page.getByLabel('Serial', { exact: true })).toHaveValue('')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(equipment.getByRole('row', { name: /^Shop AP Indoor AP 2x2/ })).toBeVisible()

  // The table: sorted, several rows changed at once, by keyboard.
  const rows = equipment.locator('tr[data-row]')
  const names = async (): Promise<string[]> =>
    (await rows.locator('td:nth-child(2)').allTextContents()).map((t) => t.trim())
  await equipment.getByRole('columnheader', { name: 'Name' }).click()
  await expect.poll(names).toEqual([...(await names())].sort())
  await rows.first().focus()
  await page.keyboard.press('Space')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Space')
  await expect(equipment.getByText('2 chosen')).toBeVisible()
  await choose(page, 'Power from', 'an injector')
  await expect(equipment.getByRole('row', { name: / an injector$/ })).toHaveCount(2)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(equipment.getByRole('row', { name: / an injector$/ })).toHaveCount(0)
  await page.keyboard.press('Escape')

  await page.getByLabel('Import CSV', { exact: true }).setInputFiles({
    name: 'latin.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from([
      ...Buffer.from('name,profile\nK'),
      0xfc,
      ...Buffer.from('che,Wired host\n'),
    ]),
  })
  await expect(page.getByLabel('What the file says')).toContainText(
    'latin.csv, line 2, column 2: octet fc is not UTF-8; save the file as UTF-8 and read it again',
  )

  await equipment.locator('tr[data-row="shop-ap"]').click()
  await page.getByTitle('Read the serial off its label').click()
  await page.getByLabel('A photograph of the label', { exact: true }).setInputFiles({
    name: 'label.png',
    mimeType: 'image/png',
    buffer: await QRCode.toBuffer('S/N: AM-APX-51133', { scale: 6 }),
  })
  await expect(page.getByLabel('Serial', { exact: true })).toHaveValue('AM-APX-51133')
  await page.getByTitle('Read the hardware address off its label').click()
  await page.getByLabel('A photograph of the label', { exact: true }).setInputFiles({
    name: 'blank.png',
    mimeType: 'image/png',
    buffer: readFileSync('docs/screenshots/sites.png'),
  })
  await expect(page.getByText('No code was found in this picture')).toBeVisible()
  await page.getByLabel('A photograph of the label', { exact: true }).setInputFiles({
    name: 'label.png',
    mimeType: 'image/png',
    buffer: await QRCode.toBuffer('MAC=025053000020', { scale: 6 }),
  })
  await expect(page.getByLabel('Hardware address', { exact: true })).toHaveValue(
    '02:50:53:00:00:20',
  )
  await saved(page)

  await page.getByLabel('Read leases or neighbours', { exact: true }).setInputFiles({
    name: 'leases',
    mimeType: 'text/plain',
    buffer: Buffer.from(
      '1764000000 02:50:53:00:00:20 192.168.1.33 * *\n1764000000 02:00:5e:10:00:77 192.168.1.40 jukebox *\nrubbish\n',
    ),
  })
  const seen = page.getByLabel('What was seen')
  await expect(seen).toContainText('leases, dnsmasq leases: 2 seen, 1 of them known, 1 strangers')
  await expect(seen).toContainText('line 3 expected a time')
  await seen
    .getByRole('row', { name: /jukebox/ })
    .getByRole('button', { name: 'It stays' })
    .click()
  await expect(
    page.getByRole('region', { name: 'Equipment' }).getByRole('row', { name: /jukebox stays/ }),
  ).toBeVisible()
  await saved(page)
  expect(
    Object.values((await planOf(owner, 'petrel-street-chandlery')).devices).find(
      (d) => d.name === 'jukebox',
    ),
  ).toMatchObject({ stays: true, hardwareAddress: '02:00:5e:10:00:77' })
})

test(
  "a profile of one's own: sockets, power, lamp, licences, what it can hold; while a device is " +
    'of it, its sockets stay',
  async ({ page, system }) => {
    const owner = await enter(page, system.origin, '/s/petrel-street-chandlery/survey')
    const section = page.getByRole('region', { name: 'Profiles' })
    const fill = async (label: string, text: string): Promise<void> => {
      const field = section.getByLabel(label, { exact: true })
      await field.fill(text)
      await field.press('Enter')
    }
    await page.getByText('Profiles: what each kind of device can do').click()
    await section.getByRole('row', { name: /^Switch 5 plain/ }).click()
    await section.getByRole('button', { name: 'Make one of my own from it' }).click()
    await fill('Name of the profile', 'Bench switch')
    await choose(page, 'VLANs', 'assigns them by socket')
    await fill('Firmware at the least', '2.0.1')
    await fill('Gives over cables in all', '40')
    await fill('Tunnels at once', '-3')
    await section.getByLabel('Can be the controller').check()
    await fill('Holds, switch', '7')

    const sockets = section.getByRole('region', { name: 'Sockets of the profile' })
    await sockets.getByRole('button', { name: 'Add a socket' }).click()
    await fill('Name of the socket', 'UP 1')
    await expect(sockets.getByText(/Invalid string|must match/).first()).toBeVisible()
    await fill('Name of the socket', 'up1')
    await choose(page, 'Is by default', 'line')
    await choose(page, 'Feeds power', 'type 2 (IEEE 802.3)')
    const licences = section.getByRole('region', { name: 'Licences of the profile' })
    await licences.getByRole('button', { name: 'Add a licence' }).click()
    await fill('Licence 1', 'Uplink key')
    await fill('Unlocks', 'the line socket')
    await choose(page, 'Needs the licence', 'Uplink key')
    const lamp = section.getByRole('region', { name: 'Lamp of the profile' })
    await lamp.getByRole('button', { name: 'Add a signal' }).click()
    await choose(page, 'Colour', 'amber')
    await choose(page, 'Rhythm', 'in pairs')
    await fill('Means', 'Too warm: give it air.')
    await expect(lamp.getByRole('row', { name: /amber, in pairs off Too warm/ })).toBeVisible()
    await saved(page)
    const own = async () =>
      Object.values((await planOf(owner, 'petrel-street-chandlery')).profiles).find(
        (p) => p.name === 'Bench switch',
      )!
    await expect.poll(async () => (await own()).lights.length).toBe(1)
    expect(await own()).toMatchObject({
      vlan: 'managed',
      poeBudgetW: 40,
      firmware: { minimum: '2.0.1' },
      limits: { tunnels: null, controllerCapacity: { switch: 7 } },
      licences: [{ name: 'Uplink key', unlocks: 'the line socket' }],
      lights: [{ colour: 'amber', rhythm: 'double', meaning: 'Too warm: give it air.' }],
    })
    const [licence] = (await own()).licences
    expect((await own()).ports.at(-1)).toMatchObject({
      name: 'up1',
      role: 'wan',
      poeOutType: 2,
      licenceId: licence!.id,
    })

    // A device of it: now its sockets stay, and what a socket needs goes with the licence.
    const equipment = page.getByRole('region', { name: 'Equipment' })
    await owner.read('POST', '/api/sites/petrel-street-chandlery/edits', {
      base: (await owner.read<{ revision: number }>('GET', '/api/sites/petrel-street-chandlery'))
        .revision,
      changes: [
        {
          id: crypto.randomUUID(),
          kind: 'edit',
          name: 'addDevice',
          args: { id: 'bench', name: 'Bench', profileId: (await own()).id },
        },
      ],
    })
    await expect(equipment.getByRole('row', { name: /^Bench/ })).toBeVisible()
    await expect(sockets).toContainText('so their names stay')
    await expect(sockets.getByRole('button', { name: 'Add a socket' })).toHaveCount(0)
    await licences.getByRole('button', { name: 'Remove Uplink key' }).click()
    await expect.poll(async () => (await own()).ports.at(-1)!.licenceId).toBeNull()
  },
)

test('a long table is filtered and grouped, a short one has no need of it', async ({
  page,
  system,
}) => {
  await enter(page, system.origin, '/s/kittiwake-harbour/survey')
  const equipment = page.getByRole('region', { name: 'Equipment' })
  const rows = equipment.locator('tr[data-row]')
  const filter = equipment.getByRole('textbox', { name: 'Filter devices' })
  await filter.fill('pontoon')
  await expect(rows).toHaveCount(3)
  await expect(equipment.getByText('3 of 47')).toBeVisible()
  await filter.fill('no such thing')
  await expect(equipment.getByText('Nothing of that text.')).toBeVisible()
  await filter.press('Escape')
  await choose(page, 'Grouped', 'by power from')
  await expect(equipment.getByRole('button', { name: /^an outlet \d+$/ })).toBeVisible()
  await expect(equipment.getByRole('columnheader', { name: 'Power from' })).toHaveCount(0)
  await page.goto(`${system.origin}/s/kittiwake-harbour/addresses`)
  await settled(page)
  const segments = page.getByRole('region', { name: 'Segments' })
  await expect(segments.locator('tr[data-row]')).toHaveCount(8)
  await expect(segments.getByRole('textbox', { name: 'Filter segments' })).toHaveCount(0)
  // Several at once are one change, and one undo.
  await segments
    .getByRole('checkbox', { name: /^Choose/ })
    .first()
    .check()
  await segments
    .getByRole('checkbox', { name: /^Choose/ })
    .nth(1)
    .check()
  await choose(page, 'Lease', '12 h')
  await expect(segments.getByRole('row', { name: / 12 h$/ })).toHaveCount(2)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(segments.getByRole('row', { name: / 12 h$/ })).toHaveCount(0)
})

test('the ruler: a gap takes a segment, an edge is pulled and nudged, a span is made larger, IPv6 beside it', async ({
  page,
  system,
}) => {
  const owner = await enter(page, system.origin, '/s/kittiwake-harbour/addresses')
  await page.getByRole('row', { name: /^40 Cameras/ }).click()
  const edge = page.getByRole('slider', { name: 'End of the pool of Cameras' })
  await edge.focus()
  await page.keyboard.press('ArrowLeft')
  await page.keyboard.press('PageDown')
  await expect(page.getByLabel('Pool', { exact: true })).toHaveValue('10.20.40.10-10.20.40.237')
  const box = (await edge.boundingBox())!
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2)
  await page.mouse.down()
  await page.mouse.move(box.x - 200, box.y + 10, { steps: 6 })
  await page.mouse.up()
  await expect(page.getByLabel('Pool', { exact: true })).not.toHaveValue('10.20.40.10-10.20.40.237')
  const pulled = Number(
    (await page.getByLabel('Pool', { exact: true }).inputValue()).split('.').at(-1),
  )
  expect(pulled).toBeGreaterThan(100)
  expect(pulled).toBeLessThan(230)

  const ruler = page.getByRole('group', { name: /^Address space 10\.20\.0\.0\/16 with 8 subnets/ })
  const cameras = ruler.getByRole('button', { name: 'Cameras 10.20.40.0/24' }).locator('rect')
  await cameras.scrollIntoViewIfNeeded()
  const span = (await cameras.boundingBox())!
  const middle = span.y + span.height / 2
  await page.mouse.move(span.x + span.width, middle)
  await page.mouse.down()
  await page.mouse.move(span.x + span.width * 4, middle, { steps: 8 })
  await page.mouse.up()
  await expect(page.getByLabel('Subnet', { exact: true })).toHaveValue('10.20.40.0/22')
  await expect(page.getByLabel('Gateway', { exact: true }).last()).toHaveValue('10.20.40.1')

  await page.getByRole('button', { name: 'Whole 10.20.0.0/16' }).click()
  await ruler.getByRole('button', { name: 'Free: a /17 fits at 10.20.128.0' }).click()
  await choose(page, 'Put a segment here', /^60 Instruments/)
  await expect(
    page.getByRole('row', { name: /^60 Instruments instruments 10\.20\.128\.0\/26/ }),
  ).toBeVisible()
  await page.getByRole('button', { name: 'IPv6', exact: true }).click()
  await expect(
    page.getByRole('group', { name: /^Address space 2001:db8:20::\/56 with 8 subnets/ }),
  ).toBeVisible()
  await saved(page)
  const plan = await planOf(owner)
  expect(plan.segments.instruments).toMatchObject({
    subnet: '10.20.128.0/26',
    gateway: '10.20.128.1',
  })
  expect(plan.segments.cameras).toMatchObject({ subnet: '10.20.40.0/22' })

  // A locked segment stays where it is when everything is planned again.
  const before = plan.segments.management!.subnet
  await page.getByRole('button', { name: 'Plan again' }).click()
  await expect(page.getByText('Nothing has to move.')).toBeVisible()
  await page.getByRole('row', { name: /^60 Instruments/ }).click()
  await page.getByLabel('Hosts at the busiest time').fill('300')
  await page.getByLabel('Hosts at the busiest time').press('Enter')
  await page.getByRole('button', { name: 'Plan again' }).click()
  await expect(
    page.getByText('Moved: Instruments from 10.20.128.0/26 to 10.20.128.0/22 (has outgrown it).'),
  ).toBeVisible()
  await saved(page)
  expect((await planOf(owner)).segments.management!.subnet).toBe(before)
})

test('bad addresses are told at the field and keep what was typed; leases are reckoned and mended', async ({
  page,
  system,
}) => {
  const owner = await enter(page, system.origin, '/s/kittiwake-harbour/addresses')
  await page.getByRole('row', { name: /^90 Visitors/ }).click()
  const subnet = page.getByLabel('Subnet', { exact: true })
  for (const [text, reason] of [
    ['10.20.90.7/23', 'host bits are set in'],
    ['0.0.0.0/0', 'is every address there is'],
    ['255.255.255.0 10.20.90.0', 'did they change places'],
    ['010.20.90.0/23', 'leading zero'],
  ] as const) {
    await subnet.fill(text)
    await subnet.press('Enter')
    await expect(page.getByText(reason)).toBeVisible()
    await expect(subnet).toHaveValue(text)
  }
  await page.keyboard.press('Escape')
  const leases = page.getByRole('region', { name: 'Leases', exact: true })
  await expect(leases).toContainText('960 of 501')
  await expect(
    leases.getByRole('img', { name: 'Addresses of Visitors held over a day' }),
  ).toBeVisible()
  await expect(remarks(page).getByText(/Visitors needs 1058 addresses/)).toBeVisible()
  await remarks(page).getByRole('button', { name: 'Set the lease to 2 h' }).click()
  await expect(leases).toContainText('this does')
  await expect(remarks(page).getByText(/Visitors needs/)).toBeHidden()
  await leases.getByText('The same as a table').click()
  await expect(leases.getByRole('row', { name: /^14:00/ })).toBeVisible()
  await page.getByText('What a lease tells, octet for octet').click()
  await expect(page.getByRole('table', { name: /^Options of the leases of/ })).toContainText(
    '33 04 00 00 1c 20',
  )
  await saved(page)
  expect((await planOf(owner)).segments.visitors!.leaseSeconds).toBe(7200)
})

test('an address plan goes out as CSV, comes in changed, and says by line what it cannot use', async ({
  page,
  system,
}) => {
  const owner = await enter(page, system.origin, '/s/kittiwake-harbour/addresses')
  const out = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Save the file' }).click()
  const text = readFileSync((await (await out).path())!, 'utf8')
  expect(text.split('\r\n')[0]).toBe(
    'vlan,segment,purpose,hosts,growth %,subnet,gateway,fixed,pools,lease s,ipv6,dhcp,name ' +
      'servers,time servers,routes,locked',
  )
  const changed =
    text.replace(/^70,Crew,staff,40,/m, '70,Crew,staff,60,').trimEnd() +
    '\r\n71,Annex,staff,20,50,10.20.71.0/24,10.20.71.1,,10.20.71.50-10.20.71.200,86400,,server,,,,no\r\n' +
    '72,Loft,staff,20,50,10.20.72.9/24,10.20.72.1,,,86400,,server,,,,no\r\n'
  await page
    .getByLabel('Read a file', { exact: true })
    .setInputFiles({ name: 'addresses.csv', mimeType: 'text/csv', buffer: Buffer.from(changed) })
  const review = page.getByLabel('What is in the file')
  await expect(review).toContainText('1 new segment, 1 changed, 7 the same; 1 line cannot be used.')
  await expect(review).toContainText(
    "line 11, column 6 host bits are set in '10.20.72.9/24'; the subnet is 10.20.72.0/24",
  )
  await review.getByRole('button', { name: 'Bring 2 changes in' }).click()
  await expect(page.getByRole('row', { name: /^71 Annex staff 10\.20\.71\.0\/24/ })).toBeVisible()
  await saved(page)
  expect((await planOf(owner)).segments.crew!.expectedHosts).toBe(60)
  // Names of hosts that the plan does not know are taken in where one says so, each into the
  // segment of its address.
  await page.getByLabel('Read a file', { exact: true }).setInputFiles({
    name: 'kittiwake.internal.zone',
    mimeType: 'text/plain',
    buffer: Buffer.from(
      '$ORIGIN kittiwake.internal.\nprinter IN A 10.20.20.9\nweather-board IN A ' +
        '10.20.20.77\nfar-away IN A 203.0.113.9\noffice-printer IN A 10.20.20.5\n',
    ),
  })
  await expect(review).toContainText('1 device gets another address; 1 line cannot be used.')
  await expect(review).toContainText(
    'line 5, column 1 line 2 gives Office printer 10.20.20.9, this one 10.20.20.5; the first counts',
  )
  await expect(review).toContainText(
    'line 4 far-away.kittiwake.internal 203.0.113.9 is no device of the plan, and its address lies in no segment',
  )
  await review.getByLabel('Take it in as a host that stays').check()
  await review.getByRole('button', { name: 'Bring 2 changes in' }).click()
  await saved(page)
  await expect
    .poll(async () =>
      Object.values((await planOf(owner)).devices).find((d) => d.name === 'weather-board'),
    )
    .toMatchObject({
      stays: true,
      addressing: { mode: 'fixed', segmentId: 'office-net', address: '10.20.20.77' },
    })
  for (const [format, name] of [
    ['Kea (DHCP), JSON', 'kea-dhcp4.conf'],
    ['dnsmasq (DHCP and names)', 'dnsmasq.conf'],
    ['zone files (names)', 'zones.zip'],
    ['netplan (hosts)', 'netplan.zip'],
  ] as const) {
    await choose(page, 'Format', format)
    const file = page.waitForEvent('download')
    await page.getByRole('button', { name: 'Save the file' }).click()
    expect((await file).suggestedFilename()).toBe(name)
  }
})

test('all sites together: who else has these numbers, of those that one belongs to', async ({
  page,
  system,
}) => {
  const owner = await enter(page, system.origin, '/s/kittiwake-harbour/addresses')
  await expect(page.getByText('No other site of yours uses these numbers.')).toBeVisible()
  // A third site with the harbour's numbers and a serial of its.
  const plan = structuredClone(petrelStreet())
  plan.segments['shop-net'] = {
    ...plan.segments['shop-net']!,
    subnet: '10.20.20.128/25',
    gateway: '10.20.20.129',
    fixedBlock: null,
    pools: [],
  }
  plan.devices.gateway = {
    ...plan.devices.gateway!,
    serial: kittiwakeHarbour().devices.gateway!.serial,
  }
  await owner.read('POST', '/api/sites', { name: 'Twin Store', plan })
  const stranger = await Caller.invited(
    owner,
    'petrel-street-chandlery',
    'only petrel',
    PASSWORD,
    'viewer',
  )
  await page.reload()
  await settled(page)
  const elsewhere = page.getByRole('region', { name: 'Networks elsewhere' })
  await expect(
    elsewhere.getByRole('row', {
      name: /Office 10\.20\.20\.0\/24 Twin Store: Shop 10\.20\.20\.128\/25/,
    }),
  ).toBeVisible()
  await expect(elsewhere).toContainText(
    'Harbour gateway has the serial AM-GAT-48237 of Shop gateway at Twin Store.',
  )
  await elsewhere.getByRole('button', { name: 'A tunnel joins them' }).click()
  await expect(
    remarks(page).getByText(
      /Office 10\.20\.20\.0\/24 overlaps Twin Store: Shop 10\.20\.20\.128\/25, which a tunnel joins to the site/,
    ),
  ).toBeVisible()
  // Who does not belong to a site learns nothing of it.
  expect(
    await stranger.read<{ overlaps: unknown[]; twins: unknown[] }>(
      'GET',
      '/api/sites/petrel-street-chandlery/elsewhere',
    ),
  ).toEqual({ overlaps: [], twins: [] })
  const { overlaps } = await owner.read<{ overlaps: { siteId: string }[] }>(
    'GET',
    '/api/sites/twin-store/elsewhere',
  )
  expect(overlaps.map((o) => o.siteId)).toEqual(['kittiwake-harbour'])
  await owner.read('DELETE', '/api/sites/twin-store')
  expect(
    (await owner.read<{ overlaps: unknown[] }>('GET', '/api/sites/kittiwake-harbour/elsewhere'))
      .overlaps,
  ).toEqual([])
})

test("a site like another one has its equipment and habits, and nothing that is that place's alone", async ({
  page,
  system,
}) => {
  const owner = await enter(page, system.origin, '/s/kittiwake-harbour/survey')
  await page.goto(system.origin)
  await page.getByRole('button', { name: 'Open a site' }).click()
  await page.getByLabel('Name of the site').fill('Sandpiper Quay')
  await choose(page, 'Like another one', 'Kittiwake Harbour')
  await page.getByRole('button', { name: 'Open', exact: true }).click()
  await expect(page.getByText('Gate shut: do not unplug')).toBeVisible()
  await expect(
    page.getByRole('heading', {
      name: `Equipment ${Object.keys((await planOf(owner)).devices).length}`,
    }),
  ).toBeVisible()
  const made = await planOf(owner, 'sandpiper-quay')
  expect(made.site.addressSpace).not.toEqual(['10.20.0.0/16'])
  expect(
    Object.values(made.devices).every((d) => d.serial === null && d.hardwareAddress === null),
  ).toBe(true)
  await page
    .getByRole('navigation', { name: 'Stops' })
    .getByRole('link', { name: /Addresses/ })
    .click()
  await page.getByRole('button', { name: /^Allocate \d+ segments/ }).click()
  await expect(page.getByText('No other site of yours uses these numbers.')).toBeVisible()
})

test('a fix says what it would bring', async ({ page, system }) => {
  await enter(page, system.origin, '/s/kittiwake-harbour/wiring')
  const remark = page.getByRole('article').filter({ hasText: 'Kiosk switch cannot assign' })
  await expect(remark.getByRole('button', { name: /in its place, which can/ })).toBeVisible()
  await expect(remark).toContainText('VLAN 10 Management stops at Cupboard switch port 7')
})
