import { describe, expect, it } from 'vitest'
import { dunlinSlipway } from '../../../demo/dunlinSlipway'
import { kittiwakeHarbour } from '../../../demo/kittiwakeHarbour'
import { applyEdits, editCall, type EditCall } from '../../plan'
import { siteModel } from '../../topology'
import { waysOf } from './ways'

const plan = dunlinSlipway()
const ways = (deviceId: string, ...edits: EditCall[]) =>
  waysOf(siteModel(applyEdits(plan, edits)), deviceId)
const working = (deviceId: string, ...edits: EditCall[]): string[] =>
  ways(deviceId, ...edits).ways.flatMap((w) => (w.works ? [w.kind] : []))
const because = (deviceId: string, kind: string, ...edits: EditCall[]): string =>
  ways(deviceId, ...edits).ways.find((w) => w.kind === kind)!.because
const feed = 'switch.2'
const [management, visitors] = ['management', 'visitors'].map((n) =>
  Object.values(plan.segments).find((s) => s.purpose === n || s.name.toLowerCase() === n)!,
) as [(typeof plan.segments)[string], (typeof plan.segments)[string]]
const into = (segmentId: string | null) => editCall('setUntagged', { segmentId, portIds: [feed] })

describe('ways to the controller', () => {
  it('all lead there from where devices wake up in its own segment', () => {
    expect(ways('hut-ap').from!.id).toBe(management.id)
    expect(working('hut-ap')).toEqual([
      'same-segment',
      'typed',
      'dhcp-option',
      'dns-name',
      'meeting-point',
    ])
    expect(ways('hut-ap').url).toMatch(/^http:\/\/[\d.]+:8043$/)
  })
  it('by a lease only where the plan has leases tell it', () =>
    expect(working('hut-ap', editCall('setController', { discovery: 'dns-name' }))).not.toContain(
      'dhcp-option',
    ))
  it('by a name only where the gateway is asked for names', () => {
    const asks = editCall('changeSegment', {
      id: management.id,
      changes: { options: { ...management.options, nameServers: ['192.0.2.53'] } },
    })
    expect(working('hut-ap', asks)).not.toContain('dns-name')
    expect(because('hut-ap', 'dns-name', asks)).toMatch(/192\.0\.2\.53, who does not know/)
  })
  it('none from where visitors are, and it says which rule keeps it', () => {
    expect(working('hut-ap', into(visitors.id))).toEqual([])
    expect(because('hut-ap', 'same-segment', into(visitors.id))).toMatch(/^it wakes up in/)
    expect(because('hut-ap', 'typed', into(visitors.id))).toBe(
      because('hut-ap', 'dhcp-option', into(visitors.id)),
    )
  })
  it('none where nothing arrives without a tag, or nobody hands out leases', () => {
    expect(working('hut-ap', into(null))).toEqual([])
    expect(because('hut-ap', 'typed', into(null))).toMatch(/nothing arrives without a tag/)
    const off = editCall('changeSegment', {
      id: management.id,
      changes: { dhcp: { mode: 'off', relayTo: null } },
    })
    expect(because('hut-ap', 'typed', off)).toMatch(/^nobody hands out leases/)
  })
  it('not over the internet with an address typed in', () => {
    const typed = editCall('changeDevice', {
      id: 'hut-ap',
      changes: { addressing: { ...plan.devices['hut-ap']!.addressing, mode: 'fixed' } },
    })
    expect(working('hut-ap', typed)).not.toContain('meeting-point')
  })
  it('none without a controller', () =>
    expect(working('hut-ap', editCall('setController', { hostDeviceId: null }))).toEqual([]))
  it('lead from every device of the harbour, also once it speaks from its own segment', () => {
    const model = siteModel(kittiwakeHarbour())
    for (const d of model.devices.filter((x) => model.profileOf(x.id).adoptable)) {
      const { ways: all, then } = waysOf(model, d.id)
      const isCabled = model.portsOf(d.id).some((p) => model.peerOf(p.id))
      if (isCabled)
        expect(`${d.name} ${all.some((w) => w.works)} ${then?.works}`).toMatch(
          / true (true|undefined)$/,
        )
    }
  })
})
