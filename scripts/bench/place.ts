/**
 * The place in Chromium: what the page itself is busy with while levels, channels and power of a
 * hectare with 500 walls are worked out beside it, with 1, 7, 20 and 60 access points.
 */
import { chromium, type Page } from '@playwright/test'
import { chanceOf, randomPlace } from '@mast/core/generator'
import type { SitePlan } from '@mast/core/plan'
import { Caller } from '../../tests/caller'
import { CHROMIUM } from '../../tests/chromium'
import { NAME, PASSWORD, throwaway } from '../../tests/load/system'
import { row, type Row } from './measure'
import { longestTask, type Task } from './tasks'

const SIDE_M = 100
const WALLS = 500
const POINTS = [1, 7, 20, 60] as const
const LONG_TASK_MS = 50
const ROUNDS = 4

export function hectare(accessPoints: number): SitePlan {
  const chance = chanceOf(12)
  const plan = structuredClone(randomPlace(chance, accessPoints))
  const any = (most: number): number => Math.round(10 * chance.next() * most) / 10
  plan.floors.floor = { ...plan.floors.floor!, widthM: SIDE_M, depthM: SIDE_M }
  for (let n = 0; n < WALLS; n++) {
    const [x, y] = [any(SIDE_M - 8), any(SIDE_M - 8)]
    const id = `more-${n}`
    plan.walls[id] = {
      ...{ id, floorId: 'floor', material: 'plasterboard', openings: [] },
      points: [
        { x, y },
        { x: x + any(8), y: y + any(8) },
      ],
    }
  }
  for (const d of Object.values(plan.devices))
    if (d.place)
      plan.devices[d.id] = { ...d, place: { ...d.place, x: any(SIDE_M), y: any(SIDE_M) } }
  return plan
}

/** Until nothing is worked out beside the page. */
async function idle(page: Page): Promise<void> {
  await page.locator('.working:not(.idle)').waitFor({ state: 'detached' })
  await page.locator('.computing').waitFor({ state: 'detached' })
}

export async function place(): Promise<{ rows: Row[] }> {
  const { system, close } = await throwaway()
  const browser = await chromium.launch(CHROMIUM)
  try {
    const owner = await Caller.first(system.origin, NAME, PASSWORD)
    const context = await browser.newContext({
      viewport: { width: 1280, height: 800 },
      serviceWorkers: 'block',
    })
    const page = await context.newPage()
    const rows: Row[] = []
    for (const points of POINTS) {
      const plan = hectare(points)
      const name = `Hectare ${points}`
      await owner.read('POST', '/api/sites', {
        name,
        plan: { ...plan, site: { ...plan.site, name } },
      })
      await page.goto(`${system.origin}/s/hectare-${points}/wifi`)
      if (points === POINTS[0]) {
        await page.getByLabel('Name').fill(NAME)
        await page.getByLabel('Password').fill(PASSWORD)
        await page.getByRole('button', { name: 'Sign in' }).click()
      }
      const handle = page.locator('[aria-label^="AP 1 at"]')
      await handle.waitFor()
      await idle(page)
      const does: Record<string, () => Promise<void>> = {
        'an access point is moved': async () => {
          await handle.focus()
          await page.keyboard.press('ArrowRight')
          // It may be over before anybody looks.
          await page
            .locator('.working:not(.idle)')
            .waitFor({ timeout: 1000 })
            .catch(() => {})
          await idle(page)
        },
        'channels are planned': async () => {
          await page.locator('[aria-label=Channels] button', { hasText: 'Plan the' }).click()
          await page.locator('[aria-label=Channels] [role=status]').waitFor()
        },
        'power is planned': async () => {
          await page.locator('[aria-label=Power] button', { hasText: 'Work out' }).click()
          await page.locator('[aria-label=Power] [role=status]').waitFor()
        },
      }
      for (const [what, act] of Object.entries(does)) {
        const tasks: Task[] = []
        // The first round is the code's own warming up.
        for (let round = 0; round < ROUNDS; round++) {
          const task = await longestTask(browser, page, act)
          if (round > 0) tasks.push(task)
        }
        rows.push(
          row({
            name: `${points} access points: longest task while ${what}`,
            value: Math.min(...tasks.map((t) => t.wallMs)),
            unit: 'ms',
            reference: 'a long task, ms',
            referenceValue: LONG_TASK_MS,
            aim: 'none over 50 ms',
            met: (r) => r <= 1,
          }),
        )
      }
    }
    return { rows }
  } finally {
    await browser.close()
    await close()
  }
}
