/** Jobs of the trade done on a phone: opened as exercises, worked through step by step, proven. */
import { readSecrets, readSite, setSecret } from '@mast/api'
import { findingsOf } from '@mast/core/findings'
import { editCall } from '@mast/core/plan'
import { privateKeyFrom, publicKeyOf } from '@mast/core/tunnels'
import { exercises } from '../../demo/exercises'
import { Person } from '../../demo/person'
import { expect, NAME, PASSWORD, test } from './system'
import { goTo, workThrough } from './workThrough'

test.use({ file: 'jobs', viewport: { width: 390, height: 844 } })

/**
 * One without a controller, where all is typed into pages; one with an extender that no controller
 * adopts; one whose controller is inside the gateway. MAST_JOBS=whole walks all of them.
 */
const few = ['J-03', 'J-11', 'J-04']
const walked = process.env.MAST_JOBS === 'whole' ? exercises.map((e) => e.job) : few
for (const job of walked) {
  const exercise = exercises.find((e) => e.job === job)!
  test(`${job}: ${exercise.name}`, async ({ page, system }) => {
    const person = new Person(system.origin)
    await person.enter(NAME, PASSWORD)
    await page.goto(system.origin)
    await page.getByLabel('Name').fill(NAME)
    await page.getByLabel('Password').fill(PASSWORD)
    await page.getByRole('button', { name: 'Sign in' }).click()
    await page.getByRole('button', { name: 'Open a site' }).click()
    await page.getByText('Or an exercise').click()
    await page.getByRole('button', { name: `Open the exercise ${exercise.name}` }).click()
    await expect(page).toHaveURL(/\/survey$/)
    const id = /\/s\/([^/]+)\//.exec(page.url())![1]!
    const params = { site: id }

    // What is to be decided is a matter of other tests.
    if (exercise.decisions.length > 0) await person.edit(id, 'Decided', exercise.decisions)
    const plan = async () => (await person.ask(readSite, { params })).plan
    for (let presses = 0; presses < 60; presses++) {
      const finding = findingsOf(await plan()).find(
        (f) => f.fixes?.length && !exercise.leaves.includes(f.ruleId),
      )
      if (!finding) break
      await person.edit(id, finding.fixes![0]!.label, finding.fixes![0]!.edits)
    }
    const kept = new Set((await person.ask(readSecrets, { params })).map((s) => s.ref))
    const { devices, wirelessNetworks } = await plan()
    for (const { keyRef } of Object.values(wirelessNetworks))
      if (keyRef && !kept.has(keyRef))
        await person.ask(setSecret, { params: { ...params, ref: keyRef }, body: { secret: null } })

    await person.makeTunnelKeys(id)
    // What the other ends say of themselves.
    const keyless = Object.values((await plan()).peers).filter((p) => !p.publicKey)
    if (keyless.length > 0)
      await person.edit(
        id,
        'Their keys came',
        keyless.map((p, n) =>
          editCall('changePeer', {
            id: p.id,
            changes: { publicKey: publicKeyOf(privateKeyFrom(new Uint8Array(32).fill(n + 1))) },
          }),
        ),
      )
    const serials = Object.fromEntries(
      Object.values(devices).map((d) => [d.name, d.serial ?? 'none']),
    )
    await goTo(page, 'Bring-up')
    await page.getByRole('button', { name: 'x1000' }).click()
    expect(await workThrough(page, serials)).toBeGreaterThan(10)
    const proven = page.getByText(/Proven: all \d+ results as planned$/)
    const prove = async (): Promise<void> => {
      await goTo(page, 'Prove')
      await expect(async () => {
        const answer = page.waitForResponse(
          (r) => r.url().endsWith('/proof') && r.request().method() === 'POST',
        )
        await page.getByRole('button', { name: 'Run the proof' }).click()
        await answer
        await expect(proven).toBeVisible({ timeout: 5000 })
      }).toPass({ timeout: 120_000 })
      await goTo(page, 'Bring-up')
    }
    await prove()
    await expect(page.getByRole('region', { name: /^Step: Take the power of/ })).toBeVisible()
    expect(await workThrough(page, serials)).toBe(1)
    await prove()
    await workThrough(page, serials)
    await expect(page.getByText('Every step is done. On to the proof.')).toBeVisible()
  })
}
