/** Channels planned anew at night: by the controller, once a day, and never over what waits. */
import * as api from '@mast/api'
import { applyEdits, editCall, weekMinuteAt } from '@mast/core/plan'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { Person } from '../../demo/person'
import { change } from '../load/system'
import { expect, NAME, PASSWORD, test } from './system'

test.use({ file: 'nightly' })

const heard = (name: string, channel: number) => ({
  ...{ name, address: '02:71:00:00:00:01', band: '2.4' as const, channel },
  ...{ widthMhz: 20 as const, dbm: -50, security: 'WPA2' },
})
/** The training site with its access point on the channel of a neighbour. */
const besideANeighbour = () => {
  const plan = dunlinSlipway()
  return applyEdits(plan, [
    editCall('addFloor', { id: 'hut-floor', name: 'Hut', widthM: 12, depthM: 8 }),
    editCall('changeDevice', {
      id: 'hut-ap',
      changes: {
        place: { floorId: 'hut-floor', x: 6, y: 4, heightM: 2.5, degrees: 0, stays: true },
        radios: [
          { isOn: true, band: '2.4', channel: 1, widthMhz: 20, powerDbm: null },
          { isOn: true, band: '5', channel: 36, widthMhz: 20, powerDbm: null },
        ],
      },
    }),
    editCall('addScan', {
      ...{ id: 'hut-scan', name: 'at the door' },
      heard: [heard('Chandlery', 1)],
    }),
  ])
}

test('channels are planned anew at their minute, once what waits was sent, and are sent', async ({
  system,
}) => {
  const person = new Person(system.origin)
  await person.enter(NAME, PASSWORD)
  const { id } = await person.open(besideANeighbour())
  await person.bringUp(id)
  const params = { site: id }
  await person.ask(api.setSpeed, { params, body: { speed: 200 } })
  const { plan } = await person.ask(api.readSite, { params })
  const replanMinute = weekMinuteAt(plan.site.timeZone, new Date()) % (24 * 60)
  await person.ask(api.saveChanges, {
    params,
    body: {
      base: 1,
      changes: [change('changeSite', { wireless: { channels: 'nightly', replanMinute } })],
    },
  })
  // Nobody sent this edit: it is not sent along with channels, and they wait for it.
  const revisions = async () => (await person.ask(api.readSite, { params })).revisions
  await person.ask(api.sendRelease, { params, body: { revision: 2, note: '' } })
  await expect(async () => {
    expect((await revisions())[0]).toMatchObject({
      number: 3,
      author: 'the controller',
      summary: 'Channels planned anew: 1 radio changes',
    })
    const { releases } = await person.ask(api.readReleases, { params })
    expect(releases[0]).toMatchObject({ number: 3, revision: 3 })
  }).toPass({ timeout: 120_000 })
  // What access points report is counted by the hour.
  await expect(async () => {
    const hours = await person.ask(api.readClientHours, { params })
    expect(hours.some((h) => h.samples > 0)).toBe(true)
    const begun = Math.floor(replanMinute / 60)
    for (const { hour } of hours) expect([begun, (begun + 1) % 24]).toContain(hour)
  }).toPass({ timeout: 120_000 })
  const { plan: after } = await person.ask(api.readSite, { params })
  expect(after.devices['hut-ap']!.radios[1]!.channel).toBe(36)
  expect(after.devices['hut-ap']!.radios[0]!.channel).not.toBe(1)
})
