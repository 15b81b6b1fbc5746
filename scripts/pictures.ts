// Takes the pictures of docs/screenshots from a running demo: node --import tsx
// scripts/pictures.ts ORIGIN PASSWORD [FOLDER] [NAME ...]
import { join } from 'node:path'
import { chromium } from '@playwright/test'
import { sheets } from '@mast/core/sheets'
import { CHROMIUM } from '../tests/chromium'

const [origin = '', password = '', folder = 'docs/screenshots', ...only] = process.argv.slice(2)
const DESK = { width: 1280, height: 800 }
const PHONE = { width: 390, height: 844 }
/** What happens on the day is shown of the site whose day is over. */
const OF_THE_DAY: ReadonlySet<string> = new Set(['adopt', 'prove', 'hand-over'])
const pathOf = (id: string): string =>
  `/s/${OF_THE_DAY.has(id) ? 'dunlin-slipway' : 'kittiwake-harbour'}/${id}`
const views: readonly (readonly [
  name: string,
  path: string,
  size: typeof DESK,
  theme?: 'night',
])[] = [
  ['sites', '/', DESK],
  ...sheets.map((s) => [s.id, pathOf(s.id), DESK] as const),
  ['bring-up-phone', pathOf('bring-up'), PHONE],
  ['prove-phone', pathOf('prove'), PHONE],
  ['aim-phone', pathOf('bridges'), PHONE],
  ['wiring-night', pathOf('wiring'), DESK, 'night'],
]

const browser = await chromium.launch(CHROMIUM)
const context = await browser.newContext({ viewport: DESK, colorScheme: 'light' })
const page = await context.newPage()
page.on('console', (m) => {
  if (m.type() === 'error' || m.type() === 'warning') console.log('console', m.text().slice(0, 300))
})
page.on('pageerror', (e) => console.log('pageerror', e.message.slice(0, 400)))
await page.goto(`${origin}/enter`)
await page.getByLabel('Name').fill('installer')
await page.getByLabel('Password').fill(password)
await page.getByRole('button', { name: 'Sign in' }).click()
await page.waitForURL(`${origin}/`)
for (const [name, path, size, theme = 'day'] of views) {
  if (only.length > 0 && !only.includes(name)) continue
  await page.setViewportSize(size)
  await page.evaluate((t) => localStorage.setItem('mast-theme', t), theme)
  await page.goto(origin + path)
  await page.getByRole('heading', { level: 1 }).waitFor()
  if (path !== '/') await page.getByLabel('Title block').waitFor()
  await page.waitForLoadState('load')
  await page.evaluate(() => document.fonts.ready)
  if (path === '/') await page.getByText('Dunlin Slipway').waitFor()
  for (const text of ['Computing ...', 'Fetching ', 'Following the VLANs'])
    await page.locator(`text=${text}`).waitFor({ state: 'detached' })
  await page.locator('main[aria-busy=true]').waitFor({ state: 'detached' })
  if (name === 'aim-phone') {
    const aim = page.getByRole('region', { name: 'Aim' })
    await aim.getByRole('checkbox', { name: /^Not alone/ }).check()
    for (const read of ['-71', '-53']) {
      await aim.getByLabel('It reads, dBm').fill(read)
      await aim.getByRole('button', { name: 'Read', exact: true }).click()
    }
    await aim.evaluate((e) => e.scrollIntoView())
  }
  await page.screenshot({ path: join(folder, `${name}.png`) })
}
await browser.close()
