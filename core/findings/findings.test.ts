import { describe, expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { petrelStreet } from '../../demo/petrelStreet'
import { applyEdits, type EditCall, type SitePlan } from '../plan'
import { findingsOf, marksOf, rules, type Finding } from '.'

const edit = (name: string, args: unknown): EditCall => ({ name, args })
const only = (findings: Finding[], catchNumber: string): Finding[] => findings.filter((f) => f.catches.includes(catchNumber))
const addressing = (mode: string, segmentId: string, address: string, gateway: string | null): object => ({ addressing: { mode, segmentId, address, gateway } })

/** The harbour with every fix pressed. */
export function clean(): SitePlan {
  let plan = kittiwakeHarbour()
  for (let f = findingsOf(plan)[0]; f; f = findingsOf(plan)[0]) plan = applyEdits(plan, f.fixes![0]!.edits)
  return plan
}

it('the demo has its honest mistakes, and their buttons mend them all', () => {
  expect(findingsOf(kittiwakeHarbour()).map((f) => f.catches[0])).toEqual(['C-10', 'C-14', 'C-16', 'C-18', 'C-34', 'C-49'])
  expect(findingsOf(clean())).toEqual([])
  expect(marksOf(findingsOf(kittiwakeHarbour())).wiring).toEqual({ blockers: 3, cautions: 0 })
})

/** Each rule: how to break a clean plan, which subject is named, what the text says, and that each fix mends it. */
const cases: [catchNumber: string, EditCall[], subject: string, text: RegExp][] = [
  ['C-02', [edit('recordHandOff', { uplinkId: 'fibre', facts: { providerLan: '10.20.0.0/16' } })], 'management', /Management 10\.20\.10\.0\/24 overlaps 10\.20\.0\.0\/16, the LAN of the provider/],
  ['C-07', [edit('changeSegment', { id: 'cameras', changes: { subnet: '10.20.20.128/25', gateway: '10.20.20.129', pool: null } })], 'cameras', /Office 10\.20\.20\.0\/24 and Cameras 10\.20\.20\.128\/25 overlap/],
  ['C-08', [edit('setAddressSpace', { addressSpace: ['172.0.0.0/16'] }), edit('allocateSegments', { segmentIds: ['cameras'] }), edit('setAddressSpace', { addressSpace: ['10.20.0.0/16'] })], 'cameras', /Cameras 172\.0\.40\.0\/24 is public address space .*Private space under 172 runs from 172\.16/],
  ['C-08', [edit('setAddressSpace', { addressSpace: ['172.0.0.0/16'] })], 'site', /address space 172\.0\.0\.0\/16 is public/],
  ['C-09', [edit('setGateway', { segmentId: 'cameras', gateway: '255.255.255.0' })], 'cameras', /The gateway 255\.255\.255\.0 of Cameras is a mask/],
  ['C-09', [edit('setGateway', { segmentId: 'cameras', gateway: '10.20.41.1' })], 'cameras', /lies outside the subnet/],
  ['C-09', [edit('setGateway', { segmentId: 'cameras', gateway: '10.20.40.255' })], 'cameras', /is the broadcast address/],
  ['C-09', [edit('changeDevice', { id: 'printer', changes: addressing('fixed', 'office-net', '10.20.20.0', '10.20.20.1') })], 'printer', /10\.20\.20\.0 of Office printer is the network address/],
  ['C-09', [edit('changeDevice', { id: 'printer', changes: addressing('fixed', 'office-net', '10.20.20.1', '10.20.20.2') })], 'printer', /address and gateway look exchanged/],
  ['C-09', [edit('changeDevice', { id: 'printer', changes: addressing('fixed', 'office-net', '10.20.20.2', '255.255.255.0') })], 'printer', /sends to the gateway 255\.255\.255\.0/],
  ['C-10', [edit('setPool', { segmentId: 'cameras', first: '10.20.40.1', last: '10.20.40.99' })], 'cameras', /covers 10\.20\.40\.1 of the gateway/],
  ['C-10', [edit('setPool', { segmentId: 'cameras', first: '10.20.40.200', last: '10.20.41.20' })], 'cameras', /reaches outside what hosts may have/],
  ['C-10', [edit('setPool', { segmentId: 'cameras', first: '10.20.40.99', last: '10.20.40.50' })], 'cameras', /ends before it starts/],
  ['C-12', [edit('changeSegment', { id: 'cameras', changes: { vlanId: 20 } })], 'office-net', /Cameras and Office both have VLAN 20/],
  ['C-12', [edit('changeDevice', { id: 'quay-ap', changes: { serial: 'AM-SWI-48274' } })], 'switch', /have the same serial, AM-SWI-48274/],
  ['C-12', [edit('changeDevice', { id: 'quay-ap', changes: { hardwareAddress: '02:4b:48:00:00:20' } })], 'switch', /have the same hardware address/],
  ['C-12', [edit('changeDevice', { id: 'quay-camera', changes: { name: 'Gate camera' } })], 'gate-camera', /have the same name/],
  ['C-12', [edit('changeDevice', { id: 'quay-ap', changes: addressing('reserved', 'management', '10.20.10.2', null) })], 'controller', /have the same address, 10\.20\.10\.2/],
  ['C-14', [edit('removeTag', { segmentId: 'cameras', portIds: ['gateway.1'] })], 'gateway.1', /VLAN 40 Cameras stops at Harbour gateway port 1 \(not sent\) and is needed by/],
  ['C-14', [edit('removeTag', { segmentId: 'visitors', portIds: ['quay-ap.eth0'] })], 'quay-ap.eth0', /stops at Quay AP port eth0 \(not received\)/],
  ['C-14', [edit('setUntagged', { segmentId: 'cameras', portIds: ['switch.4'] })], 'switch.4', /VLAN 20 Office stops at Cupboard switch port 4 \(not sent\) and is needed by Harbour office desk/],
  ['C-16', [edit('setUntagged', { segmentId: 'visitors', portIds: ['gateway.2'] })], 'kiosk-switch', /every socket carries what Harbour gateway port 2 sends untagged, VLAN 90 Visitors; Fuel berth till should be in VLAN 20 Office/],
  ['C-18', [edit('changeDevice', { id: 'gate-camera', changes: { power: 'poe' } })], 'switch', /has 65 W to give; its 4 powered devices reserve 76\.2 W, 11\.2 W too much/],
  ['C-18', [edit('removeLink', { id: 'l-ap' }), edit('removeLink', { id: 'l-kiosk' }), edit('addLink', { id: 'l-ap', a: 'gateway.2', b: 'quay-ap.eth0', medium: 'copper', lengthM: 9 })], 'quay-ap', /Quay AP is to be powered by its cable but hangs on Harbour gateway port 2, which feeds no power/],
  ['C-34', [edit('stateIntent', { id: 'oops', from: 'visitors', to: 'management', services: ['svc-web'], action: 'allow' })], 'visitor-wifi', /isolates its clients from each other, and lets them through to Management/],
  ['C-49', [edit('changeSite', { preferences: { betweenSegments: 'allow' } })], 'cameras', /Cameras reaches Management, Office because the site leaves open/],
]

describe('rules', () => {
  it.each(cases)('%s is found with its numbers', (catchNumber, calls, subject, text) => {
    const found = only(findingsOf(applyEdits(clean(), calls)), catchNumber)
    expect(found.map((f) => f.text).join('\n')).toMatch(text)
    expect(found.some((f) => f.subjects.includes(subject))).toBe(true)
    for (const f of found) expect(f.why.length).toBeGreaterThan(10)
  })
  it.each(cases.filter(([c, calls]) => !(c === 'C-18' && calls.length > 1)))('%s is mended by each of its fixes', (catchNumber, calls) => {
    const broken = applyEdits(clean(), calls)
    for (const finding of only(findingsOf(broken), catchNumber)) {
      expect(finding.fixes?.length, finding.text).toBeGreaterThan(0)
      for (const fix of finding.fixes!) expect(findingsOf(applyEdits(broken, fix.edits)).some((f) => f.id === finding.id), `${finding.text} => ${fix.label}`).toBe(false)
    }
  })
  it('finds the overlap of the shop with its provider\'s router', () => {
    const [found] = only(findingsOf(petrelStreet()), 'C-02')
    expect(found).toMatchObject({ severity: 'blocker', numbers: [{ label: 'ours', value: '192.168.1.0/24' }, { label: 'the provider\'s', value: '192.168.1.0/24' }] })
    expect(only(findingsOf(applyEdits(petrelStreet(), found!.fixes![0]!.edits)), 'C-02')).toEqual([])
  })
  it('warns of a factory subnet that will be met, without blocking', () => {
    const plan = applyEdits(clean(), [edit('changeSegment', { id: 'cameras', changes: { subnet: '192.168.2.0/24', gateway: '192.168.2.1', pool: null, fixedBlock: null } })])
    expect(only(findingsOf(plan), 'C-07')).toMatchObject([{ severity: 'caution', text: expect.stringMatching(/192\.168\.2\.0\/24, on which Cupboard switch, Quay AP come from the factory/) }])
  })
  it('stated single services from a restricted segment are a decision, not an accident', () => {
    const plan = applyEdits(clean(), [edit('stateIntent', { id: 'ok', from: 'cameras', to: 'office-net', services: ['svc-files'], action: 'allow' })])
    expect(only(findingsOf(plan), 'C-49')).toEqual([])
  })
  it('a plain switch that is asked for two segments offers each, and says that the others must move', () => {
    const plan = applyEdits(clean(), [
      edit('addDevice', { id: 'berth-screen', name: 'Berth screen', profileId: 'wired-host', ...addressing('automatic', 'visitors', '10.20.90.9', null) }),
      edit('addLink', { id: 'l-screen', a: 'kiosk-switch.3', b: 'berth-screen.eth0', medium: 'copper', lengthM: 2 }),
    ])
    const [found] = only(findingsOf(plan), 'C-16')
    expect(found!.fixes!.map((f) => f.label)).toContain('Give the whole switch to VLAN 90 Visitors (the others must move)')
  })
  it('have ids, sheets and titles of their own', () => {
    expect(new Set(rules.map((r) => r.id)).size).toBe(rules.length)
    expect(rules.flatMap((r) => r.catches).sort()).toEqual(['C-02', 'C-07', 'C-08', 'C-09', 'C-10', 'C-12', 'C-14', 'C-16', 'C-18', 'C-34', 'C-49'])
  })
})
