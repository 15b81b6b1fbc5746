/** The sheet Policy: services with spans of ports, and the provider's own network as a place. */
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { Person } from '../../demo/person'
import { choose, expect, NAME, PASSWORD, settled, test } from './system'

test.use({ file: 'policy' })

test("a service gets a span of ports and is stated for the provider's own network, which is closed otherwise", async ({
  page,
  system,
}) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  await person.open(dunlinSlipway())
  await page.goto(`${system.origin}/s/dunlin-slipway/policy`)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await settled(page)
  await page.getByText(/Services: \d+ names/).click()
  const form = page.getByRole('form', { name: 'Add a service' })
  await form.getByLabel('Name').fill('Modem page')
  await form.getByLabel('Ports').fill('80, 90-81')
  await form.getByRole('button', { name: 'Add it' }).click()
  await expect(page.getByText("'90-81' ends before it begins")).toBeVisible()
  await form.getByLabel('Ports').fill('80, 8080-8090')
  await form.getByRole('button', { name: 'Add it' }).click()
  await expect(form.getByLabel('Name')).toHaveValue('')

  await page.getByRole('button', { name: 'State who may ask it' }).click()
  const pair = page.getByRole('form', { name: 'State the pair' })
  await expect(pair).toContainText("Management to the provider's own network")
  await choose(page, 'Services', 'Modem page (tcp 80, 8080-8090)')
  await page.keyboard.press('Escape')
  await pair.getByRole('button', { name: 'State it' }).click()
  const grid = page.getByRole('table', { name: 'Who reaches whom' })
  await expect(
    grid.getByRole('button', { name: "Management to provider's network: Modem page" }),
  ).toBeVisible()
  await expect(
    grid.getByRole('button', { name: "Visitors to provider's network: nothing, by default" }),
  ).toBeVisible()
  await page.getByText(/The \d+ rules that the gateway gets/).click()
  await expect(page.getByText('the line: provider network')).toBeVisible()
  await expect(page.getByText('tcp 80, 8080-8090').last()).toBeVisible()

  // A single host, at hours; who looks at it sees when, and the rule says so.
  await page.getByRole('button', { name: 'State another' }).click()
  await choose(page, 'From', 'Visitors')
  await choose(page, 'To', 'Crew desk')
  await choose(page, 'Verdict', 'allow')
  await choose(page, 'Services', 'printing (tcp 631)')
  await page.keyboard.press('Escape')
  await choose(page, 'When', 'at hours of the week')
  await pair.getByLabel('Until').fill('16:30')
  await pair.getByRole('button', { name: 'State it' }).click()
  await expect(
    page.getByText(/Crew desk has no address of its own, and the policy speaks of it/),
  ).toBeVisible()
  await page.getByRole('button', { name: 'Give Crew desk an address of its own' }).click()
  await expect(page.getByText(/Crew desk has no address of its own/)).toHaveCount(0)
  await expect(
    grid.getByRole('button', { name: 'Visitors to Crew desk: printing Mon to Fri 08:00-16:30' }),
  ).toBeVisible()
  await page.getByText(/What is stated: \d+/).click()
  await expect(
    page.getByRole('group', { name: 'Stated' }).getByText('Mon to Fri 08:00-16:30'),
  ).toBeVisible()

  // A port of the line: this line is behind carrier-grade NAT, which is said at once; the trace
  // says what it leads to.
  await page.getByText(/Port forwards: none/).click()
  const forward = page.getByRole('form', { name: 'Add a port forward' })
  await forward.getByLabel('Name').fill('Board')
  await forward.getByLabel('Port on the line').fill('8443-nine')
  await choose(page, 'Host', 'Crew desk')
  await forward.getByRole('button', { name: 'Add it' }).click()
  await expect(page.getByText("'8443-nine' is no port")).toBeVisible()
  await forward.getByLabel('Port on the line').fill('8443')
  await forward.getByLabel('Its port').fill('443')
  await forward.getByRole('button', { name: 'Add it' }).click()
  await expect(
    page.getByRole('group', { name: 'Port forwards' }).getByText('tcp 8443'),
  ).toBeVisible()
  await expect(page.getByText(/nobody outside reaches the port forward/)).toBeVisible()
  await expect(
    grid.getByRole('button', { name: 'internet to Crew: Board by port 8443' }),
  ).toBeVisible()
})
