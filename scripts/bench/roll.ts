/**
 * The roll of 5,000 devices: from the click on its sheet until it is drawn, and from a device's call
 * until its row says so, each beside a frame; and the difference of two configurations of 5,000
 * lines, beside one pass over both as text.
 */
import { chromium as playwright } from '@playwright/test'
import { differencesOf } from '@mast/core/adoption'
import { canonicalJson, createPlan } from '@mast/core/plan'
import { Caller } from '../../tests/caller'
import { CHROMIUM } from '../../tests/chromium'
import { LightDevice, Line, NAME, PASSWORD, planWith, throwaway } from '../../tests/load/system'
import { median, row, timed, type Row } from './measure'

const DEVICES = 5000
const CALLS = 5
/** As the roll is sorted: by name, letter by letter. */
const FIRST_ROWS = [0, 1, 10, 100, 1000]
const FRAME_MS = 1000 / 60
const LINES = 5000

/** Ports with two fields each that differ in every tenth. */
const configuration = (odd: boolean): object => ({
  ports: Array.from({ length: LINES / 2 }, (_, i) => ({
    name: String(i),
    untagged: odd && i % 10 === 0 ? 20 : 10,
  })),
})

function difference(): Row {
  const [a, b] = [configuration(false), configuration(true)]
  return row({
    name: `difference of two configurations of ${LINES} lines`,
    value: timed(
      20,
      () => [structuredClone(a), structuredClone(b)] as const,
      ([was, is]) => void differencesOf(was, is),
    ),
    unit: 'ms',
    reference: 'both written as text once, ms',
    referenceValue: timed(
      20,
      () => [structuredClone(a), structuredClone(b)] as const,
      ([was, is]) => void (canonicalJson(was) === canonicalJson(is)),
    ),
    aim: 'within ten times that',
    met: (r) => r <= 10,
  })
}

export async function roll(): Promise<Row[]> {
  const { system, close } = await throwaway()
  const chromium = await playwright.launch(CHROMIUM)
  try {
    const owner = await Caller.first(system.origin, NAME, PASSWORD)
    const { id } = await owner.read<{ id: string }>('POST', '/api/sites', {
      name: 'Fleet',
      plan: planWith(0, DEVICES, createPlan('Fleet')),
    })
    const page = await chromium.newPage({ viewport: { width: 1280, height: 800 } })
    await page.goto(`${system.origin}/s/${id}/survey`)
    await page.getByLabel('Name').fill(NAME)
    await page.getByLabel('Password').fill(PASSWORD)
    await page.getByRole('button', { name: 'Sign in' }).click()
    await page.locator('main [data-drawing]').first().waitFor()
    const stop = (sheet: string) => page.locator(`nav[aria-label="Stops"] a[href$="/${sheet}"]`)
    const rows = page.locator('[aria-label=Roll] tbody tr')
    const shown: number[] = []
    for (let i = 0; i < CALLS; i++) {
      const start = performance.now()
      await stop('adopt').click()
      await rows.nth(10).waitFor()
      shown.push(performance.now() - start)
      await stop('survey').click()
      await rows.first().waitFor({ state: 'detached' })
    }
    await stop('adopt').click()
    await rows.nth(10).waitFor()
    const line = new Line(system.origin, CALLS)
    const changed: number[] = []
    for (const n of FIRST_ROWS) {
      const row = rows.filter({ hasText: `Unit ${n}Indoor` }).getByText('seen')
      const start = performance.now()
      await new LightDevice(line, n).hello()
      await row.first().waitFor()
      changed.push(performance.now() - start)
    }
    line.close()
    const beside = (name: string, list: readonly number[]): Row =>
      row({
        name,
        value: median(list),
        unit: 'ms',
        reference: 'a frame at 60 Hz, ms',
        referenceValue: FRAME_MS,
        aim: 'listed',
        met: () => true,
      })
    return [
      beside(`roll of ${DEVICES} devices shown`, shown),
      beside('from a call to its row', changed),
      difference(),
    ]
  } finally {
    await chromium.close()
    await close()
  }
}
