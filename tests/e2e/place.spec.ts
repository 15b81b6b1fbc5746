/** The plan of the place on Wi-Fi: who is served, a wall drawn in, an access point moved. */
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { Person } from '../../demo/person'
import { choose, expect, NAME, PASSWORD, settled, test } from './system'

test.use({ file: 'place' })

test('who is served is told and drawn, and follows walls and access points', async ({
  page,
  system,
}) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  await person.open(kittiwakeHarbour())
  await page.goto(`${system.origin}/s/kittiwake-harbour/wifi`)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await settled(page)
  const place = page.getByRole('region', { name: 'The place' })
  await choose(page, 'Plan of the place', 'Yard, quay and pontoons')
  const answer = place.getByRole('status').first()
  await expect(answer).toContainText('188 of 188 people are served in 5 GHz')
  await expect(answer).toContainText('Pontoon B is slowest')
  await choose(page, 'For', 'Old tablets of the crew')
  await choose(page, 'Band', '2.4 GHz')
  await expect(answer).toContainText('people are served in 2.4 GHz')
  await choose(page, 'Plan of the place', 'Harbour Office, ground floor')
  await choose(page, 'Band', '5 GHz')
  await expect(answer).toHaveText('Old tablets of the crew do not know 5 GHz.')
  await choose(page, 'For', 'the usual client')
  // Both hang on the same 80 MHz, and hear each other through the wall.
  await expect(answer).toContainText('of 10 people are served in 5 GHz; Chart room is slowest')

  const point = place.getByRole('button', { name: /^Office AP at 13, 3.5 m/ })
  await point.focus()
  await page.keyboard.press('ArrowLeft')
  await expect(place.getByRole('button', { name: /^Office AP at 12.5, 3.5 m/ })).toBeVisible()
  await page.keyboard.press('Shift+ArrowDown')
  await expect(place.getByRole('button', { name: /^Office AP at 12.5, 8.5 m/ })).toBeVisible()

  const drawing = place.getByRole('group', { name: /people are served/ })
  // Taken and let go where it is, it stays.
  await place.getByRole('button', { name: /^Office AP at/ }).click()
  await expect(place.getByRole('button', { name: /^Office AP at 12.5, 8.5 m/ })).toBeVisible()
  /** Clicks the plan where something lies, m. */
  const clickAt = async (x: number, y: number): Promise<void> => {
    await drawing.scrollIntoViewIfNeeded()
    const [left, top] = await drawing.evaluate(
      (svg, p) => {
        const on = new DOMPoint(p[0], p[1]).matrixTransform(
          (svg as unknown as SVGSVGElement).getScreenCTM()!,
        )
        return [on.x, on.y]
      },
      [x, y],
    )
    await page.mouse.click(left!, top!)
  }
  await clickAt(2, 12)
  await expect(place).toContainText(/At 2\.0, 12\.\d m: -\d+\.\d dBm \(\d+ %\), served by/)
  const walls = place.getByText('5 walls')
  await expect(walls).toBeVisible()
  await choose(page, 'Wall of', 'brick, 11 cm')
  await place.getByRole('button', { name: 'Draw a wall' }).click()
  await clickAt(3, 8)
  await clickAt(3, 11)
  await place.getByRole('button', { name: 'Keep the wall' }).click()
  await expect(place.getByText('6 walls')).toBeVisible()
  await place.getByText('6 walls').click()
  await expect(place.getByText(/^brick, 11 cm, 3 m/)).toBeVisible()
  await page.getByRole('button', { name: /^Undo/ }).click()
  await expect(walls).toBeVisible()

  await place.getByLabel('New plan of the place').fill('Upper floor')
  await place.getByRole('button', { name: 'Add it' }).click()
  await expect(answer).toContainText('Nobody is drawn in yet')
})
