import { describe, expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { quayside } from '../../tests/sites/quayside'
import { editCall as edit, applyEdits, createPlan, parsePlan, type SitePlan } from '../plan'
import { siteModel } from '../topology'
import {
  billOfMaterials,
  energyOf,
  fitsShape,
  isMadeUp,
  kwhAYear,
  licencesOf,
  matchSightings,
  presetFrom,
  serialComplaint,
  gateFacts,
  mayUnplug,
} from '.'

const one = (profileId: string, more: object = {}): SitePlan =>
  applyEdits(createPlan('x'), [
    edit('addLocation', { id: 'room', name: 'Room' }),
    edit('addDevice', { id: 'it', name: 'It', profileId, locationId: 'room', ...more }),
  ])

describe('the gate, by kind of line', () => {
  const asked = (facts: object): string[] =>
    gateFacts({
      ...quayside().uplinks.fibre!,
      handOff: { ...quayside().uplinks.fibre!.handOff, ...facts },
    }).map((f) => f.key)
  it(
    'asks a PPPoE line for its account and password, a cellular one for its access point name ' +
      'and its cap, and neither for what it has not',
    () => {
      expect(asked({ mode: 'pppoe' })).toEqual(
        expect.arrayContaining([
          'pppoeUser',
          'passwordRef',
          'vlan',
          'priority',
          'mtu',
          'forcedSpeedMbps',
        ]),
      )
      expect(asked({ mode: 'cellular' })).toEqual([
        'mode',
        'accessPointName',
        'addressKind',
        'providerLan',
        'cap',
      ])
      expect(asked({ mode: 'automatic' })).not.toContain('pppoeUser')
      expect(asked({ mode: 'fixed' })).toEqual(
        expect.arrayContaining(['address', 'gateway', 'nameServers']),
      )
    },
  )
  it('opens for both lines of the harbour, and shuts when one fact goes', () => {
    const plan = kittiwakeHarbour()
    for (const u of Object.values(plan.uplinks)) expect(mayUnplug(u)).toBe(true)
    for (const fact of gateFacts(plan.uplinks.fibre!))
      expect(
        mayUnplug({
          ...plan.uplinks.fibre!,
          handOff: { ...plan.uplinks.fibre!.handOff, [fact.key]: null },
        }),
        fact.key,
      ).toBe(false)
  })
})

describe('electricity', () => {
  it('0.1 kWh in 44 h is 2.3 W, and that is 20 kWh a year (common practice)', () => {
    expect(100 / 44).toBeCloseTo(2.3, 1)
    expect(kwhAYear(100 / 44)).toBeCloseTo(20, 0)
    // At 0.11 a kWh about two a year.
    const plan = applyEdits(one('switch-5-plain'), [
      edit('changeSite', { electricity: { pricePerKwh: 0.11, currency: 'GBP' } }),
    ])
    expect(energyOf(siteModel(plan)).costAYear).toBeCloseTo((3 * 8766 * 0.11) / 1000, 9)
  })
  it(
    'counts what goes over a cable with its loss, leaves out batteries and pockets, and gives ' +
      'no cost without a price',
    () => {
      const plan = kittiwakeHarbour()
      const energy = energyOf(siteModel(plan))
      const of = (id: string) => energy.lines.find((l) => l.deviceId === id)
      expect(of('quay-ap')).toMatchObject({ via: 'cable' })
      // IEEE 802.3: class 4 has 30 W at the source for 25.5 W at the device.
      expect(of('quay-ap')!.drawW).toBeCloseTo((19 * 30) / 25.5, 9)
      expect([of('light-bridge-rock'), of('visitor-phone')]).toEqual([undefined, undefined])
      expect(energy.totalW).toBeCloseTo(
        energy.lines.reduce((n, l) => n + l.drawW, 0),
        9,
      )
      expect(energyOf(siteModel(one('wired-host'))).costAYear).toBeNull()
    },
  )
})

describe('what to bring', () => {
  const lines = billOfMaterials(siteModel(kittiwakeHarbour()))
  const line = (what: string) => lines.find((l) => l.what === what)
  it('counts equipment by kind, and not what stays', () => {
    expect(line('Outdoor AP 2x2')).toMatchObject({
      count: 4,
      runs: ['Ice House AP', 'Pontoon A AP', 'Pontoon C AP', 'Quay AP'],
    })
    expect(
      billOfMaterials(siteModel(one('switch-5-plain', { stays: true }))).some(
        (l) => l.group === 'equipment',
      ),
    ).toBe(false)
  })
  it('runs have their slack, long and outdoor ones come off the drum with two plugs, and air needs no cable', () => {
    const plan = applyEdits(kittiwakeHarbour(), [
      edit('changeSite', { cabling: { slackPercent: 20, spareLeads: 5 } }),
    ])
    const with20 = billOfMaterials(siteModel(plan))
    const off = (ls: typeof lines): number =>
      ls.filter((l) => l.what.includes('off the drum')).reduce((n, l) => n + l.lengthM!, 0)
    const run = (slackPercent: number): number =>
      off(
        billOfMaterials(
          siteModel(
            applyEdits(one('wired-host'), [
              edit('addDevice', { id: 'sw', name: 'Sw', profileId: 'switch-5-plain' }),
              edit('addLink', { id: 'l', a: 'it.eth0', b: 'sw.1', medium: 'copper', lengthM: 50 }),
              edit('changeSite', { cabling: { slackPercent, spareLeads: 0 } }),
            ]),
          ),
        ),
      )
    expect([run(0), run(10), run(20)]).toEqual([50, 55, 60])
    expect(
      with20.find((l) => l.runs.includes('spare'))!.count - line('Copper lead 2 m')!.count,
    ).toBe(5 - 2)
    const runs = lines.filter((l) => l.what.includes('off the drum')).flatMap((l) => l.runs)
    expect(lines.filter((l) => l.group === 'connector').reduce((n, l) => n + l.count, 0)).toBe(
      2 * runs.length,
    )
    expect(lines.flatMap((l) => l.runs).some((r) => r.includes('port air'))).toBe(false)
    expect(line('Drum 305 m copper')!.count).toBe(Math.ceil(off(lines) / 305))
  })
  it('brings an injector for each device that wants one, optics for fibre, clamps for poles', () => {
    expect(line('Power injector 30 W')!.runs).toEqual(
      expect.arrayContaining(['Workshop AP', 'Berth bridge, kiosk end']),
    )
    expect(line('Pole clamps, pair')!.count).toBe(line('Pole bracket')!.count)
    const fibre = applyEdits(kittiwakeHarbour(), [
      edit('changeLink', {
        id: 'l-workshop',
        changes: { a: 'switch.sfp1', b: 'workshop-switch.sfp1', medium: 'fibre' },
      }),
    ])
    expect(
      billOfMaterials(siteModel(fibre)).find((l) => l.what === 'Optic 10 Gbit/s'),
    ).toMatchObject({ count: 2 })
  })
})

describe('licences', () => {
  it('says what is needed by what, and what is missing first', () => {
    const [first] = licencesOf(siteModel(kittiwakeHarbour()))
    expect(first).toMatchObject({
      held: false,
      neededBy: ['Cellular standby'],
      licence: { id: 'second-line' },
    })
    expect(
      licencesOf(siteModel(kittiwakeHarbour())).find((l) => l.licence.id === 'sim'),
    ).toMatchObject({ held: true, neededBy: ['Cellular standby'] })
  })
})

describe('a site from another one', () => {
  it('has everything but what belongs to the place', () => {
    const from = kittiwakeHarbour()
    const made = presetFrom(from, 'Sandpiper Quay', ['10.40.0.0/16'])
    expect(parsePlan(JSON.parse(JSON.stringify(made))).ok).toBe(true)
    expect(made.site).toMatchObject({
      name: 'Sandpiper Quay',
      addressSpace: ['10.40.0.0/16'],
      addressSpace6: [],
      country: 'GB',
      domain: 'kittiwake.internal',
    })
    for (const d of Object.values(made.devices))
      expect([d.serial, d.hardwareAddress, d.addressing.address, d.licencesHeld]).toEqual([
        null,
        null,
        null,
        [],
      ])
    for (const l of Object.values(made.locations))
      expect([l.latitude, l.longitude]).toEqual([null, null])
    for (const s of Object.values(made.segments))
      expect([s.subnet, s.pools, s.subnet6, s.locked]).toEqual([null, [], null, false])
    expect(mayUnplug(made.uplinks.fibre!)).toBe(false)
    expect(Object.keys(made.links)).toEqual(Object.keys(from.links))
    expect(made.segments.visitors).toMatchObject({
      vlanId: 90,
      churn: from.segments.visitors!.churn,
    })
    expect(from).toEqual(kittiwakeHarbour())
  })
})

describe('serials', () => {
  it.each([
    ['AM-GAT-48237', 'AM-???-#####', true],
    ['AM-GAT-4823', 'AM-???-#####', false],
    ['AM-G4T-48237', 'AM-???-#####', false],
    ['AX-GAT-48237', 'AM-???-#####', false],
  ])('%s fits %s: %s', (serial, shape, fits) => expect(fitsShape(serial, shape)).toBe(fits))
  it('says what is likely meant', () => {
    expect(serialComplaint('AM-GAT-4823O', 'AM-???-#####')).toMatch(/is it AM-GAT-48230\?$/)
    expect(serialComplaint('AM-GAT-4823', 'AM-???-#####')).toMatch(
      /has 11 characters; serials of this kind have 12, for example AM-GGG-44444/,
    )
    expect([
      serialComplaint('anything', null),
      serialComplaint('AM-GAT-48237', 'AM-???-#####'),
    ]).toEqual([null, null])
  })
})

it("sightings find their devices by hardware address, and the plan's own word beside", () => {
  const plan = quayside()
  const see = (address: string, hardwareAddress: string | null) => ({
    address,
    hardwareAddress,
    name: null,
    line: 1,
  })
  const ap = plan.devices['quay-ap']!
  const { known, strangers, unseen } = matchSightings(plan, [
    see('10.20.10.77', ap.hardwareAddress),
    see('10.20.10.3', '06:00:00:00:00:01'),
    see('10.20.10.9', null),
  ])
  expect(known.map((m) => [m.device!.id, m.differs])).toEqual([
    ['quay-ap', `planned ${ap.addressing.address}`],
  ])
  expect(strangers).toHaveLength(2)
  expect(unseen.length).toBe(
    Object.values(plan.devices).filter((d) => d.hardwareAddress).length - 1,
  )
  expect([isMadeUp('06:00:00:00:00:01'), isMadeUp('00:00:5e:00:53:01')]).toEqual([true, false])
})
