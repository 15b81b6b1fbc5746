/**
 * Two people on one plan: what does not meet is merged, what does is decided by a person, and the
 * history tells all of it.
 */
import type { Browser, Page } from '@playwright/test'
import { quayside } from '../sites/quayside'
import { Caller } from '../caller'
import { expect, NAME, PASSWORD, test } from './system'

// A page that a service worker looks after makes requests that a test cannot stop on their way;
// nothing here is about it.
test.use({ file: 'together', serviceWorkers: 'block' })

test.beforeAll(async ({ system }) => {
  const owner = await Caller.first(system.origin, NAME, PASSWORD)
  await owner.read('POST', '/api/sites', { name: 'Kittiwake Harbour', plan: quayside() })
  await Caller.invited(owner, 'kittiwake-harbour', 'second engineer', PASSWORD, 'engineer')
})

async function enter(page: Page, origin: string, name: string, path: string): Promise<void> {
  await page.goto(origin + path)
  await page.getByLabel('Name').fill(name)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.waitForURL(origin + path)
  await page.getByRole('heading', { level: 1 }).waitFor()
}
async function colleague(browser: Browser, origin: string, path: string): Promise<Page> {
  const page = await (
    await browser.newContext({ viewport: { width: 1280, height: 800 } })
  ).newPage()
  await enter(page, origin, 'second engineer', path)
  return page
}
const status = (page: Page) => page.getByRole('banner').getByRole('status')
const select = (page: Page, name: string) =>
  page
    .getByRole('region', { name: 'Segments' })
    .getByRole('row')
    .filter({ hasText: name })
    .first()
    .click()
async function fill(page: Page, label: string, text: string): Promise<void> {
  const field = page.getByLabel(label, { exact: true }).first()
  await field.fill(text)
  await field.press('Enter')
}

test('what was changed apart is merged; the same thing changed twice waits for a person, who sees both', async ({
  page,
  browser,
  system,
}) => {
  const at = '/s/kittiwake-harbour/addresses'
  await enter(page, system.origin, NAME, at)
  const other = await colleague(browser, system.origin, at)

  // I lose the network and go on.
  await page.context().setOffline(true)
  await select(page, 'Visitors')
  await fill(page, 'Pool', '10.20.90.60-10.20.91.200')
  await select(page, 'Cameras')
  await fill(page, 'Hosts at the busiest time', '17')
  await expect(status(page)).toContainText('2 kept here, server away')
  await select(other, 'Visitors')
  await fill(other, 'Pool', '10.20.90.40-10.20.91.100')
  await select(other, 'Office')
  await fill(other, 'Hosts at the busiest time', '44')
  await expect(status(other)).toContainText('rev 3 saved')

  await page.context().setOffline(false)
  const conflicts = page.getByRole('alert', { name: 'Conflicts' }).or(page.getByLabel('Conflicts'))
  await expect(conflicts.first()).toContainText('A change of yours waits for you')
  const row = page.getByLabel('Conflicts').getByRole('row').filter({ hasText: 'Visitors' })
  await expect(row).toContainText('10.20.90.60-10.20.91.200')
  await expect(row).toContainText('10.20.90.40-10.20.91.100')
  await expect(page.getByLabel('Conflicts')).toContainText('revision 2 of second engineer')
  await row.getByRole('button', { name: 'Visitors: addresses' }).click()
  await expect(page.getByRole('group', { name: 'Visitors enlarged' })).toContainText(
    'mine: 10.20.90.60 to 10.20.91.200',
  )
  await expect(other.getByRole('row').filter({ hasText: 'Cameras' }).first()).toContainText('17')
  // Nothing of theirs was touched meanwhile.
  await expect(page.getByRole('row').filter({ hasText: 'Office' }).first()).toContainText('44')

  // It waits through a reload, too.
  await page.reload()
  await page.getByLabel('Conflicts').getByRole('button', { name: 'Keep mine' }).click()
  await expect(page.getByLabel('Conflicts')).toBeHidden()
  await expect(status(page)).toContainText('rev 5 saved')
  await expect(status(other)).toContainText('rev 5 saved')
  await other.context().close()
})

test('a strand and a cell of the grid in conflict are drawn as both', async ({
  page,
  browser,
  system,
}) => {
  // Both sheets are at hand before the network goes.
  await enter(page, system.origin, NAME, '/s/kittiwake-harbour/policy')
  await page
    .getByRole('navigation', { name: 'Stops' })
    .getByRole('link', { name: /Wiring/ })
    .click()
  const other = await colleague(browser, system.origin, '/s/kittiwake-harbour/wiring')
  await page.context().setOffline(true)
  await page.getByRole('button', { name: 'Tag VLAN 90 Visitors on Cupboard switch port 2' }).click()
  await page
    .getByRole('navigation', { name: 'Stops' })
    .getByRole('link', { name: /Policy/ })
    .click()
  await page.getByRole('button', { name: 'Keep Visitors out of Office' }).click()
  await expect(status(page)).toContainText('2 kept here')

  const engineer = new Caller(system.origin, 'second engineer')
  await engineer.read('POST', '/api/session', { name: 'second engineer', password: PASSWORD })
  const { revision } = await engineer.read<{ revision: number }>(
    'GET',
    '/api/sites/kittiwake-harbour',
  )
  const edit = (name: string, args: object) => ({
    id: crypto.randomUUID(),
    kind: 'edit',
    name,
    args,
  })
  await engineer.read('POST', '/api/sites/kittiwake-harbour/edits', {
    base: revision,
    changes: [
      edit('setUntagged', { segmentId: 'office-net', portIds: ['switch.2'] }),
      edit('stateIntent', {
        id: 'int-visitors-print',
        from: 'visitors',
        to: 'office-net',
        services: ['svc-print'],
        action: 'allow',
        reason: '',
      }),
    ],
  })
  await expect(status(other)).toContainText(`rev ${revision + 2} saved`)
  await page.context().setOffline(false)
  await expect(page.getByLabel('Conflicts')).toContainText('2 changes of yours wait for you')
  const cell = page
    .getByRole('table', { name: 'Who reaches whom' })
    .getByRole('button', { name: /^Visitors to Office/ })
  await expect(cell).toContainText('theirs: printing')
  await expect(cell).toContainText('mine: nothing')
  await page
    .getByRole('navigation', { name: 'Stops' })
    .getByRole('link', { name: /Wiring/ })
    .click()
  await expect(page.getByLabel(/^The loom/)).toContainText('mine: 90')
  await expect(page.getByLabel(/^The loom/)).toContainText('mine and theirs differ')
  for (const name of ['Take theirs', 'Take theirs'])
    await page.getByLabel('Conflicts').getByRole('button', { name }).first().click()
  await expect(page.getByLabel('Conflicts')).toBeHidden()
  await expect(status(page)).toContainText(`rev ${revision + 2} saved`)
  await other.context().close()
})

test('the history says who, when and what, compares two revisions and restores one', async ({
  page,
  system,
}) => {
  await enter(page, system.origin, NAME, '/s/kittiwake-harbour/history')
  const list = page.getByRole('region', { name: 'Revisions' })
  await expect(
    list.getByRole('row').filter({ hasText: 'Change expectedHosts of segment Office' }),
  ).toContainText('second engineer')
  await page.getByLabel('Compare from revision 1', { exact: true }).check()
  await page.getByLabel('Compare to revision 3', { exact: true }).check()
  const comparison = page.getByRole('region', { name: 'Comparison' })
  // Until this choice is answered the one before is shown, in which more lines speak of the office.
  await expect(comparison.getByRole('heading', { name: 'From revision 1 to 3' })).toBeVisible()
  await expect(comparison.getByRole('listitem').filter({ hasText: 'Office' })).toContainText(
    'expected hosts40 to 44',
  )
  await expect(comparison.getByRole('listitem').filter({ hasText: 'Visitors' })).toContainText(
    '10.20.90.40-10.20.91.100',
  )
  await comparison.getByRole('button', { name: 'Restore revision 1' }).click()
  await expect(list.getByRole('row').nth(1)).toContainText('Restore revision 1')
  await expect(status(page)).toContainText('saved')
  const caller = await Caller.first(system.origin, NAME, PASSWORD)
  const { plan } = await caller.read<{ plan: unknown }>('GET', '/api/sites/kittiwake-harbour')
  expect(plan).toEqual(JSON.parse(JSON.stringify(quayside())))
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(list.getByRole('row').nth(1)).toContainText('Undo: Restore revision 1')
})

test('what was saved though its answer was lost is not asked about, and can be taken back', async ({
  page,
  system,
}) => {
  await enter(page, system.origin, NAME, '/s/kittiwake-harbour/addresses')
  const engineer = new Caller(system.origin, 'second engineer')
  await engineer.read('POST', '/api/session', { name: 'second engineer', password: PASSWORD })
  const site = () =>
    engineer.read<{ revision: number; plan: ReturnType<typeof quayside> }>(
      'GET',
      '/api/sites/kittiwake-harbour',
    )
  const theirs = async (expectedHosts: number) =>
    engineer.read('POST', '/api/sites/kittiwake-harbour/edits', {
      base: (await site()).revision,
      changes: [
        {
          id: crypto.randomUUID(),
          kind: 'edit',
          name: 'changeSegment',
          args: { id: 'office-net', changes: { expectedHosts } },
        },
      ],
    })
  let isLost = true
  await page.route('**/api/sites/*/edits', async (route) => {
    if (!isLost) return route.continue()
    await route.fetch()
    await route.abort()
  })
  const hosts = page.getByLabel('Hosts at the busiest time', { exact: true }).first()

  await select(page, 'Cameras')
  await fill(page, 'Hosts at the busiest time', '19')
  await expect(status(page)).toContainText('1 kept here, server away')
  await expect.poll(async () => (await site()).plan.segments.cameras!.expectedHosts).toBe(19)
  await theirs(51)
  isLost = false
  await page.reload()
  await expect(status(page)).toContainText(`rev ${(await site()).revision} saved`)
  await expect(page.getByLabel('Conflicts')).toHaveCount(0)

  isLost = true
  await select(page, 'Cameras')
  await fill(page, 'Hosts at the busiest time', '23')
  await expect(status(page)).toContainText('1 kept here, server away')
  await expect.poll(async () => (await site()).plan.segments.cameras!.expectedHosts).toBe(23)
  await theirs(52)
  await page.getByRole('button', { name: 'Undo' }).click()
  isLost = false
  await expect.poll(async () => (await site()).plan.segments.cameras!.expectedHosts).toBe(19)
  await expect(status(page)).toContainText(`rev ${(await site()).revision} saved`)
  await expect(hosts).toHaveValue('19')
  await expect(page.getByLabel('Conflicts')).toHaveCount(0)
})

test('what others saved while notices were lost is there as soon as they come again', async ({
  page,
  system,
}) => {
  await enter(page, system.origin, NAME, '/s/kittiwake-harbour/addresses')
  const engineer = new Caller(system.origin, 'second engineer')
  await engineer.read('POST', '/api/session', { name: 'second engineer', password: PASSWORD })
  const { revision } = await engineer.read<{ revision: number }>(
    'GET',
    '/api/sites/kittiwake-harbour',
  )
  // A stream that ends as soon as it began, time after time.
  await page.route('**/api/sites/*/events', (route) =>
    route.fulfill({ contentType: 'text/event-stream', body: 'retry: 100\n\n' }),
  )
  const cut = page.waitForResponse('**/api/sites/*/events')
  await page.reload()
  await cut
  await expect(status(page)).toContainText(`rev ${revision} saved`)
  await engineer.read('POST', '/api/sites/kittiwake-harbour/edits', {
    base: revision,
    changes: [
      {
        id: crypto.randomUUID(),
        kind: 'edit',
        name: 'changeSegment',
        args: { id: 'office-net', changes: { expectedHosts: 53 } },
      },
    ],
  })
  await page.unroute('**/api/sites/*/events')
  await expect(status(page)).toContainText(`rev ${revision + 1} saved`)
  await expect(page.getByRole('row').filter({ hasText: 'Office' }).first()).toContainText('53')
})
