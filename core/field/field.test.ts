import { describe, expect, it } from 'vitest'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { runSheetOf } from '../bringup'
import { editCall as edit, applyEdits, type Port } from '../plan'
import { siteModel } from '../topology'
import {
  checkControllerAddress,
  fieldFindingsOf,
  fieldRules,
  type DeviceFacts,
  type FieldFacts,
  type FieldFinding,
} from '.'

const plan = dunlinSlipway()
const model = siteModel(plan)
const NOW = Date.UTC(2026, 10, 24, 9)
const ago = (seconds: number): number => NOW - seconds * 1000
const adoptable = model.devices.filter((d) => model.profileOf(d.id).adoptable)
const calm = (deviceId: string, more: Partial<DeviceFacts> = {}): DeviceFacts => ({
  deviceId,
  state: 'in-service',
  claimed: true,
  claimedElsewhere: false,
  plannedElsewhere: false,
  callers: [],
  model: plan.devices[deviceId]!.profileId,
  firmware: model.profileOf(deviceId).firmware.wanted,
  factoryPassword: false,
  configurationMatches: true,
  runs: 'a'.repeat(64),
  phase: 'running',
  clock: { zone: 'Europe/London', from: '192.0.2.123' },
  lastHeardMs: ago(5),
  changedMs: ago(3600),
  ports: [],
  ...more,
})
const facts = (
  devices: DeviceFacts[] = adoptable.map((d) => calm(d.id)),
  more: Partial<FieldFacts> = {},
): FieldFacts => ({
  devices,
  foreign: [],
  steps: [],
  backups: devices.map((d) => ({
    deviceId: d.deviceId,
    digest: d.runs ?? '',
    atMs: ago(600),
  })),
  clients: [],
  drills: [],
  nowMs: NOW,
  clockSpeed: 1,
  ...more,
})
const withDevice = (id: string, more: Partial<DeviceFacts>): FieldFacts =>
  facts(adoptable.map((d) => calm(d.id, d.id === id ? more : {})))
const found = (catchNumber: string, f: FieldFacts, m = model): FieldFinding[] =>
  fieldFindingsOf(m, f).filter((x) => x.catches.includes(catchNumber))
const texts = (list: FieldFinding[]): string =>
  list.map((f) => `${f.severity}: ${f.text}`).join('\n')

it('a site that is in service gets no remark', () =>
  expect(fieldFindingsOf(model, facts())).toEqual([]))
it('rules have ids of their own and catch what they say', () => {
  expect(new Set(fieldRules.map((r) => r.id)).size).toBe(fieldRules.length)
  expect(fieldRules.flatMap((r) => r.catches).sort()).toEqual([
    'C-20',
    'C-61',
    'C-62',
    'C-63',
    'C-64',
    'C-65',
    'C-66',
    'C-67',
    'C-69',
    'C-70',
    'C-71',
    'C-72',
    'C-73',
    'C-74',
    'C-75',
    'C-78',
    'C-79',
    'C-86',
  ])
})

it('C-63: silence in the middle of writing, and not after it', () => {
  const silent = { state: 'lost', lastHeardMs: ago(900) } as const
  expect(texts(found('C-63', withDevice('switch', { ...silent, phase: 'loading-firmware' })))).toBe(
    'blocker: Hut switch was writing its firmware when it was last heard, and has not called since.',
  )
  expect(found('C-63', withDevice('switch', { ...silent, phase: 'running' }))).toEqual([])
  expect(
    found('C-63', withDevice('switch', { state: 'loading', phase: 'loading-firmware' })),
  ).toEqual([])
})
it('a client that takes a third of the line for an hour, and none that is shut out', () => {
  const { hardwareAddress } = model.devices.find((d) => d.wirelessNetworkId !== null)!
  const line = model.wayOut!.handOff.downMbps!
  const moved = (share: number, more = {}) =>
    facts(undefined, {
      clients: [
        {
          hardwareAddress: hardwareAddress!,
          name: null,
          isShut: false,
          hour: { downOctets: (share * line * 1e6 * 3600) / 8, upOctets: 0, seconds: 3600 },
          ...more,
        },
      ],
    })
  const of = (f: FieldFacts) =>
    fieldFindingsOf(model, f).filter((x) => x.ruleId === 'field/draining-client')
  expect(texts(of(moved(0.5)))).toMatch(
    /^caution: .* has fetched [\d.]+ [MG]B in the last hour: 50 % of what .* carries\.$/,
  )
  expect(of(moved(0.2))).toEqual([])
  expect(of(moved(0.5, { isShut: true }))).toEqual([])
  // Devices that live a hundred times as fast have moved it in a hundred hours of theirs.
  expect(of({ ...moved(0.5), clockSpeed: 100 })).toEqual([])
  // Something large that is fetched once is no reason to shut anybody out.
  const [client] = moved(0.15).clients
  const brief = { ...client!, hour: { ...client!.hour, seconds: 600 } }
  expect(of(facts(undefined, { clients: [brief] }))).toEqual([])
})
it('C-86: set up at its page, and heard since then with its factory settings', () => {
  const step = runSheetOf(model).find((s) => s.id === 'gateway.configure')!
  const ticked = { stepId: step.id, doneMs: ago(600), readyMs: ago(400), said: null }
  const heard = (lastHeardMs: number, runs: string | null) => ({
    ...withDevice('gateway', { state: 'seen', runs, lastHeardMs }),
    steps: [ticked],
  })
  expect(texts(found('C-86', heard(ago(5), null)))).toBe(
    'caution: Slipway gateway was set up at its own page, and runs its factory settings.',
  )
  expect(found('C-86', heard(ago(500), null))).toEqual([])
  expect(found('C-86', heard(ago(5), 'a'.repeat(64)))).toEqual([])
  expect(found('C-86', { ...heard(ago(5), null), steps: [] })).toEqual([])
})
it('C-67: a clock that nobody told the time, once it had time to ask', () => {
  const unset = { clock: { zone: 'Europe/London', from: null } }
  expect(texts(found('C-67', withDevice('switch', unset)))).toBe(
    'caution: The clock of Hut switch stands as it started: a server on the internet did not tell it the time.',
  )
  expect(found('C-67', withDevice('switch', { ...unset, changedMs: ago(60) }))).toEqual([])
  expect(found('C-67', withDevice('switch', { clock: null }))).toEqual([])
  expect(found('C-67', withDevice('switch', {}))).toEqual([])
})
it('of a site without a controller nobody waits for calls or claims', () => {
  const alone = siteModel(applyEdits(plan, [edit('setController', { hostDeviceId: null })]))
  const waits = facts(
    adoptable.map((d) =>
      calm(d.id, {
        state: 'powered',
        claimed: false,
        claimedElsewhere: true,
        changedMs: ago(9000),
      }),
    ),
  )
  const of = (m: typeof model): string[] =>
    ['C-70', 'C-72'].flatMap((c) => found(c, waits, m).map((f) => f.ruleId))
  expect(new Set(of(model))).toEqual(new Set(['field/waiting', 'field/managed-elsewhere']))
  expect(of(alone)).toEqual([])
})
it('C-20: a cable that came up slower than planned, once, whichever end says so', () => {
  const link = Object.values(plan.links).find((l) =>
    [l.a, l.b].every((p) => adoptable.some((d) => d.id === plan.ports[p]!.deviceId)),
  )!
  const [a, b] = [link.a, link.b].map((p) => plan.ports[p]!) as [Port, Port]
  const at = (end: Port, speedMbps: number | null): Partial<DeviceFacts> => ({
    ports: [{ name: end.name, up: true, speedMbps, heard: [] }],
  })
  const both = facts(
    adoptable.map((d) =>
      calm(d.id, d.id === a.deviceId ? at(a, 100) : d.id === b.deviceId ? at(b, 100) : {}),
    ),
  )
  const [finding, ...others] = found('C-20', both)
  expect(others).toEqual([])
  expect(finding!.text).toMatch(/ came up at 100 Mbit\/s in place of 1 Gbit\/s\.$/)
  expect(finding!.why).toMatch(/^One pair of the cable has no contact/)
  expect(finding!.subjects).toEqual([link.id])
  expect(found('C-20', withDevice(b.deviceId, at(b, 100)))).toHaveLength(1)
  for (const fine of [1000, 2500, null])
    expect(found('C-20', withDevice(b.deviceId, at(b, fine)))).toEqual([])
})
it('C-65: a wait that is over for long, with what to look at, and not while something else is awaited too', () => {
  const sheet = runSheetOf(model)
  const step = sheet.find((s) => s.deviceId === 'hut-ap' && s.kind === 'cable')!
  const others = sheet
    .find((s) => s.deviceId === 'hut-ap' && s.kind === 'claim')!
    .needs.filter((n) => n !== step.id)
  const done = (stepId: string, waited: number, since: number) => ({
    stepId,
    doneMs: ago(since + waited),
    readyMs: ago(since),
    said: null,
  })
  const after = (seconds: number, with_: readonly string[] = others): FieldFinding[] =>
    found(
      'C-65',
      facts([], {
        steps: [
          done(step.id, step.waitSeconds, seconds),
          ...with_.map((id) => done(id, 0, seconds)),
        ],
      }),
    )
  expect(after(20)).toEqual([])
  const [late] = after(3600)
  expect(late!.text).toMatch(/should have been over 60 min ago/)
  expect(late!.why).toBe(step.ifExceeded)
  expect(others.length).toBeGreaterThan(0)
  expect(after(3600, others.slice(1))).toEqual([])
})
it('C-66: a backup of what no longer runs, and none once the site was proven', () => {
  expect(texts(found('C-66', withDevice('switch', { runs: 'b'.repeat(64) })))).toBe('')
  const old = facts(undefined, {
    backups: adoptable.map((d) => ({
      deviceId: d.id,
      digest: (d.id === 'switch' ? 'b' : 'a').repeat(64),
      atMs: ago(7200),
    })),
  })
  expect(texts(found('C-66', old))).toBe(
    'note: The backup of Hut switch is of a configuration that it no longer runs.',
  )
  const prove = runSheetOf(model).find((s) => s.kind === 'prove')!
  const done = { stepId: prove.id, doneMs: ago(60), readyMs: ago(60), said: null }
  const none = facts(undefined, { backups: [] })
  expect(found('C-66', none)).toEqual([])
  expect(found('C-66', { ...none, steps: [done] })).toHaveLength(adoptable.length)
})

it('C-61: factory passwords, of devices that are in charge only', () => {
  expect(texts(found('C-61', withDevice('switch', { factoryPassword: true })))).toBe(
    'blocker: Hut switch says that it still has the password from the label.',
  )
  expect(
    found('C-61', withDevice('switch', { factoryPassword: true, state: 'seen', claimed: false })),
  ).toEqual([])
})

describe('C-62: the laptop', () => {
  const steps = (...ids: string[]) =>
    facts(undefined, {
      steps: ids.map((stepId, i) => ({
        stepId,
        doneMs: ago(1000 - i),
        readyMs: ago(1000 - i),
        said: null,
      })),
    })
  it('left on the last factory subnet while the work went on', () =>
    expect(texts(found('C-62', steps('gateway.laptop', 'switch.laptop', 'gateway.cable')))).toMatch(
      /It was set to 192\.168\.\d\.1\d\/24 for Hut switch and nobody ticked/,
    ))
  it('put back, or still at the bench, is fine', () => {
    expect(found('C-62', steps('gateway.laptop', 'laptop-automatic', 'gateway.cable'))).toEqual([])
    expect(found('C-62', steps('gateway.laptop'))).toEqual([])
  })
})

describe('C-64: order', () => {
  const sheet = runSheetOf(model)
  const inOrder = sheet.map((s, i) => ({
    stepId: s.id,
    doneMs: ago(10_000 - i),
    readyMs: ago(10_000 - i),
    said: null,
  }))
  it('as on the sheet is fine, whatever was not done yet', () => {
    for (const n of [0, 5, 20, sheet.length])
      expect(found('C-64', facts(undefined, { steps: inOrder.slice(0, n) }))).toEqual([])
  })
  it('a step before what it needs', () => {
    const swapped = inOrder.map((s) =>
      s.stepId === 'switch.firmware' ? { ...s, doneMs: ago(20_000) } : s,
    )
    expect(texts(found('C-64', facts(undefined, { steps: swapped })))).toMatch(
      /"Firmware .* on Hut switch" is ticked before "Replace the factory password of Hut switch"/,
    )
    expect(
      texts(
        found(
          'C-64',
          facts(undefined, { steps: inOrder.filter((s) => s.stepId !== 'switch.firmware') }),
        ),
      ),
    ).toMatch(/is ticked before "Firmware .* on Hut switch", which is still open/)
  })
  it('configuration before firmware, as the device itself reports', () =>
    expect(texts(found('C-64', withDevice('switch', { firmware: '3.1.0' })))).toMatch(
      /Hut switch runs its configuration on firmware 3\.1\.0; 3\.6\.2 comes first/,
    ))
})

describe('C-69: serials', () => {
  it('a stranger whose serial is nearly one of ours, with counts and the fix', () => {
    const [f] = found(
      'C-69',
      facts(undefined, {
        foreign: [{ serial: 'AM-AP-60386', model: 'ap-indoor-2x2', nearest: 'AM-AP-60385' }],
      }),
    )
    expect(f).toMatchObject({
      severity: 'blocker',
      text: expect.stringContaining('AM-AP-60386; the plan has AM-AP-60385 for Hut AP'),
      numbers: [{ value: `${adoptable.length}, ${adoptable.length}, 1` }],
    })
    expect(applyEdits(plan, f!.fixes![0]!.edits).devices[f!.subjects[0]!]!.serial).toBe(
      'AM-AP-60386',
    )
  })
  it('a device of another kind under a planned serial', () =>
    expect(texts(found('C-69', withDevice('switch', { model: 'switch-24-poe-190' })))).toMatch(
      /AM-SWI-60348 is a switch-24-poe-190; the plan has Hut switch as Switch 8 PoE\+ 65 W/,
    ))
})

describe('C-70: waiting', () => {
  it.each<[string, Partial<DeviceFacts>, number, RegExp]>([
    [
      'just claimed',
      { state: 'claimed', changedMs: ago(5) },
      1,
      /^note: Hut switch is claimed .* Nothing is wrong/,
    ],
    [
      'claimed for ever',
      { state: 'claimed', changedMs: ago(600) },
      1,
      /^caution: Hut switch is claimed and should have called by now/,
    ],
    ['still starting', { state: 'powered', changedMs: ago(60) }, 1, /^note: Hut switch is powered/],
    [
      'a minute of ours is an hour of its own',
      { state: 'powered', changedMs: ago(60) },
      60,
      /^caution: .* should have called/,
    ],
    [
      'claimed in its box it waits for nothing but power',
      { state: 'claimed', lastHeardMs: null, changedMs: ago(90_000) },
      1,
      /^$/,
    ],
    ['between the two nothing is said', { state: 'claimed', changedMs: ago(60) }, 1, /^$/],
  ])('%s', (_, more, clockSpeed, text) =>
    expect(texts(found('C-70', { ...withDevice('switch', more), clockSpeed }))).toMatch(text),
  )
  it('of one that was claimed in its box the clock starts with the step that gives it power', () => {
    const boxed = withDevice('switch', {
      state: 'claimed',
      lastHeardMs: null,
      changedMs: ago(90_000),
    })
    const powered = (seconds: number): string =>
      texts(
        found('C-70', {
          ...boxed,
          steps: [
            { stepId: 'switch.cable', doneMs: ago(seconds), readyMs: ago(seconds), said: null },
          ],
        }),
      )
    expect(powered(20)).toMatch(/^note: Hut switch is claimed and has not called since/)
    expect(powered(5000)).toMatch(/^caution: Hut switch is claimed and should have called/)
  })
})

describe('C-71: what a claim needs', () => {
  const unclaimed: Partial<DeviceFacts> = {
    state: 'seen',
    claimed: false,
    configurationMatches: null,
    firmware: '3.1.0',
  }
  it('a new device with a way to the controller lacks nothing', () =>
    expect(found('C-71', withDevice('switch', { ...unclaimed, factoryPassword: true }))).toEqual(
      [],
    ))
  it('one that was set up before', () =>
    expect(texts(found('C-71', withDevice('switch', unclaimed)))).toMatch(
      /put it back to its factory state/,
    ))
  it('one on firmware that is too old', () =>
    expect(
      texts(
        found(
          'C-71',
          withDevice('switch', { ...unclaimed, firmware: '2.9.9', factoryPassword: true }),
        ),
      ),
    ).toMatch(/its firmware 2\.9\.9 is older than 3\.0\.0/))
  it('one with a typed address, one without a way', () => {
    const { addressing } = plan.devices.switch!
    const typed = siteModel(
      applyEdits(plan, [
        edit('changeDevice', {
          id: 'switch',
          changes: {
            addressing: {
              ...addressing,
              mode: 'fixed',
              address: '10.44.10.9',
              gateway: '10.44.10.1',
            },
          },
        }),
      ]),
    )
    expect(
      texts(found('C-71', withDevice('switch', { ...unclaimed, factoryPassword: true }), typed)),
    ).toMatch(/needs an automatic one/)
    const management = addressing.segmentId!
    const trunk = Object.values(plan.links).find(
      (l) =>
        [l.a, l.b].some((p) => p.startsWith('switch.')) &&
        [l.a, l.b].some((p) => p.startsWith('gateway.')),
    )!
    const cut = siteModel(
      applyEdits(plan, [
        edit('removeTag', { segmentId: management, portIds: [trunk.a, trunk.b] }),
        edit('setUntagged', { segmentId: null, portIds: [trunk.a, trunk.b] }),
      ]),
    )
    expect(
      texts(found('C-71', withDevice('switch', { ...unclaimed, factoryPassword: true }), cut)),
    ).toMatch(/it has no way to the controller: /)
  })
})

it('C-72: claimed by another site', () =>
  expect(
    texts(
      found(
        'C-72',
        withDevice('switch', { claimed: false, claimedElsewhere: true, state: 'seen' }),
      ),
    ),
  ).toMatch(/^blocker: Hut switch \(AM-SWI-60348\) is claimed by another site/))

it('C-72: another plan with the serial, to be told before the claim and after', () => {
  expect(
    texts(
      found(
        'C-72',
        withDevice('switch', { claimed: false, plannedElsewhere: true, state: 'seen' }),
      ),
    ),
  ).toMatch(
    /^caution: Another site of this controller has the serial AM-SWI-60348 of Hut switch in its plan too/,
  )
  expect(found('C-72', withDevice('switch', { plannedElsewhere: true }))[0]!.why).toMatch(
    /^They see that it is claimed here/,
  )
  expect(
    found(
      'C-72',
      withDevice('switch', { plannedElsewhere: true, claimedElsewhere: true, claimed: false }),
    ),
  ).toHaveLength(1)
})
it(
  'C-69: two that call under one serial are both shown, one alone is the device itself, and ' +
    'beside a claimed one it is a stranger',
  () => {
    const one = {
      address: '10.44.10.3',
      hardwareAddress: '02:44:53:00:00:20',
      model: 'switch-8-poe-65',
      sinceMs: ago(50),
    }
    const two = {
      ...one,
      address: '10.44.10.99',
      hardwareAddress: '02:44:53:00:00:99',
      sinceMs: ago(20),
    }
    const seen = { claimed: false, state: 'seen' as const }
    expect(found('C-69', withDevice('switch', { ...seen, callers: [one] }))).toEqual([])
    const [both] = found('C-69', withDevice('switch', { ...seen, callers: [one, two] }))
    expect(both!.text).toBe(
      '2 devices call under the serial AM-SWI-60348 of Hut switch: 10.44.10.3 ' +
        '(02:44:53:00:00:20, switch-8-poe-65) and 10.44.10.99 (02:44:53:00:00:99, switch-8-poe-65).',
    )
    expect(both!.numbers![0]!.value).toBe('50 s and 20 s')
    expect(texts(found('C-69', withDevice('switch', { callers: [two] })))).toMatch(
      /^blocker: 10.44.10.99 .* calls under the serial AM-SWI-60348 of Hut switch, which is claimed/,
    )
  },
)

describe('C-73: the address', () => {
  const url = 'http://10.20.10.2:8043'
  it('is taken as it is', () => {
    expect(checkControllerAddress(url, url)).toEqual({ ok: true })
    expect(checkControllerAddress(`  ${url} `, url)).toEqual({ ok: true })
  })
  it.each([
    [`${url}/`, 'there is a slash too many at its end'],
    [`${url}/inform`, 'there is a path too many: /inform'],
    [`${url}?x=1`, 'there is a path too many: ?x=1'],
    ['10.20.10.2:8043', 'http:// is missing at its start'],
    ['https://10.20.10.2:8043', 'it starts with https://, the controller speaks http://'],
    ['http://10.20.10.2', 'the port is missing: :8043 after the address'],
    ['http://10.20.10.2:8080', 'the port is 8080, the controller listens on 8043'],
    ['http://10.20.10.20:8043', 'the address is 10.20.10.20, the controller is at 10.20.10.2'],
    ['http://10.20.10.2: 8043', 'there is a space in it'],
    ['', 'nothing is typed yet'],
    ['http://', 'the address is http, the controller is at 10.20.10.2'],
    ['::', 'this is not an address of the form http://address:port'],
    ['HTTP://10.20.10.2:8043', 'it differs in small or capital letters'],
  ])('%j: %s', (typed, reason) =>
    expect(checkControllerAddress(typed, url)).toEqual({ ok: false, reason, paste: url }),
  )
  it('is told where it has to be typed', () => {
    const named = siteModel(
      applyEdits(plan, [{ name: 'setController', args: { discovery: 'dns-name' } }]),
    )
    expect(
      texts(found('C-73', withDevice('switch', { state: 'powered', claimed: false }), named)),
    ).toMatch(/no path, no slash at the end/)
  })
})

it('C-74: a neighbour hears what the controller does not', () => {
  const peer = model
    .portsOf('switch')
    .map((p) => model.peerOf(p.id))
    .find((p) => p?.deviceId === 'gateway')!
  const witness = { name: peer.name, up: true, heard: [plan.devices.switch!.hardwareAddress!] }
  const f = (ports: DeviceFacts['ports']): FieldFacts =>
    facts(
      adoptable.map((d) =>
        calm(
          d.id,
          d.id === 'switch'
            ? { state: 'planned', claimed: false, lastHeardMs: null }
            : d.id === 'gateway'
              ? { ports }
              : {},
        ),
      ),
    )
  expect(texts(found('C-74', f([witness])))).toMatch(
    /Hut switch is planned here, but Slipway gateway port .* hears 02:/,
  )
  expect(found('C-74', f([{ ...witness, heard: [] }]))).toEqual([])
})

it('C-75: drift, by configuration or by firmware', () => {
  expect(
    texts(found('C-75', withDevice('switch', { state: 'drifted', configurationMatches: false }))),
  ).toMatch(/runs another configuration than was sent to it/)
  expect(
    texts(
      found(
        'C-75',
        withDevice('switch', { state: 'drifted', firmware: '3.1.0', configurationMatches: false }),
      ),
    ),
  ).toMatch(/runs firmware 3\.1\.0 instead of 3\.6\.2/)
})
