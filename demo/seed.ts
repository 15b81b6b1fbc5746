/**
 * Fills a fresh system with the demo, through the same interface that everybody uses. Does nothing
 * where it is there already.
 */
import { Person } from './person'
import { dunlinSlipway, slipwayStandby } from './dunlinSlipway'
import { applyEdits, editCall } from '@mast/core/plan'
import { kittiwakeHarbour } from './kittiwakeHarbour'
import { petrelStreet } from './petrelStreet'

const origin = process.env.MAST_ORIGIN ?? ''
const password = process.env.MAST_DEMO_PASSWORD ?? ''
const person = new Person(origin)
await person.enter('installer', password)
const there = new Set((await person.sites()).map((s) => s.name))
/** The sites are new as long as nothing but their keys was made. */
const NEW_REVISION = 5
const slipway = applyEdits(dunlinSlipway(), slipwayStandby)
for (const plan of [kittiwakeHarbour(), petrelStreet(), slipway])
  if (!there.has(plan.site.name)) await person.open(plan)
for (const { id } of await person.sites()) await person.makeTunnelKeys(id)
await person.joinByTunnel('Kittiwake Harbour', 'chandlery', 'Petrel Street Chandlery', 'harbour')
const harbour = (await person.sites()).find((s) => s.name === 'Kittiwake Harbour')
if (harbour && harbour.revision <= NEW_REVISION) {
  console.log(
    'Working on Kittiwake Harbour: what is easily mended, the bench, the first devices ...',
  )
  await person.mend(harbour.id, ['C-05', 'C-10', 'C-34', 'C-14', 'C-11', 'C-18', 'C-16'])
  await person.edit(harbour.id, 'The new switch of the kiosk came', [
    editCall('changeDevice', { id: 'kiosk-switch', changes: { serial: 'AM-SWI-48977' } }),
  ])
  // What is in its place by now; the rest of the day is open.
  const inPlace = new Set(['gateway', 'switch', 'chart-room-ap', 'office-ap'])
  const atTheBench = new Set([
    'record-hand-off',
    'fetch',
    'antennas',
    'read-labels',
    'bench-power',
    'laptop',
    'password',
    'firmware',
    'configure',
    'set',
    'bridge-set',
    'laptop-automatic',
    'plain-switches',
  ])
  const ofTheDay = new Set(['cable', 'claim', 'verify', 'backup'])
  await person.bringUp(
    harbour.id,
    (s) =>
      atTheBench.has(s.kind) ||
      s.kind === 'controller-on' ||
      (ofTheDay.has(s.kind) && inPlace.has(s.deviceId ?? '')),
  )
  // What was wanted since, and has not been thought through yet.
  await person.edit(harbour.id, 'Visitors ask for an address once a day', [
    editCall('changeSegment', { id: 'visitors', changes: { leaseSeconds: 86_400 } }),
  ])
  await person.edit(harbour.id, 'The yard camera is fed over its cable', [
    editCall('changeDevice', { id: 'yard-camera', changes: { power: 'poe' } }),
  ])
  await person.edit(harbour.id, 'The kiosk keeps the switch that it has', [
    editCall('replaceDevice', { id: 'kiosk-switch', profileId: 'switch-5-plain' }),
    editCall('changeDevice', { id: 'kiosk-switch', changes: { serial: null } }),
  ])
}
const dunlin = (await person.sites()).find((s) => s.name === 'Dunlin Slipway')
if (dunlin && !dunlin.proof) {
  console.log('Bringing Dunlin Slipway up on the stand-ins ...')
  await person.bringUp(dunlin.id)
}
