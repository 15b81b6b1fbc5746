import { describe, expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../../demo/kittiwakeHarbour'
import { quayside } from '../../../tests/sites/quayside'
import { applyEdits, schools, setUpWays, type Device, type SitePlan } from '../../plan'
import { siteModel } from '../../topology'
import { runSheetOf } from '../runSheet'
import type { Step } from '../step'
import { chooseSchool, schoolCosts } from './costs'
import { reachOf } from './reach'
import { setUpOf, whyNotPrepared } from './school'
import { slipOf } from './slip'

const chosen = (
  plan: SitePlan,
  ids: readonly string[],
  changes: Parameters<typeof chooseSchool>[1],
): SitePlan =>
  applyEdits(
    plan,
    chooseSchool(
      ids.map((id) => plan.devices[id]!),
      changes,
    ),
  )
const sheetOf = (plan: SitePlan): readonly Step[] => runSheetOf(siteModel(plan))
const kinds = (plan: SitePlan, id: string): string[] =>
  sheetOf(plan)
    .filter((s) => s.deviceId === id)
    .map((s) => s.kind)

describe('the schools', () => {
  it('leave the day as it was where nobody chose', () =>
    expect(
      sheetOf(chosen(quayside(), ['switch', 'quay-ap'], { school: 'mixed', setUpAt: 'bench' })),
    ).toEqual(sheetOf(quayside())))
  it('prepared: nothing on the bench, the label, the cable and a slip for whoever plugs it in', () => {
    const plan = chosen(quayside(), ['quay-ap'], { school: 'prepared' })
    expect(kinds(plan, 'quay-ap')).toEqual(['cable', 'claim', 'verify', 'backup'])
    const cable = sheetOf(plan).find((s) => s.id === 'quay-ap.cable')!
    expect(cable.words.map((w) => w.label)).toEqual(['port eth0', 'Its lamp', 'Then', 'Never'])
    expect(
      sheetOf(plan)
        .find((s) => s.id === 'read-labels')!
        .words.map((w) => w.label),
    ).toContain('Quay AP')
  })
  it('own page: it is told everything there, then claimed', () => {
    const plan = chosen(quayside(), ['switch'], { school: 'own-page' })
    expect(kinds(plan, 'switch')).toEqual(
      expect.arrayContaining(['laptop', 'password', 'firmware', 'configure', 'cable', 'claim']),
    )
    const set = sheetOf(plan).find((s) => s.id === 'switch.configure')!
    expect(set.title).toBe('Set Cupboard switch by its own page: address, role, controller')
    expect(set.words.map((w) => w.label)).toEqual([
      'Controller address',
      'Own address',
      'Role',
      'File',
      'Then',
    ])
  })
  it('in place: mounted first, where it hangs, with the cautions of its height', () => {
    const plan = chosen(quayside(), ['quay-ap'], { setUpAt: 'place' })
    const steps = sheetOf(plan).filter((s) => s.deviceId === 'quay-ap')
    const at = plan.devices['quay-ap']!.locationId
    expect(steps[0]).toMatchObject({ kind: 'bench-power', locationId: at })
    expect(steps[0]!.title).toMatch(/^Mount Quay AP in /)
    expect(steps[0]!.safety).toMatch(/Work at height/)
    expect(steps.filter((s) => s.kind === 'laptop').every((s) => s.locationId === at)).toBe(true)
    expect(steps.find((s) => s.kind === 'cable')).toMatchObject({
      title: 'Plug the uplink of Quay AP in, and nothing else',
    })
  })
  it('mix on one day, each device after what it needs', () => {
    let plan = kittiwakeHarbour()
    const ids = Object.keys(plan.devices)
    ids.forEach((id, i) => {
      plan = chosen(plan, [id], {
        school: schools[i % 3]!,
        setUpAt: i % 2 ? 'place' : 'bench',
        setUpBy: setUpWays[i % 5]!,
      })
    })
    const steps = sheetOf(plan)
    const at = new Map(steps.map((s, i) => [s.id, i]))
    for (const s of steps) for (const n of s.needs) expect(at.get(n)).toBeLessThan(at.get(s.id)!)
    const model = siteModel(plan)
    for (const d of model.devices) {
      const { school, by } = setUpOf(model, d)
      expect(model.profileOf(d.id).setUp.ways).toContain(by)
      if (school === 'prepared') expect(kinds(plan, d.id)).not.toContain('laptop')
    }
  })
})

describe('what cannot have everything prepared', () => {
  const why = (id: string, changes: Partial<Device> = {}, plan = quayside()): string | null => {
    const now = applyEdits(plan, [{ name: 'changeDevice', args: { id, changes } }])
    return whyNotPrepared(siteModel(now), now.devices[id]!)
  }
  it.each([
    ['gateway', {}, /behind it/],
    ['quay-ap', { firmware: '1.2.0' }, /firmware 1\.2\.0 is older than/],
    [
      'switch',
      {
        addressing: {
          mode: 'fixed' as const,
          segmentId: 'management',
          address: '10.20.10.9',
          gateway: null,
        },
      },
      /typed in/,
    ],
    ['controller', {}, /no controller adopts/],
  ])('%s %j: %s', (id, changes, text) => expect(why(id, changes)).toMatch(text))
  it('where there is no controller nobody has', () => {
    const alone = applyEdits(quayside(), [{ name: 'setController', args: { hostDeviceId: null } }])
    expect(why('switch', {}, alone)).toBe('the plan has no controller')
    expect(why('switch')).toBeNull()
  })
})

describe('what a school costs', () => {
  it('is what the run sheet made anew says, and prepared takes the laptop off the day', () => {
    const plan = quayside()
    const { costs, refused } = schoolCosts(plan, ['switch', 'quay-ap', 'gateway'], 1)
    expect(refused.map((r) => r.deviceId)).toEqual(['gateway'])
    expect(costs.filter((c) => c.isNow).map((c) => [c.school, c.at])).toEqual([['mixed', 'bench']])
    const of = (school: string, at: string): (typeof costs)[number] =>
      costs.find((c) => c.school === school && c.at === at)!
    expect(of('prepared', 'place').laptopSeconds).toBeLessThan(of('mixed', 'bench').laptopSeconds)
    expect(of('own-page', 'bench').laptopSeconds).toBeGreaterThan(
      of('mixed', 'bench').laptopSeconds,
    )
    expect(of('prepared', 'place').workSeconds).toBeLessThan(of('mixed', 'bench').workSeconds)
    for (const c of costs) {
      const steps = sheetOf(
        chosen(plan, ['switch', 'quay-ap', 'gateway'], { school: c.school, setUpAt: c.at }),
      )
      expect(c.workSeconds).toBe(steps.reduce((t, s) => t + s.workSeconds, 0))
    }
  })
  it('of what no controller adopts is by its own page alone', () =>
    expect(
      new Set(schoolCosts(kittiwakeHarbour(), ['slipway-extender'], 1).costs.map((c) => c.school)),
    ).toEqual(new Set(['own-page'])))
  it('is not offered where none can have it', () =>
    expect(schoolCosts(quayside(), ['gateway'], 1).costs.map((c) => c.school)).not.toContain(
      'prepared',
    ))
})

describe('ways to a new device', () => {
  const model = siteModel(kittiwakeHarbour())
  const device = model.device('slipway-extender')
  it('by radio everything is fetched before, and by cable nothing has to be', () => {
    const plan = chosen(kittiwakeHarbour(), ['slipway-extender'], { setUpBy: 'set-up-radio' })
    const fetch = sheetOf(plan).find((s) => s.kind === 'fetch')!
    expect(fetch.words[0]!.text).toMatch(/Slipway extender/)
    expect(sheetOf(plan).find((s) => s.id === 'read-labels')!.needs).toContain('fetch')
    expect(sheetOf(kittiwakeHarbour()).some((s) => s.kind === 'fetch')).toBe(false)
  })
  it('each say whom to speak to and what to look at when nobody answers', () => {
    const said = setUpWays.map((by) => reachOf(model, device, by, '192.168.7.1'))
    expect(new Set(said.map((r) => r.title)).size).toBe(setUpWays.length)
    for (const r of said) {
      expect(r.words.length).toBeGreaterThan(2)
      expect(r.ifExceeded).not.toBe('')
    }
  })
})

it('a slip names the sockets of the plan and what not to do', () => {
  const model = siteModel(quayside())
  const { lines } = slipOf(model, model.device('gateway'))
  expect(lines.some((l) => l.startsWith('Harbour fibre into its socket wan1'))).toBe(true)
  expect(lines.at(-1)).toMatch(/^Never: pull its power/)
  const ap = slipOf(model, model.device('quay-ap')).lines
  expect(ap).toContain('No power lead: the cable feeds it.')
  expect(ap.some((l) => /from its socket eth0 to Cupboard switch/.test(l))).toBe(true)
})
