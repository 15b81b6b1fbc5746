import type { Page } from '@playwright/test'
import { choose, expect, NAME, PASSWORD, showAll, test } from './system'
import { goTo, workThrough } from './workThrough'

test.use({ file: 'blankToProof' })

const equipment = [
  'name,profile,serial,hardware address,firmware,location',
  'Gateway,Gateway 4+2,AM-GAT-70001,02:70:00:00:00:10,1.8.0,Cupboard',
  'Main switch,Switch 8 PoE+ 65 W,AM-SWI-70002,02-70-00-00-00-20,,Cupboard',
  'Deck AP,Indoor AP 2x2,AM-AP-70003,0270.0000.0030,,Cupboard',
  'Plain switch,Switch 5 plain,,,,',
  'Controller,Controller host,,02:70:00:01:00:01,,Cupboard',
  'Desk,Wired host,,02:70:00:01:00:02,,',
  'Till,Wired host,,02:70:00:01:00:0z,,',
  'Kiosk screen,Wired host,,02:70:00:01:00:04,,',
  'Phone,Wi-Fi handset,,02:70:00:01:00:05,,',
].join('\r\n')
const serials: Record<string, string> = {
  Gateway: 'AM-GAT-70001',
  'Main switch': 'AM-SWI-70002',
  'Deck AP': 'AM-AP-70003',
}

const saved = (page: Page) =>
  expect(page.getByRole('banner').getByRole('status')).toContainText('saved')
async function fill(page: Page, label: string, text: string): Promise<void> {
  const field = page.getByLabel(label, { exact: true }).first()
  await field.fill(text)
  await field.press('Enter')
}

/** A device's row in Addresses becomes its form when it is chosen. */
const addressRow = (page: Page, device: string) =>
  page
    .getByRole('region', { name: 'Addresses of devices' })
    .getByRole('row', { name: new RegExp(`^${device} `) })
    .click()

async function plug(page: Page, from: string, to: string): Promise<void> {
  for (const [label, port] of [
    ['From port', from],
    ['To port', to],
  ] as const) {
    const box = page.getByRole('combobox', { name: label })
    await box.fill(port)
    await page.getByRole('option', { name: port, exact: true }).click()
  }
  await page.getByRole('button', { name: 'Plug in' }).click()
  await expect(page.getByRole('combobox', { name: 'From port' })).toHaveValue('')
}

test('from the first account and an empty site to proof and hand-over', async ({
  page,
  system,
}) => {
  await test.step('first account', async () => {
    await page.goto(system.origin)
    await page.getByLabel('Name').fill(NAME)
    await page.getByLabel('Password').fill('short')
    await page.getByRole('button', { name: 'Make the first account' }).click()
    await expect(page.getByText('a password has at least 10 characters')).toBeVisible()
    await page.getByLabel('Password').fill(PASSWORD)
    await page.getByRole('button', { name: 'Make the first account' }).click()
    await expect(page.getByRole('heading', { name: 'Sites' })).toBeVisible()
  })

  await test.step('an empty site and its hand-off', async () => {
    await page.getByRole('button', { name: 'Open a site' }).click()
    await page.getByLabel('Name of the site').fill('Fulmar Landing')
    await page.getByRole('button', { name: 'Open', exact: true }).click()
    await page.getByRole('button', { name: 'Record a line' }).click()
    await expect(page.getByText('Gate shut: do not unplug the old line')).toBeVisible()
    await choose(page, 'Address given', 'automatic (DHCP)')
    await choose(page, 'Tag on the hand-off', 'no tag')
    await choose(page, 'Tag on the hand-off', 'a VLAN tag')
    // Chosen and not typed is not known.
    await expect(page.getByRole('listitem').filter({ hasText: 'VLAN tag on the' })).toBeVisible()
    await expect(page.getByLabel('VLAN tag', { exact: true })).toHaveValue('')
    await fill(page, 'VLAN tag', '4095')
    await expect(page.getByText('VLAN ids end at 4094 (IEEE 802.1Q)').first()).toBeVisible()
    await fill(page, 'VLAN tag', '35')
    await fill(page, '802.1p priority', '1')
    await fill(page, 'MTU', '1500')
    await choose(page, 'Kind of address', 'public')
    await choose(page, 'LAN on their router', 'a subnet')
    await expect(page.getByLabel('Their LAN')).toHaveValue('')
    await fill(page, 'Their LAN', '192.168.1.0/24')
    await expect(page.getByText('Gate shut: do not')).toBeVisible()
    await fill(page, 'Pinned hardware address', 'none')
    await choose(page, 'Speed of the socket', 'negotiated')
    await expect(page.getByText('Gate open: the old line may be unplugged')).toBeVisible()
  })

  await test.step('equipment from CSV, with a row that is wrong', async () => {
    await page.getByLabel('New location').fill('Cupboard')
    await page.getByLabel('New location').press('Enter')
    await page
      .getByLabel('Import CSV', { exact: true })
      .setInputFiles({ name: 'boxes.csv', mimeType: 'text/csv', buffer: Buffer.from(equipment) })
    const review = page.getByLabel('What the file says')
    await expect(review).toContainText('8 of 9 rows can be imported')
    await expect(review).toContainText(
      "line 8, column 4 '02:70:00:01:00:0z' is not a hardware address",
    )
    await review.getByRole('button', { name: 'Import 8' }).click()
    await page.getByLabel('Import CSV', { exact: true }).setInputFiles({
      name: 'till.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from('name,profile,hardware address\nTill,Wired host,02:70:00:01:00:03\n'),
    })
    await page.getByRole('button', { name: 'Import 1' }).click()
    await expect(page.getByRole('heading', { name: 'Equipment 9' })).toBeVisible()
    await saved(page)
  })

  await test.step('segments', async () => {
    await goTo(page, 'Addresses')
    for (const [name, purpose] of [
      ['Management', 'management'],
      ['Office', 'staff'],
      ['Guests', 'guests'],
    ] as const) {
      await page.getByRole('button', { name: 'Add a segment' }).click()
      await page.getByLabel('Segment name').fill(name)
      await choose(page, 'Purpose', purpose)
      await page.getByRole('button', { name: 'Add segment' }).click()
    }
    await page.getByRole('button', { name: 'Allocate 3 segments' }).click()
    await expect(
      page.getByRole('row', { name: /20 Office staff 10\.2\.20\.0\/24 10\.2\.20\.1/ }),
    ).toBeVisible()
    for (const [device, segment] of [
      ['Main switch', '10 Management'],
      ['Deck AP', '10 Management'],
      ['Controller', '10 Management'],
      ['Desk', '20 Office'],
      ['Till', '20 Office'],
      ['Kiosk screen', '90 Guests'],
      ['Phone', '90 Guests'],
    ] as const) {
      await addressRow(page, device)
      await choose(page, `Segment of ${device}`, segment)
    }
    await addressRow(page, 'Controller')
    await choose(page, 'How Controller gets its address', 'typed in')
    await expect(page.getByLabel('Address of Controller')).toHaveValue('10.2.10.2')
    await page
      .getByRole('button', { name: 'Reserve addresses for 2 infrastructure devices' })
      .click()
    await saved(page)
  })

  await test.step('a pool over a fixed address, mended by its button, undone and redone', async () => {
    await page.getByRole('row', { name: /10 Management management/ }).click()
    await fill(page, 'Pool', '10.2.10.2-10.2.10.254')
    const fix = page.getByRole('button', { name: /^Move the pool to 10\.2\.10\.10/ })
    await fix.click()
    await expect(fix).toBeHidden()
    await page.getByRole('button', { name: 'Undo' }).click()
    await expect(fix).toBeVisible()
    await page.getByRole('button', { name: 'Redo' }).click()
    await expect(page.getByText('Nothing to remark on this sheet.')).toBeVisible()
  })

  await test.step('wires', async () => {
    await goTo(page, 'Wiring')
    await choose(page, 'The controller runs on', 'Controller')
    for (const [from, to] of [
      ['Gateway port 1', 'Main switch port 1'],
      ['Main switch port 2', 'Deck AP port eth0'],
      ['Main switch port 3', 'Controller port eth0'],
      ['Main switch port 4', 'Desk port eth0'],
      ['Main switch port 5', 'Kiosk screen port eth0'],
      ['Gateway port 2', 'Plain switch port 1'],
      ['Plain switch port 2', 'Till port eth0'],
    ] as const)
      await plug(page, from, to)
    await page.getByRole('button', { name: 'Gateway, Gateway 4+2' }).click()
    await page
      .getByRole('row', { name: /Gateway wan1/ })
      .getByRole('button', { name: 'Line goes here' })
      .click()
    await page.getByRole('button', { name: 'All ports in use' }).click()
    await page
      .getByRole('button', { name: /^Send VLAN 20 Office untagged from Gateway port 2$/ })
      .click()
    await page.getByRole('button', { name: 'Set Gateway port 3 aside for the laptop' }).click()
    await expect(page.getByRole('heading', { name: 'Remarks 1' })).toBeVisible()
    await expect(
      page.getByText('Phone has no cable towards the gateway and joins no wireless network'),
    ).toBeVisible()
  })

  await test.step('a wireless network', async () => {
    await goTo(page, 'Wi-Fi')
    await page.getByLabel('New network').fill('Low Water')
    await choose(page, 'Lands in segment', '90 Guests')
    await page.getByRole('button', { name: 'Add network' }).click()
    await expect(page.getByText('in the vault')).toBeVisible()
    await page.getByRole('row', { name: /^Phone / }).click()
    await choose(page, 'Network of Phone', 'Low Water')
    await expect(page.getByRole('link', { name: /Wiring clear/ })).toBeVisible()
    await expect(page.getByText('Add wireless network Low Water')).toBeVisible()
  })

  await test.step('policy, left open by mistake and mended', async () => {
    await goTo(page, 'Policy')
    await page.getByRole('button', { name: /^State the usual/ }).click()
    await page.getByRole('button', { name: 'Leave open by default' }).click()
    await page.getByRole('button', { name: 'Keep Guests out of Management, Office' }).click()
    await page.getByRole('button', { name: 'Keep Office out of Management' }).click()
    await expect(page.getByText('Nothing to remark on this sheet.')).toBeVisible()
    await page.getByRole('button', { name: 'Drop by default' }).click()
    const cell = page.getByRole('button', { name: 'Office to Guests: nothing, by default' })
    await cell.click()
    await choose(page, 'Verdict', 'allow')
    await choose(page, 'Services', /^ping/)
    await page.keyboard.press('Escape')
    await page.getByLabel('Why').fill('the office looks whether the screen is up')
    await page.getByRole('button', { name: 'State it' }).click()
    await expect(
      page.getByRole('button', { name: 'Office to Guests: ping', exact: true }),
    ).toBeVisible()
    await expect(
      page.getByRole('region', { name: 'Trace' }).getByText(/gets through|is blocked/),
    ).toBeVisible()
    await saved(page)
  })

  await test.step('the run sheet, step by step, with claims made live in Adopt', async () => {
    await goTo(page, 'Bring-up')
    await page.getByRole('button', { name: 'x1000' }).click()
    expect(await workThrough(page, serials)).toBeGreaterThan(25)
  })

  await test.step('the proof', async () => {
    await goTo(page, 'Prove')
    await page.getByRole('button', { name: 'Run the proof' }).click()
    const proven = page.getByText(/Proven: all \d+ results as planned$/)
    await expect(proven).toBeVisible({ timeout: 90_000 })
    const total = Number(/\d+/.exec((await proven.textContent())!)![0])
    expect(total).toBeGreaterThan(30)
    await expect(async () => {
      await showAll(page)
      expect(await page.locator('[data-verdict]').count()).toBe(total)
    }).toPass({ timeout: 60_000 })
    const verdicts = await page
      .locator('[data-verdict]')
      .evaluateAll((rows) => rows.map((r) => r.getAttribute('data-verdict')))
    expect(new Set(verdicts)).toEqual(new Set(['as-planned']))
    // Its step ticks itself; then everything loses its power, and is proven once more.
    await goTo(page, 'Bring-up')
    await expect(page.getByRole('region', { name: /^Step: Take the power of/ })).toBeVisible()
    expect(await workThrough(page, serials)).toBe(1)
    const again = page.getByRole('region', { name: /^Step: Run the proof once more/ })
    await expect(again.getByRole('button', { name: /Done|I did it/ })).toHaveCount(0)
    await again.getByRole('link', { name: 'Run it in Prove' }).click()
    await expect(async () => {
      const answer = page.waitForResponse(
        (r) => r.url().endsWith('/proof') && r.request().method() === 'POST',
      )
      await page.getByRole('button', { name: 'Run the proof' }).click()
      await answer
      await expect(proven).toBeVisible({ timeout: 5000 })
    }).toPass({ timeout: 120_000 })
    await goTo(page, 'Bring-up')
    await expect(page.getByText('Every step is done. On to the proof.')).toBeVisible()
  })

  await test.step('the hand-over document', async () => {
    await goTo(page, 'Hand over')
    const document = page.getByRole('article', { name: 'Hand-over document' })
    await expect(document).toContainText('Ready to hand over: proven, nothing left to mend')
    for (const text of [
      'AM-AP-70003',
      '10.2.90.0/24',
      'Low Water',
      'Claimed Deck AP (AM-AP-70003)',
    ])
      await expect(document).toContainText(text)
    const pdf = await page.pdf({ format: 'A4' })
    expect(pdf.subarray(0, 5).toString()).toBe('%PDF-')
    await goTo(page, 'Survey')
    await page.waitForURL(/survey$/)
    await page.reload()
    await expect(page.getByRole('heading', { name: 'Equipment 9' })).toBeVisible()
  })
})
