/** The devices of a site go over from one controller to another, and back where that does not take them. */
import { randomBytes } from 'node:crypto'
import { afterAll, beforeAll, expect, it } from 'vitest'
import * as api from '@mast/api'
import { applyEdits, editCall as edit } from '@mast/core/plan'
import { exercises } from '../../demo/exercises'
import { Person } from '../../demo/person'
import { NAME, PASSWORD, throwaway } from './system'

const HERE = 'here.example.net'
const THERE = 'there.example.net'
const SPEED = 80

let there: Awaited<ReturnType<typeof throwaway>>
let here: Awaited<ReturnType<typeof throwaway>>
beforeAll(async () => {
  there = await throwaway()
  here = await throwaway(`${THERE}=${there.system.origin}`)
})
afterAll(async () => {
  await here.close()
  await there.close()
})

const until = async (what: string, isSo: () => Promise<boolean>): Promise<void> => {
  for (const end = Date.now() + 120_000; !(await isSo());)
    if (Date.now() > end) throw new Error(`it never came to that: ${what}`)
    else await new Promise((r) => setTimeout(r, 200))
}
const statesOf = async (who: Person, site: string): Promise<string[]> =>
  (await who.ask(api.readRoll, { params: { site } })).devices.map((d) => d.state)

it('who is not expected there goes back; who is stays, and the plan is sent from there', async () => {
  const [a, b] = [new Person(here.system.origin), new Person(there.system.origin)]
  await a.enter(NAME, PASSWORD)
  await b.enter(NAME, PASSWORD)
  const { begin, decisions } = exercises.find((e) => e.job === 'J-01')!
  const plan = applyEdits(begin(), [
    ...decisions,
    edit('setController', { hosted: { name: HERE }, port: 443 }),
  ])
  const { id } = await a.open(plan)
  const params = { site: id }
  await a.bringUp(id)
  await a.ask(api.setSpeed, { params, body: { speed: SPEED } })
  await a.edit(id, 'Another controller', [edit('setController', { hosted: { name: THERE } })])
  const { revision } = await a.ask(api.readSite, { params })
  const preview = await a.ask(api.previewRelease, { params })
  expect(preview.controllers).toEqual({
    from: `https://${HERE}:443`,
    to: `https://${THERE}:443`,
  })
  const goOver = async (): Promise<api.Releases['releases'][number]> => {
    const { number } = await a.ask(api.sendRelease, {
      params,
      body: { revision, note: '', goesOver: true },
    })
    let last: api.Releases['releases'][number] | undefined
    await until(`release ${number} is over`, async () => {
      const { releases } = await a.ask(api.readReleases, { params })
      last = releases.find((r) => r.number === number)
      return last?.state !== 'sending'
    })
    return last!
  }

  // Nobody there knows them.
  const failed = await goOver()
  expect(failed.state).toBe('stopped')
  expect(failed.why).toMatch(/went back to the configuration before/)
  await until('all are in service here again', async () =>
    (await statesOf(a, id)).every((s) => s === 'in-service'),
  )

  const passphrase = randomBytes(12).toString('hex')
  const file = await a.ask(api.takeOutSite, { params, body: { passphrase } })
  const { id: site } = await b.ask(api.bringInSite, { body: { file, passphrase } })
  expect(await statesOf(b, site)).toEqual(['claimed', 'claimed'])
  expect(await goOver()).toMatchObject({ state: 'done', why: '' })
  await until('all are in service there', async () =>
    (await statesOf(b, site)).every((s) => s === 'in-service'),
  )
  // Told nothing there yet, they run what the plan wants: sending it changes nothing on any of them.
  const { changes } = await b.ask(api.previewRelease, { params: { site } })
  const { devices } = await b.ask(api.readRoll, { params: { site } })
  expect(devices.map((d) => d.claimed)).toEqual([true, true])
  const { revision: last } = await b.ask(api.readSite, { params: { site } })
  await b.ask(api.sendRelease, { params: { site }, body: { revision: last, note: '' } })
  await until('the release there is done', async () => {
    const { releases } = await b.ask(api.readReleases, { params: { site } })
    return releases[0]!.state === 'done'
  })
  expect(changes.length).toBe(2)
  await until('and stays in service', async () =>
    (await statesOf(b, site)).every((s) => s === 'in-service'),
  )
  const told = (await b.ask(api.readRoll, { params: { site } })).devices
  expect(told.map((d) => d.configurationMatches)).toEqual([true, true])
})
