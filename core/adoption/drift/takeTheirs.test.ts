import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Configuration } from '@mast/protocol'
import { kittiwakeHarbour } from '../../../demo/kittiwakeHarbour'
import { applyEdits, editCall, type EditCall, type SitePlan } from '../../plan'
import { siteModel } from '../../topology'
import { desiredConfiguration } from '../configuration'
import { differencesOf } from './differences'
import { takeTheirs } from './takeTheirs'

const plan = kittiwakeHarbour()
/** Every name in the vault has a value. */
const refs = new Set(JSON.stringify(plan).match(/(?<="\w*[rR]ef":")[^"]+/g))
const secrets = Object.fromEntries([...refs, 'site-password'].map((r) => [r, `secret of ${r}`]))
const wants = (p: SitePlan, deviceId: string): Configuration => {
  const outcome = desiredConfiguration(siteModel(p), deviceId, secrets)
  if (!outcome.ok) throw new Error(outcome.missing.join())
  return outcome.desired.configuration
}
const model = siteModel(plan)
const of = (kind: string) => model.devices.find((d) => model.profileOf(d.id).kind === kind)!
const ap = model.devices.find((d) => model.networksOf(d.id).length > 0)!
const [sw, gateway, radio] = [of('switch'), of('gateway'), of('bridge-radio')]
const network = model.networksOf(ap.id)[0]!
const segment = model.segments.find((s) => s.dhcp.mode === 'server' && s.pools.length > 0)!
const uplink = model.lines.find((u) => u.portId?.startsWith(`${gateway.id}.`))!
const bridge = Object.values(plan.bridges).find((b) =>
  model.plan.links[b.linkId]!.a.startsWith(`${radio.id}.`),
)
const ports = model.portsOf(sw.id).map((p) => p.id)
const segments = model.segments.map((s) => s.id)

/** Somebody types this into the device in place of the plan. */
const changes: readonly (readonly [string, string, EditCall])[] = [
  [
    'the length of a lease',
    gateway.id,
    editCall('changeSegment', { id: segment.id, changes: { leaseSeconds: 5000 } }),
  ],
  [
    'name servers of a lease',
    gateway.id,
    editCall('changeSegment', {
      id: segment.id,
      changes: { options: { ...segment.options, nameServers: ['192.0.2.53'] } },
    }),
  ],
  [
    'a pool',
    gateway.id,
    editCall('setPools', {
      segmentId: segment.id,
      pools: [{ first: segment.pools[0]!.first, last: segment.pools[0]!.first }],
    }),
  ],
  [
    'the MTU of a line',
    gateway.id,
    editCall('changeUplink', {
      id: uplink.id,
      changes: { handOff: { ...uplink.handOff, mtu: 1400 } },
    }),
  ],
  [
    'the weight of a line',
    gateway.id,
    editCall('changeUplink', { id: uplink.id, changes: { weight: 7 } }),
  ],
  [
    'clients kept apart',
    ap.id,
    editCall('changeWirelessNetwork', {
      id: network.id,
      changes: { clientIsolation: !network.clientIsolation },
    }),
  ],
  [
    'a hidden name',
    ap.id,
    editCall('changeWirelessNetwork', { id: network.id, changes: { isHidden: !network.isHidden } }),
  ],
  [
    'the segment of a network',
    ap.id,
    editCall('changeWirelessNetwork', {
      id: network.id,
      changes: { segmentId: segments.find((s) => s !== network.segmentId)! },
    }),
  ],
  [
    'a network that is not sent',
    ap.id,
    editCall('changeWirelessNetwork', {
      id: network.id,
      changes: { accessPointIds: network.accessPointIds.filter((x) => x !== ap.id) },
    }),
  ],
  ['the name', ap.id, editCall('changeDevice', { id: ap.id, changes: { name: 'Somebody Else' } })],
  ['the time zone', sw.id, editCall('changeSite', { timeZone: 'Atlantic/Azores' })],
  [
    'the banner',
    sw.id,
    editCall('changeSite', { management: { ...plan.site.management, banner: 'Go away' } }),
  ],
  [
    'lamps off',
    ap.id,
    editCall('changeSite', { wireless: { dark: { fromMinute: 5, toMinute: 60 } } }),
  ],
  ...(bridge
    ? [
        [
          'the power of a bridge',
          radio.id,
          editCall('changeBridge', { id: bridge.id, changes: { a: { ...bridge.a, powerDbm: 3 } } }),
        ] as const,
      ]
    : []),
]
const changed = (deviceId: string, ...edits: EditCall[]) => ({
  runs: wants(applyEdits(plan, edits), deviceId),
  deviceId,
})
const takeAll = (deviceId: string, runs: Configuration) =>
  takeTheirs(
    plan,
    deviceId,
    runs,
    secrets,
    differencesOf(wants(plan, deviceId), runs).map((d) => d.path),
  )

describe('what was changed at a device', () => {
  it.each(changes)('%s comes into the plan, which then wants what runs', (_, deviceId, edit) => {
    const { runs } = changed(deviceId, edit)
    expect(differencesOf(wants(plan, deviceId), runs).length).toBeGreaterThan(0)
    const { edits, refused } = takeAll(deviceId, runs)
    expect(refused).toEqual([])
    expect(wants(applyEdits(plan, [...edits]), deviceId)).toEqual(runs)
  })
  it('VLANs of any sockets come into the plan', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            portId: fc.constantFrom(...ports),
            segmentId: fc.constantFrom(...segments),
            how: fc.constantFrom('setUntagged' as const, 'addTag' as const, 'removeTag' as const),
          }),
          { minLength: 1, maxLength: 4 },
        ),
        (list) => {
          let there = plan
          for (const { portId, segmentId, how } of list)
            try {
              there = applyEdits(there, [
                { name: how, args: { segmentId, portIds: [portId] } } as EditCall,
              ])
            } catch {
              // What the plan does not take nobody types.
            }
          const runs = wants(there, sw.id)
          const { edits } = takeAll(sw.id, runs)
          const after = wants(applyEdits(plan, [...edits]), sw.id)
          // Guards and words of a socket follow from what it leads to.
          expect(
            differencesOf(after, runs).filter((d) => /(un)?tagged$/.test(d.path.at(-1)!)),
          ).toEqual([])
        },
      ),
      { numRuns: 15 },
    ))
  it('takes only the lines that are asked for', () => {
    const { runs } = changed(
      gateway.id,
      editCall('changeSegment', { id: segment.id, changes: { leaseSeconds: 5000 } }),
      editCall('changeUplink', { id: uplink.id, changes: { weight: 7 } }),
    )
    const lines = differencesOf(wants(plan, gateway.id), runs)
    const lease = lines.find((d) => d.path.at(-1) === 'leaseSeconds')!
    const { edits } = takeTheirs(plan, gateway.id, runs, secrets, [lease.path])
    const left = differencesOf(wants(applyEdits(plan, [...edits]), gateway.id), runs)
    expect(left).toHaveLength(lines.length - 1)
    expect(left.map((d) => d.path)).not.toContainEqual(lease.path)
  })
  it('says of what the plan has no fact for where it is changed', () => {
    const now = wants(plan, sw.id)
    const says = (runs: Configuration): string[] => takeAll(sw.id, runs).refused.map((r) => r.says)
    const port = (change: object): Configuration =>
      ({
        ...now,
        ports: now.ports.map((p, i) => (i === 0 ? { ...p, ...change } : p)),
      }) as Configuration
    expect(says(port({ untagged: 3777 }))).toEqual([
      'VLAN 3777 is no segment of the plan; add it in Addresses first',
    ])
    expect(says(port({ description: 'to the moon' }))).toEqual([
      'it follows from what is cabled there; change that in Wiring',
    ])
    expect(says({ ...now, controllerUrl: 'http://192.0.2.1:1' })).toEqual([
      'it follows from other facts of the plan',
    ])
  })
  it('a key is never brought over', () => {
    const now = wants(plan, ap.id)
    if (now.kind !== 'access-point') throw new Error('no access point')
    const runs = {
      ...now,
      networks: now.networks.map((n) => (n.key ? { ...n, key: 'typed in at the device' } : n)),
    }
    const { edits, refused } = takeAll(ap.id, runs)
    expect(edits).toEqual([])
    expect(refused.every((r) => r.says.startsWith('a key or a password'))).toBe(true)
    expect(JSON.stringify(refused)).not.toContain('typed in at the device')
  })
  it('a line that the plan has changed meanwhile is left alone', () => {
    const { runs } = changed(sw.id)
    expect(takeTheirs(plan, sw.id, runs, secrets, [['name']])).toEqual({ edits: [], refused: [] })
  })
})
