import { describe, expect, it } from 'vitest'
import type { Observation } from '@mast/protocol'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import { siteModel } from '../topology'
import { applyEdits } from '../plan'
import { causesOf, countOf, judge, proofTestsOf, type ProofTest, type SiteFacts } from '.'

const model = siteModel(dunlinSlipway())
const tests = proofTestsOf(model)
const states = { gateway: 'in-service', switch: 'in-service', 'hut-ap': 'in-service' } as const
const leased: Record<string, string> = {
  'crew-desk': '10.44.20.10',
  'tide-board': '10.44.90.10',
  'visitor-phone': '10.44.90.11',
  controller: '10.44.10.2',
}

/** What a site that runs as planned would answer, with changes. */
function seenOf(
  asked: readonly ProofTest[],
  change: (o: Observation) => Partial<Observation> | undefined = () => undefined,
): Observation[] {
  return asked.flatMap((t): Observation[] => {
    if (!t.probe) return []
    const o: Observation = {
      id: t.probe.id,
      outcome: t.expected === 'works' ? 'works' : 'no-answer',
      address: leased[t.from] ?? null,
      servers: t.server ? [t.server] : [],
      detail: '',
      atSeconds: 0,
      epochSeconds: null,
    }
    return [{ ...o, ...change(o) }]
  })
}
const seen = (change?: (o: Observation) => Partial<Observation> | undefined): Observation[] =>
  seenOf(tests, change)
const facts = (
  line: { up: boolean; address: string | null } | null = { up: true, address: '100.64.7.20' },
): SiteFacts => ({
  devices: ['gateway', 'switch', 'hut-ap'].map((deviceId) => ({
    deviceId,
    state: 'in-service',
    ports: [],
    lines: deviceId === 'gateway' && line ? [{ port: 'wan1', ...line }] : [],
  })),
  foreign: [],
})

describe('the tests that a plan implies', () => {
  it('are of both kinds, from every segment and from outside', () => {
    for (const expected of ['works', 'blocked'] as const)
      expect(tests.filter((t) => t.expected === expected).length).toBeGreaterThan(5)
    for (const place of ['management', 'crew', 'visitors', 'internet'])
      expect(tests.some((t) => t.fromPlace === place)).toBe(true)
    expect(new Set(tests.map((t) => t.id)).size).toBe(tests.length)
  })
  it('have a control for each that must not work: the same target, shown to answer where it may be asked', () => {
    const byId = new Map(tests.map((t) => [t.id, t]))
    const blocked = tests.filter((t) => t.expected === 'blocked')
    expect(blocked.length).toBeGreaterThan(10)
    for (const t of blocked) {
      const control = byId.get(t.controlId!)
      expect(control, t.title).toMatchObject({
        expected: 'works',
        probe: { kind: t.probe!.kind, port: t.probe!.port },
      })
    }
  })
  it('ask every port of a service, and the pages of devices', () => {
    expect(
      tests
        .filter((t) => t.from === 'crew-desk' && t.toPlace === 'internet')
        .map((t) => t.probe!.port)
        .sort(),
    ).toEqual([443, 80])
    for (const id of ['switch', 'hut-ap'])
      expect(
        tests.some(
          (t) =>
            t.probe?.target?.kind === 'host' &&
            t.probe.target.deviceId === id &&
            t.probe.port === 443,
        ),
      ).toBe(true)
  })
  it('expect of names what the policy says of their server', () => {
    const told = (nameServers: string[]): ProofTest =>
      proofTestsOf(
        siteModel(
          applyEdits(dunlinSlipway(), [
            {
              name: 'changeSegment',
              args: {
                id: 'visitors',
                changes: { options: { nameServers, timeServers: [], routes: [] } },
              },
            },
          ]),
        ),
      ).find((t) => t.id === 'visitor-phone:name')!
    expect(told([])).toMatchObject({ expected: 'works', toPlace: 'gateway' })
    expect(told(['198.51.100.53'])).toMatchObject({ expected: 'works', toPlace: 'internet' })
    expect(told(['10.44.10.2'])).toMatchObject({ expected: 'blocked', toPlace: 'management' })
  })
  it('expect of visitors the internet and nothing else', () => {
    const visitors = tests.filter(
      (t) => t.from === 'visitor-phone' && !['gateway', 'controller'].includes(t.toPlace),
    )
    expect(
      visitors
        .filter((t) => t.expected === 'works')
        .filter((t) => t.controlId === null && !t.id.includes('>'))
        .map((t) => t.toPlace),
    ).toEqual(['internet', 'internet'])
    expect(visitors.filter((t) => t.expected === 'blocked').map((t) => t.toPlace)).toEqual(
      expect.arrayContaining(['management', 'crew']),
    )
  })
})

it('a segment with nobody in it is not proven by the others', () => {
  const plan = structuredClone(model.plan)
  for (const d of Object.values(plan.devices))
    if (d.addressing.segmentId === 'visitors') d.addressing.segmentId = 'crew'
  const empty = siteModel(plan)
  const asked = proofTestsOf(empty)
  expect(asked.filter((t) => t.kind === 'nobody').map((t) => t.fromPlace)).toEqual(['visitors'])
  const results = judge(
    asked,
    seenOf(asked, (o) =>
      leased[o.id.split(':')[0]!]?.startsWith('10.44.90.') ? { address: '10.44.20.33' } : undefined,
    ),
    states,
  )
  expect(countOf(results)).toMatchObject({ untested: 1, proven: false })
  expect(causesOf(empty, results, facts())).toEqual([])
})

describe('judging', () => {
  it('a site as planned is proven', () =>
    expect(countOf(judge(tests, seen(), states))).toMatchObject({
      proven: true,
      contradicts: 0,
      untested: 0,
    }))
  it('what must not work and does contradicts', () => {
    const results = judge(
      tests,
      seen((o) => (o.id === 'visitor-phone:page' ? { outcome: 'works' } : undefined)),
      states,
    )
    expect(results.find((r) => r.test.id === 'visitor-phone:page')).toMatchObject({
      verdict: 'contradicts',
      observed: expect.stringContaining('must not'),
    })
  })
  it('a host without an address proves nothing about what is blocked', () => {
    const results = judge(
      tests,
      seen((o) =>
        o.id.startsWith('visitor-phone:') ? { outcome: 'no-address', address: null } : undefined,
      ),
      states,
    )
    const blocked = results.filter(
      (r) => r.test.from === 'visitor-phone' && r.test.expected === 'blocked',
    )
    expect(blocked.length).toBeGreaterThan(0)
    for (const r of blocked) expect(r.verdict).toBe('untested')
  })
  it('an address of another segment, or not the reserved one, contradicts', () => {
    const wrong = judge(
      tests,
      seen((o) => (o.id === 'crew-desk:lease' ? { address: '10.44.90.12' } : undefined)),
      states,
    )
    expect(wrong.find((r) => r.test.id === 'crew-desk:lease')).toMatchObject({
      verdict: 'contradicts',
      observed: '10.44.90.12, outside 10.44.20.0/24',
    })
    const reserved = { ...tests.find((t) => t.id === 'crew-desk:lease')!, address: '10.44.20.5' }
    expect(judge([reserved], seen(), states)[0]).toMatchObject({
      verdict: 'contradicts',
      observed: '10.44.20.10 instead of the reserved 10.44.20.5',
    })
  })
  it('what is silent proves nothing where its target answers nobody', () => {
    const t = tests.find((x) => x.expected === 'blocked' && x.probe?.target?.kind === 'host')!
    const dead = judge(
      tests,
      seen((o) => (o.id === t.controlId ? { outcome: 'no-answer' } : undefined)),
      states,
    )
    expect(dead.find((r) => r.test.id === t.id)).toMatchObject({
      verdict: 'untested',
      observed: expect.stringContaining('its target answers nobody'),
    })
    expect(countOf(dead).proven).toBe(false)
    expect(judge([{ ...t, controlId: null }], seen(), states)[0]).toMatchObject({
      verdict: 'untested',
      observed: expect.stringContaining('nothing shows that it would answer'),
    })
  })
  it('a second server that hands out leases contradicts, though the first was faster', () => {
    const results = judge(
      tests,
      seen((o) =>
        o.id === 'crew-desk:lease' ? { servers: ['10.44.20.1', '192.168.7.1'] } : undefined,
      ),
      states,
    )
    expect(results.find((r) => r.test.id === 'crew-desk:lease')).toMatchObject({
      verdict: 'contradicts',
      observed: '192.168.7.1 hands out leases too',
    })
  })
  it('what was not tried is untested, and an empty proof proves nothing', () => {
    expect(
      judge(tests, [], states)
        .filter((r) => r.test.probe)
        .every((r) => r.verdict === 'untested'),
    ).toBe(true)
    expect(countOf([]).proven).toBe(false)
  })
})

describe('causes', () => {
  const causes = (
    change: Parameters<typeof seen>[0],
    f = facts(),
    s: Record<string, 'in-service' | 'lost'> = states,
  ) => causesOf(model, judge(tests, seen(change), s), f)
  it('none where nothing is wrong', () => expect(causes(() => undefined)).toEqual([]))
  it('one cause each for a line without signal and one without an answer', () => {
    const noInternet = (o: Observation): Partial<Observation> | undefined =>
      /:internet$|:name$/.test(o.id) ? { outcome: 'no-answer' } : undefined
    expect(causes(noInternet, facts({ up: false, address: null })).map((c) => c.kind)).toEqual([
      'dead-line',
    ])
    expect(causes(noInternet, facts({ up: true, address: null }))[0]).toMatchObject({
      kind: 'hand-off',
      text: expect.stringContaining('tag 12'),
    })
  })
  it('a refused sign-in is not the tag', () => {
    const pppoe = siteModel(
      applyEdits(dunlinSlipway(), [
        {
          name: 'recordHandOff',
          args: {
            uplinkId: Object.keys(dunlinSlipway().uplinks)[0]!,
            facts: { mode: 'pppoe', pppoeUser: 'slip' },
          },
        },
      ]),
    )
    const noInternet = seen((o) =>
      /:internet|:name$/.test(o.id) ? { outcome: 'no-answer' } : undefined,
    )
    const with_ = (signIn: 'refused' | 'unanswered'): string[] =>
      causesOf(pppoe, judge(tests, noInternet, states), {
        ...facts(),
        devices: facts().devices.map((d) =>
          d.lines.length > 0
            ? { ...d, lines: [{ port: 'wan1', up: true, address: null, signIn }] }
            : d,
        ),
      }).map((c) => c.kind)
    expect(with_('refused')).toEqual(['sign-in'])
    expect(with_('unanswered')).toEqual(['hand-off'])
  })
  it("a line with an address and nothing beyond it is not the gateway's rules", () => {
    const found = causes((o) =>
      /internet|:name$/.test(o.id) && !o.id.startsWith('internet:')
        ? { outcome: 'no-answer' }
        : undefined,
    )
    expect(found.map((c) => c.kind)).toEqual(['no-route'])
    expect(found[0]!.text).toContain('nothing beyond it answers')
  })
  it('a server that nobody planned is named, with who it probably is', () => {
    const found = causesOf(
      siteModel(
        applyEdits(dunlinSlipway(), [
          { name: 'addDevice', args: { id: 'ext', name: 'Extender', profileId: 'extender-2x2' } },
        ]),
      ),
      judge(
        tests,
        seen((o) =>
          o.id === 'crew-desk:lease'
            ? { address: '192.168.7.20', servers: ['192.168.7.1'] }
            : undefined,
        ),
        states,
      ),
      facts(),
    )
    expect(found[0]).toMatchObject({
      kind: 'rogue-server',
      text:
        '192.168.7.1 hands out leases in Crew, and is no server of this site: probably ' +
        'Extender, still as from its box.',
    })
    expect(found.map((c) => c.kind)).not.toContain('rules')
  })
  it('does not blame the line when it has an address', () => {
    expect(
      causes((o) => (o.id === 'crew-desk:internet' ? { outcome: 'no-answer' } : undefined)).map(
        (c) => c.kind,
      ),
    ).toEqual(['rules'])
  })
  it('names the port where a host is heard that is not where it is planned', () => {
    const f = facts()
    const heard: SiteFacts = {
      ...f,
      devices: f.devices.map((d) =>
        d.deviceId === 'switch'
          ? { ...d, ports: [{ name: '5', up: true, heard: ['02:44:53:01:00:02'] }] }
          : d,
      ),
    }
    const found = causes(
      (o) => (o.id === 'crew-desk:lease' ? { address: '10.44.90.12' } : undefined),
      heard,
    )
    expect(found[0]).toMatchObject({
      kind: 'swapped-cables',
      text: 'Crew desk is plugged into Hut switch port 5 instead of Hut switch port 4.',
    })
  })
  it('takes a dead cable, not a missing tag, where the socket has no signal', () => {
    const dark: SiteFacts = {
      ...facts(),
      devices: facts().devices.map((d) =>
        d.deviceId === 'switch' ? { ...d, ports: [{ name: '4', up: false, heard: [] }] } : d,
      ),
    }
    const found = causes(
      (o) =>
        o.id.startsWith('crew-desk:')
          ? { outcome: o.id.endsWith(':lease') ? 'no-lease' : 'no-address', address: null }
          : undefined,
      dark,
    )
    expect(found[0]).toMatchObject({
      kind: 'cut-cable',
      text: expect.stringContaining('Hut switch port 4'),
    })
  })
  it('a device that does not call explains what hangs on it', () => {
    const found = causes(
      (o) =>
        o.id.startsWith('visitor-phone:') ? { outcome: 'no-lease', address: null } : undefined,
      {
        ...facts(),
        devices: facts().devices.map((d) =>
          d.deviceId === 'hut-ap' ? { ...d, state: 'lost' } : d,
        ),
      },
      { ...states, 'hut-ap': 'lost' },
    )
    expect(found[0]).toMatchObject({
      kind: 'device-missing',
      text: 'Hut AP is not in service (lost).',
    })
    expect(found[0]!.explains).toContain('visitor-phone:lease')
  })
  it('the controller at another address is the first cause, and what waits for it is told with it', () => {
    const plan = structuredClone(model.plan)
    plan.devices['controller']!.hardwareAddress = '02:00:00:00:00:02'
    plan.devices['controller']!.addressing.mode = 'reserved'
    const here = siteModel(plan)
    const away = causesOf(
      here,
      judge(
        proofTestsOf(here),
        seenOf(proofTestsOf(here), (o) =>
          o.id === 'controller:lease'
            ? { address: '10.44.10.57' }
            : o.id.includes('crew-desk')
              ? { outcome: 'no-lease', address: null }
              : undefined,
        ),
        {},
      ),
      { ...facts(), devices: facts().devices.map((d) => ({ ...d, state: 'claimed' })) },
    )
    expect(away.map((c) => c.kind)).toEqual(['controller-away'])
    expect(away[0]!.text).toMatch(
      /is at 10\.44\.10\.57, and devices look for it at http:\/\/10\.44\.10\.2:/,
    )
    expect(away[0]!.evidence.join()).toMatch(/wait for it/)
    plan.devices['controller']!.hardwareAddress = null
    const nameless = siteModel(plan)
    const [first] = causesOf(
      nameless,
      judge(
        proofTestsOf(nameless),
        seenOf(proofTestsOf(nameless), (o) =>
          o.id === 'controller:lease' ? { address: '10.44.10.57' } : undefined,
        ),
        states,
      ),
      facts(),
    )
    expect(first).toMatchObject({ kind: 'controller-away', subjects: ['controller'] })
    expect(first!.evidence[0]).toMatch(
      /no hardware address of .*, so nothing reserves 10\.44\.10\.2/,
    )
  })
  it('devices behind a missing one are told with it', () => {
    const found = causesOf(model, judge(tests, seen(), { gateway: 'in-service' }), {
      ...facts(),
      devices: facts().devices.map((d) => ({
        ...d,
        state: d.deviceId === 'gateway' ? 'in-service' : 'lost',
      })),
    })
    expect(found.map((c) => c.text)).toEqual([expect.stringMatching(/switch .*is not in service/i)])
    expect(found[0]!.evidence.join()).toMatch(/with it: .* is not in service \(lost\)/)
  })
  it('a host with an address of another segment, heard nowhere, is in the wrong socket, not behind a firewall', () => {
    const wrong = seen((o) =>
      o.id.startsWith('crew-desk:')
        ? o.id === 'crew-desk:lease'
          ? { address: '10.44.90.77' }
          : { outcome: 'no-answer' }
        : undefined,
    )
    const found = causesOf(model, judge(tests, wrong, states), facts())
    expect(found.map((c) => c.kind)).toEqual(['wrong-segment'])
    expect(found[0]!.text).toMatch(/is in Visitors instead of Crew: its plug is in a socket of/)
  })
  it('a host that missed its reservation is said to, with why', () => {
    const plan = structuredClone(model.plan)
    Object.assign(plan.devices['crew-desk']!, { hardwareAddress: null })
    Object.assign(plan.devices['crew-desk']!.addressing, {
      mode: 'reserved',
      address: '10.44.20.5',
    })
    const reserved = siteModel(plan)
    const found = (m: typeof model) =>
      causesOf(m, judge(proofTestsOf(m), seen(), states), facts()).map((c) => c.text)
    expect(found(reserved)).toEqual([
      expect.stringMatching(/^Nothing reserves 10\.44\.20\.5 for .*hardware address/),
    ])
  })
  it('hosts that are off are said to be off', () => {
    const found = causes((o) =>
      o.id.startsWith('crew-desk:') ? { outcome: 'off', address: null } : undefined,
    )
    expect(found[0]).toMatchObject({
      kind: 'host-off',
      text: 'Crew desk is switched off or not there.',
    })
  })
  it('every cause says why and what to check', () => {
    for (const c of causes((o) => ({
      outcome: o.id.includes('lease') ? 'no-lease' : 'no-address',
      address: null,
    }))) {
      expect(c.evidence.length).toBeGreaterThan(0)
      expect(c.checks.length).toBeGreaterThan(0)
    }
  })
})
