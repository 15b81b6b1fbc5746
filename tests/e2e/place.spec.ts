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
    // From the corner of the drawing, so that it is the same place wherever the page has gone.
    const position = await drawing.evaluate(
      (svg, p) => {
        const on = new DOMPoint(p[0], p[1]).matrixTransform(
          (svg as unknown as SVGSVGElement).getScreenCTM()!,
        )
        const corner = svg.getBoundingClientRect()
        return { x: on.x - corner.x, y: on.y - corner.y }
      },
      [x, y],
    )
    await drawing.click({ position })
  }
  await clickAt(2, 12)
  await expect(place).toContainText(/At 2\.0, 12\.\d m: -\d+\.\d dBm \(\d+ %\), served by/)
  await expect(place).toContainText(
    /dBm - \d+\.\d dB \(20 log \d+ MHz \+ 28 log \d+\.\d m - 28\).* = -\d+\.\d dBm/,
  )
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

  const power = page.getByRole('region', { name: 'Power' })
  await power.getByRole('button', { name: 'Work out the power' }).click()
  await expect(power.getByRole('status')).toContainText(/\d+ people are served as planned, \d+ now/)
  await power.getByRole('button', { name: /^Take it over/ }).click()
  await power.getByRole('button', { name: 'Work out the power' }).click()
  await expect(power.getByRole('status')).toContainText(/people are served as planned/)
  await expect(power.getByRole('button', { name: /^Take it over/ })).toBeHidden()
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
  await extenders.getByRole('button', { name: 'Draw where it hears 70, 65, 50 %' }).click()
  await expect(page.locator('.mark-line')).toHaveCount(3)
  await choose(page, 'Lamp of Slipway extender', 'amber, two long, two short')
  await expect(extenders).toContainText(
    /Try the outlet at [\d.]+, [\d.]+ m: \d\d % are expected there/,
  )
  await extenders.getByRole('button', { name: 'Plug it in there' }).first().click()
  await expect(extenders.getByRole('status').first()).toContainText(
    /hears Ice House AP with \d\d %/,
  )

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

/** A page with one line, as ISO 32000-1 has it: header, objects, table, trailer. */
function pdfOf(pages: number): Buffer {
  const drawing = '10 10 m 390 190 l S'
  const objects = [
    '<</Type/Catalog/Pages 2 0 R>>',
    `<</Type/Pages/Kids[${Array.from({ length: pages }, () => '3 0 R').join(' ')}]/Count ${pages}>>`,
    '<</Type/Page/Parent 2 0 R/MediaBox[0 0 400 200]/Contents 4 0 R/Resources<<>>>>',
    `<</Length ${drawing.length}>>stream\n${drawing}\nendstream`,
  ]
  let text = '%PDF-1.4\n'
  const starts = objects.map((o, n) => {
    const at = text.length
    text += `${n + 1} 0 obj${o}endobj\n`
    return at
  })
  const table = text.length
  text +=
    `xref\n0 5\n0000000000 65535 f \n` +
    starts.map((at) => `${String(at).padStart(10, '0')} 00000 n \n`).join('') +
    `trailer<</Size 5/Root 1 0 R>>\nstartxref\n${table}\n%%EOF`
  return Buffer.from(text, 'latin1')
}

test('a picture lies under the plan to scale, corners are moved, a map is read in', async ({
  page,
  system,
}) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  await person.open({ ...kittiwakeHarbour(), site: { ...kittiwakeHarbour().site, name: 'Fourth' } })
  await page.goto(`${system.origin}/s/fourth/wifi`)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await settled(page)
  const place = page.getByRole('region', { name: 'The place' })
  await place.getByLabel('New plan of the place').fill('Loft')
  await place.getByRole('button', { name: 'Add it' }).click()
  const under = place.getByRole('region', { name: 'Picture under the plan' })
  const put = (name: string, mimeType: string, buffer: Buffer) =>
    under.getByLabel('Picture of the place').setInputFiles({ name, mimeType, buffer })
  const svg = (inside: string): Buffer =>
    Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 300 150">${inside}</svg>`)

  await put('bomb.svg', 'image/svg+xml', Buffer.from('<!DOCTYPE s [<!ENTITY a "b">]><svg/>'))
  await expect(under.getByRole('alert')).toContainText('bomb.svg: the drawing declares entities')
  await put('cut.pdf', 'application/pdf', pdfOf(1).subarray(0, 60))
  await expect(under.getByRole('alert')).toContainText('the PDF cannot be read')
  await under.getByLabel('Page of a PDF').fill('3')
  await put('loft.pdf', 'application/pdf', pdfOf(2))
  await expect(under.getByRole('alert')).toContainText('there is no page 3; the file has 2')
  await under.getByLabel('Page of a PDF').fill('2')
  await put('loft.pdf', 'application/pdf', pdfOf(2))
  const image = place.locator('image')
  await expect(image).toHaveAttribute('width', '30')
  await expect(image).toHaveAttribute('height', '15')
  // 30 m wide while it is unknown; its ends are 12 m apart.
  await under.getByLabel('Tap two points').fill('0,0 30,0')
  await under.getByLabel('They are apart').fill('12')
  await under.getByRole('button', { name: 'Scale it' }).click()
  await expect(image).toHaveAttribute('width', '12')
  await expect(place.getByText('12 x 6 m, N 30')).toBeVisible()
  await put('loft.svg', 'image/svg+xml', svg('<path d="M0 0h99v99" stroke="black"/>'))
  await expect(under.getByLabel('Tap two points')).toBeVisible()
  // What is kept is points, and is there for whoever opens the site next.
  const drawn = await image.evaluate(async (i) => {
    const answer = await fetch(i.getAttribute('href')!)
    const picture = await createImageBitmap(await answer.blob())
    return [answer.headers.get('content-type'), picture.width, picture.height]
  })
  expect(drawn).toEqual(['image/png', 2400, 1200])
  await under.getByRole('button', { name: 'Leave it' }).click()

  await place.getByLabel('Or type its corners, m').fill('1,1 5,1 5,4')
  await place.getByRole('button', { name: 'Draw it so' }).click()
  await place.getByText('1 walls').click()
  await place.getByRole('button', { name: /^Corners of .* on the plan/ }).click()
  const corner = place.getByRole('button', { name: /^Corner 3 of the plasterboard.* at 5, 4 m/ })
  await corner.focus()
  await page.keyboard.press('ArrowRight')
  await expect(place.getByRole('button', { name: /^Corner 3 of .* at 5\.5, 4 m/ })).toBeFocused()
  await page.keyboard.press('Delete')
  await expect(place.getByLabel('Corners, m', { exact: true })).toHaveValue('1,1 5,1')
  await place.getByRole('button', { name: /^Corner 1 of/ }).press('Delete')
  await expect(place.getByRole('alert').first()).toContainText('a wall has at least two corners')

  await place.getByText('3 kinds of client').click()
  await place.getByLabel('New kind of client').fill('Scanners')
  await place.getByRole('button', { name: 'Add it' }).first().click()
  const scanners = place.getByRole('group', { name: 'Scanners' })
  await scanners.getByLabel('Needs, Mbit/s').fill('0.2')
  await scanners.getByLabel('Needs, Mbit/s').press('Enter')
  await scanners.getByLabel('Joins from, dBm').fill('-20')
  await scanners.getByLabel('Joins from, dBm').press('Enter')
  await expect(scanners).toContainText(/-30/)
})
