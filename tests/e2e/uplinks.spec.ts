/** The sheet Uplinks: its answer, an outage played, settings typed and taken over, what is shared. */
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { Person } from '../../demo/person'
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
})
