import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { quayside } from '../../tests/sites/quayside'
import { applyEdits, createPlan, unknownHandOff } from '../plan'
import { siteModel } from '../topology'
import { gateFacts, mayUnplug } from '../survey'
import { formatDuration, inOrder, laptopAddressFor, runSheetOf, scheduleOf, type Step } from '.'

const step = (id: string, needs: string[], workSeconds: number, waitSeconds: number): Step =>
  ({ id, title: id, deviceId: null, needs, workSeconds, waitSeconds, words: [], safety: null, whileWaiting: null, action: null, follows: null, blockedBy: null, ifExceeded: null })

describe('the gate', () => {
  const uplink = { id: 'u', name: 'Line', rank: 0, portId: null, handOff: unknownHandOff }
  it('is shut while a fact is unknown, and says where to find it', () => {
    expect(mayUnplug(uplink)).toBe(false)
    for (const f of gateFacts(uplink)) expect(f.where.length).toBeGreaterThan(5)
  })
  it('asks for our address only where it is fixed, for a priority only where there is a tag', () => {
    const keys = (h: object): string[] => gateFacts({ ...uplink, handOff: { ...unknownHandOff, ...h } }).map((f) => f.key)
    expect(keys({ mode: 'fixed' })).toContain('address')
    expect(keys({ mode: 'automatic' })).not.toContain('address')
    expect(keys({ vlan: 'untagged' })).not.toContain('priority')
    expect(keys({ vlan: 35 })).toContain('priority')
  })
  it('opens for the harbour', () => expect(mayUnplug(quayside().uplinks.fibre!)).toBe(true))
})

describe('the run sheet', () => {
  const steps = runSheetOf(siteModel(quayside()))
  const at = (id: string): number => steps.findIndex((s) => s.id === id)

  it('puts each step after all that it needs', () => steps.forEach((s, i) => s.needs.forEach((n) => expect(at(n), `${s.id} needs ${n}`).toBeLessThan(i))))
  it.each([
    ['record-hand-off', 'unplug-old'], ['gateway.laptop', 'gateway.password'], ['gateway.password', 'gateway.firmware'], ['gateway.firmware', 'gateway.configure'], ['quay-ap.firmware', 'laptop-automatic'],
    ['laptop-automatic', 'unplug-old'], ['unplug-old', 'plug-line'], ['gateway.claim', 'gateway.verify'], ['gateway.verify', 'gateway.backup'], ['switch.verify', 'quay-ap.cable'], ['quay-ap.verify', 'hosts-on'], ['hosts-on', 'prove'],
    ['switch.cable', 'gateway.claim'], // the controller hangs on the switch, so nobody can call it before
  ])('%s comes before %s', (a, b) => expect(at(a)).toBeLessThan(at(b)))
  it('gives the laptop an address of the device\'s factory subnet that is not the device\'s own', () => {
    expect(laptopAddressFor('192.168.1.1/24')).toBe('192.168.1.10/24')
    expect(laptopAddressFor('192.168.1.10/24')).toBe('192.168.1.11/24')
    expect(steps.find((s) => s.id === 'gateway.laptop')!.words[0]).toEqual({ label: 'Laptop address', text: '192.168.1.10/24' })
    expect(steps.find((s) => s.id === 'switch.laptop')!.words[0]!.text).toBe('192.168.2.10/24')
  })
  it('carries cautions where somebody could be hurt', () => {
    expect(steps.find((s) => s.id === 'quay-ap.cable')!.safety).toMatch(/Work at height: never alone/)
    for (const s of steps.filter((x) => /bench-power$/.test(x.id))) expect(s.safety).toMatch(/Mains/)
  })
  it('warns not to cut power while firmware is written', () => { for (const s of steps.filter((x) => x.id.endsWith('.firmware'))) expect(s.whileWaiting).toMatch(/do not cut the power/) })
  it('is blocked where a serial or a fact is missing', () => {
    const plan = applyEdits(quayside(), [{ name: 'changeDevice', args: { id: 'switch', changes: { serial: null } } }, { name: 'recordHandOff', args: { uplinkId: 'fibre', facts: { mtu: null } } }])
    const sheet = runSheetOf(siteModel(plan))
    expect(sheet.find((s) => s.id === 'read-labels')!.blockedBy).toMatch(/Cupboard switch/)
    expect(sheet.find((s) => s.id === 'record-hand-off')!.blockedBy).toMatch(/before anything is unplugged/)
  })
  it('is empty for an empty site', () => expect(runSheetOf(siteModel(createPlan('x')))).toEqual([]))
  it('never goes in a circle unnoticed', () => expect(() => inOrder([step('a', ['b'], 1, 0), step('b', ['a'], 1, 0)])).toThrow(/circle among a, b/))
})

describe('the schedule', () => {
  it('lets waits pass while hands work elsewhere', () => {
    const s = scheduleOf([step('cook', [], 60, 600), step('lay', [], 300, 0), step('eat', ['cook', 'lay'], 60, 0)])
    expect(s).toMatchObject({ totalSeconds: 720, workSeconds: 420, criticalSeconds: 720 })
    expect(s.steps.filter((x) => x.critical).map((x) => x.stepId)).toEqual(['cook', 'eat'])
  })
  it('two people are never slower than one, nobody does two things at once, nothing starts before what it needs', () => {
    const graph = fc.array(fc.tuple(fc.nat(100), fc.nat(200), fc.array(fc.nat(20), { maxLength: 3 })), { minLength: 1, maxLength: 15 })
      .map((list) => list.map(([work, wait, needs], i) => step(`s${i}`, [...new Set(needs.filter((n) => n < i).map((n) => `s${n}`))], work + 1, wait)))
    fc.assert(fc.property(graph, fc.integer({ min: 1, max: 3 }), (steps, people) => {
      const s = scheduleOf(steps, people)
      const by = new Map(s.steps.map((x) => [x.stepId, x]))
      expect(s.totalSeconds).toBeGreaterThanOrEqual(s.criticalSeconds)
      for (const x of steps) for (const n of x.needs) expect(by.get(x.id)!.startSeconds).toBeGreaterThanOrEqual(by.get(n)!.endSeconds)
      for (const a of s.steps) for (const b of s.steps) if (a !== b && a.person === b.person) expect(a.handsFreeSeconds <= b.startSeconds || b.handsFreeSeconds <= a.startSeconds).toBe(true)
    }))
    const sheet = runSheetOf(siteModel(dunlinSlipway()))
    expect(scheduleOf(sheet, 2).totalSeconds).toBeLessThanOrEqual(scheduleOf(sheet, 1).totalSeconds)
  })
  it.each([[30, '30 s'], [60, '1 min'], [3600, '1 h 0 min'], [5400, '1 h 30 min']])('%d s reads %s', (s, text) => expect(formatDuration(s)).toBe(text))
})
