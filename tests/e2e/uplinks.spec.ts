/** The sheet Uplinks: its answer, an outage played, settings typed and taken over, what is shared. */
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { dunlinSlipway, slipwayStandby } from '../../demo/dunlinSlipway'
import { Person } from '../../demo/person'
import { applyEdits, editCall, type SitePlan } from '@mast/core/plan'
import { choose, expect, NAME, PASSWORD, settled, test } from './system'

test.use({ file: 'uplinks' })

test('how long the site is down is told, played, and follows what is set', async ({
  page,
  system,
}) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  await person.open(kittiwakeHarbour())
  await page.goto(`${system.origin}/s/kittiwake-harbour/uplinks`)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await settled(page)
  const remarks = page.getByRole('complementary', { name: 'Remarks' })
  const answer = page.getByRole('region', { name: 'The year ahead' })
  // 12 rounds of 5 s, 2 s for the answer, 25 s for the standby to start, 1 s to go over.
  await expect(answer).toContainText('Down 88 s at the most when Harbour fibre dies')
  await expect(answer).toContainText('the power strip Equipment cupboard is dead 0.2 times a year')
  const outage = page.getByRole('region', { name: 'An outage' })
  await expect(outage.getByRole('img')).toHaveAccessibleName(/^Down for 88 s/)
  await choose(page, 'It dies', 'just before a test')
  await expect(outage.getByRole('img')).toHaveAccessibleName(/^Down for 83 s/)
  await outage.getByLabel('For', { exact: true }).fill('soon')
  await outage.getByLabel('For', { exact: true }).press('Enter')
  await expect(outage.getByText('a number and its unit: 30 min, 8 h, 1 d')).toBeVisible()
  // Over before anything is noticed.
  await outage.getByLabel('For', { exact: true }).fill('20 s')
  await outage.getByLabel('For', { exact: true }).press('Enter')
  await expect(outage.getByRole('img')).toHaveAccessibleName(/^Down for/)

  // One target is remarked on until there are two; a test that is none is told why.
  await expect(remarks).toContainText('Harbour fibre is tested by one target alone: 198.51.100.53')
  const lines = page.getByRole('region', { name: 'Lines of the site' })
  await lines.locator('tr[data-row="fibre"]').click()
  const asked = lines.getByLabel('What is asked')
  await asked.fill('ping 198.51.100.53; tcp 203.0.113.9')
  await asked.press('Enter')
  await expect(lines.getByText(/a TCP test needs a port/)).toBeVisible()
  await asked.fill('ping 198.51.100.53; tcp 203.0.113.9 port 443')
  await asked.press('Enter')
  await expect(remarks).not.toContainText('tested by one target alone')

  // Two lines on one strip, until one hangs from another.
  await expect(remarks).toContainText('both depend on the power strip Equipment cupboard')
  await lines.locator('tr[data-row="cellular-line"]').click()
  await lines.getByLabel('What it lies on').fill('mast Harbour hill; power strip Office')
  await lines.getByLabel('What it lies on').press('Enter')
  await expect(remarks).not.toContainText('both depend on')

  // What the site lives with is tightened: a remark, and one button that sets what does best.
  const back = page.getByRole('region', { name: 'Going over and back' })
  await back.getByLabel('The site lives with').fill('45 s')
  await back.getByLabel('The site lives with').press('Enter')
  await expect(remarks).toContainText('takes over after 88 s at the most; the site lives with 45 s')
  await page.getByRole('button', { name: 'Set it so' }).click()
  await expect(page.getByText('It is so set.')).toBeVisible()
  await expect(remarks).not.toContainText('the site lives with 45 s')
  await choose(page, 'Back to Harbour fibre', 'by hand')
  await expect(remarks).toContainText('by hand, and nobody is named who does it')
  await back.getByLabel('Who does it').fill('night warden')
  await back.getByLabel('Who does it').press('Enter')
  await expect(remarks).not.toContainText('nobody is named')

  // What is drawn in plays: by keyboard, typed, and pulled with the mouse.
  const what = page.getByRole('region', { name: 'Drawn in' })
  await what.getByRole('button', { name: /^Remove: / }).click()
  await expect(what.getByRole('status')).toHaveText('Down 0 s in all, over 0 times, back 0.')
  await choose(page, 'The line', 'dead')
  await what.getByLabel('From').fill('soon')
  await what.getByLabel('For', { exact: true }).fill('10 min')
  await what.getByRole('button', { name: 'Draw it' }).click()
  await expect(what.getByText('a number and its unit: 30 min, 8 h, 1 d')).toBeVisible()
  await what.getByLabel('From').fill('2 min')
  await what.getByRole('button', { name: 'Draw it' }).click()
  await expect(what.getByRole('status')).toContainText(/^Down \d+ s in all, over 1 time/)
  const bar = what.getByRole('slider')
  await bar.focus()
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Shift+ArrowLeft')
  await expect(bar).toHaveAccessibleName(/dead, from 2 min 5 s for 9 min 55 s/)
  await page.keyboard.press('Delete')
  await expect(bar).toHaveCount(0)
  const lane = what.locator('[data-lane]')
  const box = (await lane.boundingBox())!
  await page.mouse.move(box.x + box.width * 0.2, box.y + 8)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width * 0.5, box.y + 8, { steps: 4 })
  await page.mouse.up()
  await expect(bar).toHaveAccessibleName(
    /dead, from (5 min 5\d s|6 min( \d s)?) for (8 min 5\d s|9 min( \d s)?)/,
  )
  await expect(what.getByRole('status')).toContainText('over 1 time')

  // Years are played away from the screen, and end when somebody has seen enough.
  const years = page.getByRole('region', { name: 'Years played' })
  await years.getByRole('button', { name: 'Play 1,000 years' }).click()
  await expect(years.getByRole('status')).toContainText(/^[\d,]+ years, [\d,]+ events/)
  await expect(years.getByRole('progressbar')).toBeVisible()
  await years.getByRole('button', { name: 'Stop' }).click()
  await expect(years.getByRole('button', { name: 'Play 1,000 years' })).toBeVisible()
  await expect(years.getByRole('status')).toContainText('a year in the mean, give or take')

  // Who leaves by which line is said and taken back; what that means is told where it is tried.
  const tried = page.getByRole('region', { name: 'Try it' })
  await expect(tried).toContainText('Stop: Visitors.')
  const table = page.getByRole('group', { name: 'Who leaves by which line' })
  await table.getByRole('button', { name: 'Remove Visitors for anything' }).click()
  await expect(tried).not.toContainText('Stop: Visitors.')
  await choose(page, 'Who', 'Crew')
  await choose(page, 'Lines, in this order', 'Harbour fibre')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Add it' }).click()
  await expect(tried).toContainText('Stop: Crew.')

  // A log is read, what was measured is held against what was foretold.
  await tried.locator('input[type=file]').setInputFiles({
    name: 'ping.txt',
    mimeType: 'text/plain',
    buffer: Buffer.from(
      [1, 2, 3, 64, 65].map((n) => `64 bytes from x: icmp_seq=${n} ttl=57 time=14 ms`).join('\n'),
    ),
  })
  await expect(tried).toContainText('The longest gap in ping.txt is 60 s, up to line 4.')
  await tried.getByRole('button', { name: 'Keep it' }).click()
  await expect(tried.getByRole('list', { name: 'What was tried' })).toContainText('out of a log')
})

/** The training site with a line beside its own, and a name of its own. */
const twoLines = (): SitePlan =>
  applyEdits(dunlinSlipway(), [...slipwayStandby, editCall('changeSite', { name: 'Two lines' })])

test('a failover is tried by the stand-ins, and by hand where no network is', async ({
  browser,
  system,
}) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  const { id } = await person.open(twoLines())
  await person.bringUp(id)
  const context = await browser.newContext({ viewport: { width: 390, height: 844 } })
  const page = await context.newPage()
  await page.goto(`${system.origin}/s/${id}/prove`)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  // What stands above comes first, and moves the rest down.
  await expect(page.getByText(/Proven: all/)).toBeVisible()
  const tried = page.getByRole('region', { name: 'Try it' })
  // 3 to 4 intervals of 5 s, 2 s for the answer and 1 s to go over.
  await expect(tried).toContainText('Over to Spare line after 18 s to 23 s')
  // What comes late above moves it away under the pointer.
  await expect(async () => {
    await tried.getByLabel('after a restart of everything').check({ timeout: 3000 })
  }).toPass({ timeout: 30_000 })
  await tried.getByRole('button', { name: 'Let the stand-ins try it' }).click()
  const list = tried.getByRole('list', { name: 'What was tried' })
  // The run sheet ended with one.
  await expect(list.getByRole('listitem')).toHaveCount(2, { timeout: 60_000 })
  for (const one of await list.getByRole('listitem').all())
    await expect(one).toContainText(/Over after \d+(\.\d)? s, back after \d+(\.\d)? s\./)
  await expect(list).toContainText('on the stand-ins, after a restart')
  await expect(list).toContainText(/Crew \d+/)

  await context.setOffline(true)
  await tried.getByRole('button', { name: 'Taken away now' }).click()
  await expect(tried.getByRole('status')).toContainText('the other line is expected within')
  await tried.getByRole('button', { name: 'Out again now' }).click()
  await tried.getByRole('button', { name: 'Given back now' }).click()
  await expect(tried.getByRole('status')).toContainText('used again within')
  await tried.getByRole('button', { name: 'Slipway line is used again' }).click()
  await tried.getByLabel('Out again after').fill('soon')
  await tried.getByRole('button', { name: 'Keep it' }).click()
  await expect(tried).toContainText('a number and its unit')
  await tried.getByLabel('Out again after').fill('21')
  await tried.getByLabel('Used again after').fill('31 s')
  await tried.getByRole('button', { name: 'Keep it' }).click()
  await expect(list).toContainText('not sent yet')
  await context.setOffline(false)
  await expect(list).not.toContainText('not sent yet')
  await expect(list.getByRole('listitem')).toHaveCount(3)
  const { width, full } = await page.evaluate(() => ({
    width: window.innerWidth,
    full: document.documentElement.scrollWidth,
  }))
  expect(full).toBeLessThanOrEqual(width)

  await page.setViewportSize({ width: 1280, height: 800 })
  await page.goto(`${system.origin}/s/${id}/hand-over`)
  await expect(page.getByRole('heading', { name: '10 Failover' })).toBeVisible()
  await expect(
    page.getByRole('cell', { name: 'Over after 21 s, back after 31 s.', exact: true }),
  ).toBeVisible()
  await context.close()
})
