/**
 * Every sheet with few, some and many devices: it works, stays within its width, and axe finds
 * nothing serious.
 */
import { sheets as lineOfSheets } from '@mast/core/sheets'
import AxeBuilder from '@axe-core/playwright'
import { chanceOf, randomSite, type Shape } from '@mast/core/generator'
import { Caller } from '../caller'
import { expect, NAME, PASSWORD, settled, test, turnTo } from './system'

test.use({ file: 'sizes' })

const base: Shape = {
  switches: 1,
  accessPoints: 0,
  segments: 2,
  hostsPerSegment: 0.5,
  intents: 3,
  mistakes: 0,
  switchProfile: 'switch-8-poe-65',
}
const shapes: Record<number, Shape> = {
  3: base,
  30: {
    ...base,
    switches: 6,
    accessPoints: 2,
    segments: 6,
    hostsPerSegment: 3,
    intents: 14,
    mistakes: 0.1,
  },
  200: {
    ...base,
    switches: 24,
    accessPoints: 2,
    segments: 12,
    hostsPerSegment: 14.2,
    intents: 40,
    switchProfile: 'switch-24-poe-190',
  },
}
const sheets: readonly string[] = lineOfSheets.map((s) => s.id)
const sides = ['history', 'people']

for (const [count, shape] of Object.entries(shapes))
  test(`${count} devices`, async ({ page, system }) => {
    const owner = await Caller.first(system.origin, NAME, PASSWORD)
    const plan = randomSite(chanceOf(11), shape)
    expect(Math.abs(Object.keys(plan.devices).length - Number(count))).toBeLessThanOrEqual(
      Number(count) / 20,
    )
    const { id } = await owner.read<{ id: string }>('POST', '/api/sites', {
      name: `Size ${count}`,
      plan: JSON.parse(JSON.stringify(plan)) as unknown,
    })
    await page.goto(`${system.origin}/s/${id}/survey`)
    await page.getByLabel('Name').fill(NAME)
    await page.getByLabel('Password').fill(PASSWORD)
    await page.getByRole('button', { name: 'Sign in' }).click()
    await settled(page)
    for (const sheet of [...sheets, ...sides]) {
      if (sheets.includes(sheet)) await turnTo(page, sheet)
      else {
        await page.goto(`${system.origin}/s/${id}/${sheet}`)
        await page.getByRole('heading', { level: 1 }).waitFor()
      }
      expect(
        await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth),
        `${sheet} is as wide as the window`,
      ).toBeLessThanOrEqual(0)
      const { violations } = await new AxeBuilder({ page })
        .setLegacyMode()
        .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
        .options({ resultTypes: ['violations'] })
        .analyze()
      expect(
        violations
          .filter((v) => v.impact === 'serious' || v.impact === 'critical')
          .map((v) => `${sheet}: ${v.id} ${v.nodes[0]!.html.slice(0, 160)}`),
      ).toEqual([])
    }
    await page.goto(`${system.origin}/account`)
    await page.getByRole('heading', { name: 'Sessions' }).waitFor()
    expect(
      (await new AxeBuilder({ page }).setLegacyMode().analyze()).violations
        .filter((v) => v.impact === 'serious' || v.impact === 'critical')
        .map((v) => v.id),
    ).toEqual([])
  })
