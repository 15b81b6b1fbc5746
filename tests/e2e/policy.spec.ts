/** The sheet Policy: services with spans of ports, and the provider's own network as a place. */
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { Person } from '../../demo/person'
import { choose, expect, NAME, PASSWORD, settled, test } from './system'

test.use({ file: 'policy' })

test('a service gets a span of ports and is stated for the provider\'s own network, which is closed otherwise', async ({ page, system }) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  await person.open(dunlinSlipway())
  await page.goto(`${system.origin}/s/dunlin-slipway/policy`)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await settled(page)
  await page.getByText(/^Services: \d+ names/).click()
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
  await expect(pair).toContainText('Management to the provider\'s own network')
  await choose(page, 'Services', 'Modem page (tcp 80, 8080-8090)')
  await page.keyboard.press('Escape')
  await pair.getByRole('button', { name: 'State it' }).click()
  const grid = page.getByRole('table', { name: 'Who reaches whom' })
  await expect(grid.getByRole('button', { name: 'Management to provider\'s network: Modem page' })).toBeVisible()
  await expect(grid.getByRole('button', { name: 'Visitors to provider\'s network: nothing, by default' })).toBeVisible()
  await page.getByText(/^The \d+ rules that the gateway gets/).click()
  await expect(page.getByText('the line: provider network')).toBeVisible()
  await expect(page.getByText('tcp 80, 8080-8090').last()).toBeVisible()
})
