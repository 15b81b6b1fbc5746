/** A job of the trade is opened as an exercise, and the site is there as it was found. */
import { Person } from '../../demo/person'
import { expect, NAME, PASSWORD, test } from './system'

test.use({ file: 'exercises', viewport: { width: 390, height: 844 } })

test('an exercise is opened from the list of sites, on a phone', async ({ page, system }) => {
  await new Person(system.origin).enter(NAME, PASSWORD)
  await page.goto(system.origin)
  await page.getByLabel('Name').fill(NAME)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.getByRole('button', { name: 'Open a site' }).click()
  await page.getByText('Or an exercise').click()
  await expect(page.locator('[data-exercise]').first()).toContainText('What decides')
  await page.getByRole('button', { name: 'Open the exercise Plover Surgery' }).click()
  await expect(page).toHaveURL(/\/s\/plover-surgery\/survey$/)
  await expect(page.getByRole('heading', { name: 'Survey' })).toBeVisible()
  // What is to be done is told on the site too.
  await expect(page.getByRole('region', { name: 'Exercise' })).toContainText(
    'guests in neither of the others',
  )
  await page.goto(`${system.origin}/s/plover-surgery/policy`)
  // What was left over there is to be seen.
  await expect(page.getByRole('button', { name: 'Guests to Servers: everything' })).toBeVisible()
})
