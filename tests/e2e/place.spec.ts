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
  await expect(answer).toContainText('180 of 188 people are served in 5 GHz')
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
  await expect(
    place.getByRole('table', { name: 'Walls' }).getByRole('row', { name: /^3 m 3\.5 \/ 3\.8/ }),
  ).toBeVisible()
  await page.getByRole('button', { name: /^Undo/ }).click()
  await expect(walls).toBeVisible()

  await place.getByLabel('New plan of the place').fill('Upper floor')
  await place.getByRole('button', { name: 'Add it' }).click()
  await expect(answer).toContainText('Nobody is drawn in yet')
})

test('channels are planned, places proposed, readings bend the model, an extender finds its outlet', async ({
  page,
  system,
}) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  await person.open({ ...kittiwakeHarbour(), site: { ...kittiwakeHarbour().site, name: 'Second' } })
  await page.goto(`${system.origin}/s/second/wifi`)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await settled(page)

  await choose(page, 'Plan of the place', 'Harbour Office, ground floor')
  const measured = page.getByRole('region', { name: 'Measured' })
  await measured.getByRole('button', { name: /^Bend the model to \d+ readings/ }).click()
  const brick = measured.getByRole('row', { name: /^brick, 11 cm/ })
  await expect(brick).toContainText(/\d+(\.\d)? dB more than drawn/)
  await measured.getByLabel('Level').fill('loud')
  await measured.getByRole('button', { name: /^Keep the reading/ }).click()
  await expect(measured.getByRole('alert')).toContainText('tap the plan where you stand')

  const channels = page.getByRole('region', { name: 'Channels' })
  await channels.getByRole('button', { name: 'Plan the channels' }).click()
  await expect(channels.getByRole('status')).toContainText(
    'on shared frequencies: 1 now, 0 as planned. No plan disturbs less.',
  )
  await channels.getByRole('button', { name: /^Take it over/ }).click()
  await channels.getByRole('button', { name: 'Plan the channels' }).click()
  await expect(channels.getByRole('status')).toContainText('0 now, 0 as planned')

  await choose(page, 'Plan of the place', 'Yard, quay and pontoons')
  const proposals = page.getByRole('region', { name: 'Where to hang them' })
  await proposals.getByRole('button', { name: 'Propose places' }).click()
  await expect(proposals.getByRole('status')).toContainText(
    /Reach takes \d+.*what all need takes \d+/,
  )

  const extenders = page.getByRole('region', { name: 'Extenders' })
  await expect(extenders.getByRole('status')).toContainText(
    /Slipway extender hears Ice House AP with 0 %/,
  )
  await extenders.getByRole('button', { name: 'Plug it in there' }).first().click()
  await expect(extenders.getByRole('status')).toContainText(/hears Ice House AP with \d\d %/)

  // Typed, a wall needs no pointer; one corner is refused with what is expected.
  const place = page.getByRole('region', { name: 'The place' })
  await place.getByLabel('Or type its corners, m').fill('1,1')
  await place.getByRole('button', { name: 'Draw it so' }).click()
  await expect(place.getByRole('alert').first()).toContainText('it takes 2 corners')
  await place.getByLabel('Or type its corners, m').fill('1,1 999,4')
  await place.getByRole('button', { name: 'Draw it so' }).click()
  await expect(place.getByRole('alert').first()).toContainText("'999,4' is no corner on the plan")
  await place.getByLabel('Or type its corners, m').fill('40,100 48,100 48,104')
  await place.getByRole('button', { name: 'Draw it so' }).click()
  await expect(place.getByText('5 walls')).toBeVisible()
})

test('a key that is shown says how long it takes to guess, and joins by a card', async ({
  page,
  system,
}) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  await person.open({ ...kittiwakeHarbour(), site: { ...kittiwakeHarbour().site, name: 'Third' } })
  await page.goto(`${system.origin}/s/third/wifi`)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await settled(page)
  const crew = page.getByRole('region', { name: 'Below Decks' })
  await crew.getByRole('button', { name: 'Make a new one' }).click()
  await crew.getByRole('button', { name: 'Show' }).click()
  const card = crew.getByRole('figure', { name: 'Card of Below Decks' })
  await expect(card).toContainText('a million tries a second')
  await expect(card.getByRole('status')).toBeHidden()
  await expect(card.getByRole('img', { name: 'Code that joins Below Decks' })).toBeVisible()
  const visitors = page.getByRole('region', { name: 'Berth and Breakfast' })
  await visitors.getByText("How 'Berth and Breakfast' is sent").click()
  await expect(visitors.getByRole('figure')).toContainText('Welcome to the harbour')
  await visitors.getByLabel('Weaker is not let in, dBm').fill('-80')
  await visitors.getByLabel('Weaker is not let in, dBm').press('Enter')
  await visitors.getByLabel('Colour').fill('red')
  await visitors.getByLabel('Colour').press('Enter')
  await expect(visitors).toContainText('a colour is # and six digits')
})
