/** Plans of the place made up from a seed: rooms with doors, people, access points set anyhow. */
import {
  applyEdits,
  createPlan,
  editCall,
  floors,
  segments,
  type RadioSetting,
  type SitePlan,
} from '../plan'
import { materialIds } from '../radio/materials'
import type { Chance } from './random'

const tenth = (n: number): number => Math.round(n * 10) / 10

/** @param accessPoints how many hang on its one floor */
export function randomPlace(chance: Chance, accessPoints: number): SitePlan {
  const plan = createPlan('Made up')
  const any = (from: number, to: number): number => tenth(from + chance.next() * (to - from))
  const [widthM, depthM] = [any(8, 80), any(8, 60)]
  plan.floors.floor = {
    ...floors.blank,
    id: 'floor',
    name: 'Floor',
    widthM,
    depthM,
    isOutdoors: chance.happens(0.3),
    coefficient: chance.between(20, 38),
  }
  for (let n = chance.between(0, 25); n > 0; n--) {
    const id = `wall-${n}`
    const points = Array.from({ length: chance.between(2, 4) }, () => ({
      x: any(0, widthM),
      y: any(0, depthM),
    }))
    const length = points
      .slice(1)
      .reduce((sum, p, i) => sum + Math.hypot(p.x - points[i]!.x, p.y - points[i]!.y), 0)
    const fromM = any(0, length)
    plan.walls[id] = {
      id,
      floorId: 'floor',
      material: chance.one([...materialIds]),
      points,
      openings: chance.happens(0.4)
        ? [
            {
              fromM,
              toM: tenth(fromM + 1 + chance.next()),
              material: chance.happens(0.5) ? null : chance.one([...materialIds]),
            },
          ]
        : [],
    }
  }
  for (let n = chance.between(0, 4); n > 0; n--) {
    const [x, y] = [any(0, widthM - 2), any(0, depthM - 2)]
    const [right, down] = [any(x + 1, widthM), any(y + 1, depthM)]
    plan.areas[`area-${n}`] = {
      id: `area-${n}`,
      name: `Area ${n}`,
      floorId: 'floor',
      kind: chance.one(['people', 'people', 'people', 'keep-out', 'boundary']),
      points: [
        { x, y },
        { x: right, y },
        { x: right, y: down },
        { x, y: down },
      ],
      heads: chance.between(0, 80),
      clientTypeId: null,
    }
  }
  plan.segments.crew = {
    ...segments.blank,
    id: 'crew',
    name: 'Crew',
    vlanId: 20,
    subnet: '10.2.20.0/24',
    gateway: '10.2.20.1',
    purpose: 'staff',
    expectedHosts: 40,
    dhcp: { mode: 'server', relayTo: null },
    pools: [{ first: '10.2.20.50', last: '10.2.20.200' }],
  }
  const setting = (band: '2.4' | '5'): RadioSetting => ({
    isOn: chance.happens(0.95),
    band,
    channel: chance.happens(0.1)
      ? null
      : chance.one(band === '2.4' ? [1, 2, 6, 11, 13] : [36, 40, 44, 52, 100, 116, 149]),
    widthMhz: 20,
    powerDbm: chance.happens(0.3) ? null : chance.between(5, 23),
  })
  const ids = Array.from({ length: accessPoints }, (_, n) => `ap-${n + 1}`)
  return applyEdits(plan, [
    ...ids.flatMap((id, n) => [
      editCall('addDevice', { id, name: `AP ${n + 1}`, profileId: 'ap-indoor-2x2' }),
      editCall('changeDevice', {
        id,
        changes: {
          place: {
            floorId: 'floor',
            x: any(0, widthM),
            y: any(0, depthM),
            heightM: any(1.5, 5),
            degrees: 0,
            stays: chance.happens(0.8),
          },
          radios: [setting('2.4'), setting('5')],
        },
      }),
    ]),
    editCall('addWirelessNetwork', {
      id: 'air',
      name: 'Lantern',
      segmentId: 'crew',
      security: 'wpa2-wpa3',
      keyRef: 'wifi-air',
      clientIsolation: false,
      accessPointIds: ids,
    }),
  ])
}
