/** Bridges on the day: set on the bench, mounted, aimed from both ends, locked, measured. */
import type { Day, DayPart } from '../bringup/day'
import { handsFor, HEIGHT, locationOf } from '../bringup/step'
import { knownBridges, type Reckoned } from './reckoned'
import { handAddress } from './settings/address'
import { distanceWords, leastDistance } from './settings/distance'
import { exposureM } from './mount/load'
import { tiltDegrees } from './clearance/shape'
import type { EndName } from './facts'

/** Hands on one end that is aimed, and on the settings of one, s (common practice). */
const AIM_S = 900
const SET_S = 240

const BEAM =
  'Stay out of the beam while it sends. No work in wind, rain or thunder. Earthing and lightning ' +
  'protection by whoever is licensed for them.'
const WEIGHTED = 'Ballast and wind load of a weighted mount are judged by a licensed person.'

const one = (n: number): string => n.toFixed(1)

function settings(day: Day): string[] {
  const bench = day.after('bench')
  return knownBridges(day.model).flatMap((r) =>
    (['a', 'b'] as const).flatMap((end): string[] => {
      const { facts } = r.budget
      const { device, unit, set, mhz } = facts[end]
      // What was there before and stays is set already.
      if (device.stays || !day.passive.includes(device)) return []
      const ready = bench.filter((id) =>
        [`${device.id}.set`, `${device.id}.configure`].includes(id),
      )
      const least = leastDistance(unit, facts.way.metres)
      const held = new Set(device.licencesHeld)
      const locked = day.model.profileOf(device.id).licences.filter((l) => !held.has(l.id))
      const sending = (end === 'a' ? r.budget.toB : r.budget.toA).sending
      const address = set.role && set.channel ? handAddress(unit, set.role, set.channel) : null
      return [
        day.add({
          id: `${device.id}.bridge-set`,
          kind: 'bridge-set',
          title: `Settings of ${device.name} for ${r.bridge.name}`,
          deviceId: device.id,
          locationId: day.benchAt,
          needs: ready.length > 0 ? ready : bench,
          workSeconds: SET_S,
          words: [
            ...locked.map((l) => ({
              label: 'Unlock first',
              text: `${l.name}: ${l.unlocks}; serial ${device.serial ?? 'off its label'}`,
            })),
            { label: 'Country', text: `${day.model.plan.site.country}, before the channel` },
            { label: 'Name', text: device.name },
            {
              label: 'Coordinates',
              text:
                `${facts[end].at.latitude.toFixed(5)}, ${facts[end].at.longitude.toFixed(5)}; ` +
                `${facts[end].heightM} m above the ground`,
            },
            { label: 'Role', text: set.role === 'main' ? 'main end' : 'far end' },
            {
              label: 'Channel',
              text:
                set.channel === null
                  ? 'not planned yet'
                  : `${set.channel} (${mhz} MHz), ${set.widthMhz} MHz wide`,
            },
            {
              label: 'Power',
              text:
                `${sending.powerDbm} dBm with an antenna of ${facts[end].antenna.gainDbi} dBi; ` +
                'check with your regulator',
            },
            ...(least === null
              ? []
              : [
                  {
                    label: 'Distance',
                    text: distanceWords(unit, Math.max(set.distance ?? 0, least)),
                  },
                ]),
            ...(set.keyRef ? [{ label: 'Key', text: set.keyRef, secret: true }] : []),
            ...(unit.setting === 'phone'
              ? [
                  {
                    label: 'By a phone',
                    text:
                      'over its own short-range radio, which may cut the phone off the internet: ' +
                      'fetch everything before',
                  },
                ]
              : []),
            ...(unit.setting === 'hand'
              ? [
                  {
                    label: 'By its buttons',
                    text:
                      'role and channel; then its page is at ' +
                      `${address ?? 'the address of its formula'}, for country and password`,
                  },
                ]
              : []),
            { label: 'Then', text: 'the laptop back to an automatic address' },
          ],
        }),
      ]
    }),
  )
}

function aim(day: Day, r: Reckoned, end: EndName, needs: string[]): string {
  const { facts, toA, toB } = r.budget
  const other = facts[end === 'a' ? 'b' : 'a']
  const own = facts[end]
  const bearing = end === 'a' ? facts.way.fromADegrees : facts.way.fromBDegrees
  const expected = (end === 'a' ? toA : toB).levelDbm
  const sends = (end === 'a' ? toB : toA).sending.eirpDbm
  return day.add({
    id: `${r.bridge.id}.aim-${end}`,
    kind: 'aim',
    title: `Aim ${own.device.name} at ${other.device.name}, and lock it`,
    deviceId: own.device.id,
    locationId: locationOf(day.model, own.device),
    needs,
    ...handsFor(day.model, own.device),
    workSeconds: AIM_S,
    words: [
      { label: 'Bearing', text: `${one(bearing)} degrees from true north` },
      {
        label: 'Tilt',
        text: `${one(tiltDegrees(own.topM, other.topM, facts.way.metres))} degrees`,
      },
      { label: 'Is to read', text: `${one(expected)} dBm` },
      { label: 'Helper', text: 'Bridges, Aim: sweep across, then up, back to the peak' },
      { label: 'Write down', text: 'the reading, after it is locked' },
      {
        label: 'Keep away',
        text: `${one(Math.max(0.1, exposureM(sends)))} m in front of it while it sends`,
      },
    ],
    safety: `${HEIGHT} ${BEAM}${own.set.mount === 'weighted' ? ` ${WEIGHTED}` : ''}`,
    ifExceeded:
      'Far under the expected level: a side lobe first, then the polarisation, connectors, the way.',
  })
}

function aimed(day: Day): string[] {
  return knownBridges(day.model).flatMap((r): string[] => {
    const { a, b } = r.budget.facts
    const fresh = [a, b].filter((e) => !e.device.stays && day.placed.has(e.device.id))
    if (fresh.length === 0) return []
    const needs = [a, b].flatMap((e) => day.placed.get(e.device.id) ?? [])
    // A sector that is already up looks everywhere: only the other end is aimed.
    const toAim = fresh.filter((e) => e.antenna.shape !== 'around')
    let last = needs
    for (const e of toAim) last = [aim(day, r, e.name, last)]
    const done = day.add({
      id: `${r.bridge.id}.speed`,
      kind: 'bridge-speed',
      title: `Measure ${r.bridge.name} in both directions`,
      deviceId: b.device.id,
      locationId: locationOf(day.model, b.device),
      needs: last,
      workSeconds: 300,
      words: [
        {
          label: 'Is to pass',
          text:
            `${Math.round((r.budget.toB.step?.mbps ?? 0) * a.unit.dataShare)} Mbit/s when the ` +
            'other direction is quiet',
        },
        {
          label: 'Has to carry',
          text: `${Math.round(r.carried.toB)} to ${b.device.name}, ${Math.round(r.carried.toA)} back`,
        },
        {
          label: 'Scan',
          text: `a scan by phone shows both ends on channel ${a.set.channel ?? 'not planned'}`,
        },
        { label: 'Wired side', text: 'plugged in last, with its caps on and its cable earthed' },
      ],
    })
    for (const e of fresh) day.placed.set(e.device.id, done)
    return [done]
  })
}

export const bridgesDay: readonly DayPart[] = [
  { phase: 'bench', steps: settings },
  { phase: 'place', steps: aimed },
]
