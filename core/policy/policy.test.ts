import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import { trace, type Endpoint } from '../forwarding'
import { editCall as edit, applyEdits, type EditCall, type SitePlan } from '../plan'
import { siteModel } from '../topology'
import {
  cellWords,
  compilePolicy,
  decideService,
  isOpen,
  matrixOf,
  proposePolicy,
  usualVerdict,
} from '.'

const segments = ['management', 'office-net', 'cameras', 'visitors']
const bare = applyEdits(
  quayside(),
  Object.values(quayside().intents).map((i) => edit('removeIntent', { id: i.id })),
)

describe('compiled rules', () => {
  it('lets replies through by state first, and ends both chains with a drop of everything', () => {
    const { rules } = compilePolicy(quayside())
    for (const chain of ['input', 'forward'] as const) {
      const own = rules.filter((r) => r.chain === chain)
      expect(own[0]).toMatchObject({ states: ['established', 'related'], verdict: 'accept' })
      expect(own.at(-1)).toMatchObject({ verdict: 'drop', from: 'any', to: 'any', protocol: 'any' })
    }
  })
  it('decides every flow whatever the intents, and the first that speaks of it decides', () => {
    const place = fc.constantFrom(...segments, 'internet')
    const intent = fc
      .record({
        from: place,
        to: place,
        service: fc.constantFrom('any', 'svc-web', 'svc-ping', 'svc-dns'),
        action: fc.constantFrom('allow' as const, 'deny' as const),
        rank: fc.nat(50),
      })
      .filter((i) => i.from !== i.to)
    fc.assert(
      fc.property(
        fc.array(intent, { maxLength: 12 }),
        fc.constantFrom('deny' as const, 'allow' as const),
        place,
        place,
        (list, betweenSegments, from, to) => {
          fc.pre(from !== to)
          const intents = Object.fromEntries(
            list.map((i, n) => [
              `i${String(n).padStart(2, '0')}`,
              { ...i, id: `i${String(n).padStart(2, '0')}`, hours: null, reason: '' },
            ]),
          )
          const plan: SitePlan = {
            ...bare,
            intents,
            site: { ...bare.site, preferences: { ...bare.site.preferences, betweenSegments } },
          }
          const web = plan.services['svc-web']!
          const speaks = Object.values(intents)
            .sort((a, b) => a.rank - b.rank || (a.id < b.id ? -1 : 1))
            .find(
              (i) =>
                i.from === from && i.to === to && (i.service === 'any' || i.service === 'svc-web'),
            )
          const expected =
            from !== 'internet' &&
            (speaks ? speaks.action === 'allow' : betweenSegments === 'allow')
          expect(decideService(plan, from, to, web).allowed).toBe(expected)
          expect(
            matrixOf(plan)
              .cell(from, to)!
              .services.find((s) => s.serviceId === 'svc-web')!.allowed,
          ).toBe(expected)
        },
      ),
    )
  })
  it('device pages open from management alone', () => {
    const page = (from: string): string =>
      decideService(quayside(), from, '@devices', {
        id: 'page',
        name: 'page',
        protocol: 'tcp',
        ports: [443],
      }).rule.verdict
    expect([...segments, 'internet'].map(page)).toEqual(['accept', 'drop', 'drop', 'drop', 'drop'])
  })
  it('nothing comes in from the internet, even where the site is left open', () => {
    const open = applyEdits(bare, [
      edit('changeSite', { preferences: { betweenSegments: 'allow' } }),
    ])
    for (const to of segments) expect(matrixOf(open).cell('internet', to)!.verdict).toBe('none')
  })
  it("the provider's own network is no internet, but for what is stated of it, and leads nowhere else", () => {
    const open = applyEdits(bare, [
      edit('changeSite', { preferences: { betweenSegments: 'allow' } }),
      edit('stateIntent', {
        id: 'modem',
        from: 'management',
        to: '@line',
        services: ['svc-web'],
        action: 'allow',
        reason: 'the page of the modem',
      }),
    ])
    const matrix = matrixOf(open)
    expect(matrix.places.at(-1)).toBe('@line')
    expect(['management', 'office-net'].map((from) => matrix.cell(from, '@line')!.verdict)).toEqual(
      ['some', 'none'],
    )
    expect(matrix.cell('management', 'internet')!.verdict).toBe('all')
    expect(matrix.cell('@line', 'management')).toBeUndefined()
    const model = siteModel(open)
    const run = (from: string, to: Endpoint): string =>
      trace(model, { kind: 'segment', id: from }, to, open.services['svc-web']!).verdict
    expect([
      run('management', { kind: 'provider' }),
      run('office-net', { kind: 'provider' }),
      run('office-net', { kind: 'internet' }),
    ]).toEqual(['delivered', 'blocked', 'delivered'])
    expect(compilePolicy(open).lists.find((l) => l.name === 'provider-network')!.prefixes).toEqual([
      '192.168.1.0/24',
    ])
  })
  it('a service is allowed only where all its ports are', () => {
    const half = applyEdits(bare, [
      edit('addService', { id: 'svc-plain', name: 'plain web', protocol: 'tcp', ports: [80] }),
      edit('stateIntent', {
        id: 'a',
        from: 'visitors',
        to: 'internet',
        services: ['svc-plain'],
        action: 'allow',
      }),
    ])
    expect(decideService(half, 'visitors', 'internet', half.services['svc-web']!).allowed).toBe(
      false,
    )
  })
  it('the proposal states each pair once, keeps what is stated, and lets nobody into the guarded segments', () => {
    const proposed = applyEdits(bare, proposePolicy(bare))
    expect(proposePolicy(proposed)).toEqual([])
    expect(matrixOf(proposed).cell('visitors', 'internet')!.verdict).toBe('all')
    for (const to of ['management', 'office-net', 'cameras'])
      expect(matrixOf(proposed).cell('visitors', to)!.verdict).toBe('none')
    expect(
      proposePolicy(quayside()).every(
        (c) =>
          !Object.values(quayside().intents).some(
            (i) =>
              i.from === (c.args as { from: string }).from &&
              i.to === (c.args as { to: string }).to,
          ),
      ),
    ).toBe(true)
  })
})

describe('finer ends', () => {
  const state = (
    id: string,
    from: string,
    to: string,
    services: 'any' | string[],
    action: 'allow' | 'deny' = 'allow',
    more: object = {},
  ): EditCall => edit('stateIntent', { id, from, to, services, action, ...more })
  const known = applyEdits(bare, [
    edit('changeDevice', {
      id: 'printer',
      changes: {
        addressing: {
          mode: 'fixed',
          segmentId: 'office-net',
          address: '10.20.20.5',
          gateway: '10.20.20.1',
        },
        serviceIds: ['svc-print'],
      },
    }),
  ])
  const may = (
    plan: SitePlan,
    from: string,
    to: string,
    service: string,
    family: 'ipv4' | 'ipv6' = 'ipv4',
  ): boolean => decideService(plan, from, to, plan.services[service]!, family).allowed

  it('a host is allowed and its neighbours are not', () => {
    const plan = applyEdits(known, [state('a', 'visitors', 'printer', ['svc-print'])])
    expect([
      may(plan, 'visitors', 'printer', 'svc-print'),
      may(plan, 'visitors', 'office-net', 'svc-print'),
      may(plan, 'visitors', 'printer', 'svc-web'),
    ]).toEqual([true, false, false])
    expect(matrixOf(plan).places).toContain('printer')
    expect(cellWords(plan, matrixOf(plan).cell('visitors', 'printer')!)).toBe('printing')
    expect(matrixOf(plan).cell('office-net', 'printer')).toBeUndefined()
  })
  it(
    'over IPv6, where a host chooses its own addresses, nothing is allowed to it alone, and ' +
      'what is denied to it is denied to its segment',
    () => {
      const six = applyEdits(known, [
        edit('changeSite', { addressSpace6: ['2001:db8:20::/48'] }),
        edit('allocateSixtyFours', {}),
        state('all', 'office-net', 'internet', 'any'),
      ])
      const plan = applyEdits(six, [
        state('a', 'visitors', 'printer', ['svc-print']),
        state('d', 'printer', 'internet', 'any', 'deny'),
      ])
      expect([
        may(plan, 'visitors', 'printer', 'svc-print', 'ipv6'),
        may(plan, 'printer', 'internet', 'svc-web'),
        may(plan, 'harbour-desk', 'internet', 'svc-web'),
        may(plan, 'harbour-desk', 'internet', 'svc-web', 'ipv6'),
      ]).toEqual([false, false, true, false])
      expect(cellWords(plan, matrixOf(plan).cell('office-net', 'internet')!)).toMatch(
        /over IPv4 only/,
      )
    },
  )
  it('everywhere is every segment, and the internet only as a target', () => {
    const plan = applyEdits(bare, [
      state('w', '@any', 'cameras', ['svc-ping']),
      state('o', 'office-net', '@any', ['svc-ssh']),
    ])
    expect(
      [...segments.filter((s) => s !== 'cameras'), 'internet'].map((from) =>
        may(plan, from, 'cameras', 'svc-ping'),
      ),
    ).toEqual([true, true, true, false])
    expect([
      may(plan, 'office-net', 'visitors', 'svc-ssh'),
      may(plan, 'office-net', 'internet', 'svc-ssh'),
    ]).toEqual([true, true])
    expect(decideService(plan, 'office-net', '@line', plan.services['svc-ssh']!).allowed).toBe(
      false,
    )
  })
  it('the managed devices are one place: the gateway itself and the pages of all others', () => {
    const plan = applyEdits(known, [
      state('p', 'printer', '@devices', ['svc-web']),
      state('g', 'visitors', '@devices', ['svc-ping'], 'deny'),
    ])
    const page = { id: 'x', name: 'x', protocol: 'tcp' as const, ports: [443] }
    expect([
      decideService(plan, 'printer', '@devices', page).allowed,
      decideService(plan, 'printer', 'switch', page).allowed,
      decideService(plan, 'printer', 'management', page).allowed,
      decideService(plan, 'office-net', '@devices', page).allowed,
    ]).toEqual([true, true, false, false])
    expect(
      trace(
        siteModel(plan),
        { kind: 'segment', id: 'visitors' },
        { kind: 'gateway' },
        plan.services['svc-ping']!,
      ).verdict,
    ).toBe('blocked')
  })
  it('what speaks of less goes before what speaks of more when it is stated later, whatever the ranks', () => {
    const plan = applyEdits(known, [
      state('first', 'visitors', 'office-net', 'any', 'deny'),
      state('any', '@any', 'internet', ['svc-web']),
      state('host', 'visitors', 'printer', ['svc-print']),
      state('web', 'cameras', 'internet', 'any', 'deny'),
    ])
    expect([
      may(plan, 'visitors', 'printer', 'svc-print'),
      may(plan, 'cameras', 'internet', 'svc-web'),
      may(plan, 'office-net', 'internet', 'svc-web'),
    ]).toEqual([true, false, true])
  })
  it('hours let through at their time only, and count as open for whoever looks for holes', () => {
    const plan = applyEdits(bare, [
      state('h', 'visitors', 'office-net', ['svc-web'], 'allow', {
        hours: { days: [1, 2, 3, 4, 5], fromMinute: 480, toMinute: 1020 },
      }),
    ])
    const cell = matrixOf(plan).cell('visitors', 'office-net')!
    expect([
      cell.verdict,
      cellWords(plan, cell),
      isOpen(cell.services.find((s) => s.serviceId === 'svc-web')!),
      may(plan, 'visitors', 'office-net', 'svc-web'),
    ]).toEqual(['some', 'web Mon to Fri 08:00-17:00', true, false])
    const at = (minute: number | null): string => {
      const t = trace(
        siteModel(plan),
        { kind: 'segment', id: 'visitors' },
        { kind: 'segment', id: 'office-net' },
        plan.services['svc-web']!,
        'ipv4',
        minute,
      )
      return `${t.verdict}: ${t.decidedBy.text}`
    }
    expect([at(480), at(1020)].map((t) => t.split(':')[0])).toEqual(['delivered', 'blocked'])
    expect(at(null)).toBe('blocked: let through Mon to Fri 08:00-17:00 only')
  })
  it('a port of the line leads to one host, from outside and from inside, and opens nothing else', () => {
    const plan = applyEdits(known, [
      edit('addForward', {
        id: 'led',
        name: 'Prints',
        protocol: 'tcp',
        outside: { first: 8631, last: 8631 },
        deviceId: 'printer',
        inside: 631,
        reason: '',
      }),
    ])
    const model = siteModel(plan)
    const by = (from: Endpoint): string =>
      trace(model, from, { kind: 'forward', id: 'led' }, plan.services['svc-print']!).verdict
    expect([
      by({ kind: 'internet' }),
      by({ kind: 'device', id: 'harbour-desk' }),
      by({ kind: 'segment', id: 'visitors' }),
    ]).toEqual(['delivered', 'delivered', 'delivered'])
    const outside = (service: string): string =>
      trace(model, { kind: 'internet' }, { kind: 'device', id: 'printer' }, plan.services[service]!)
        .verdict
    expect([outside('svc-print'), outside('svc-web')]).toEqual(['delivered', 'blocked'])
    expect(may(plan, 'visitors', 'printer', 'svc-print')).toBe(false)
    expect(cellWords(plan, matrixOf(plan).cell('internet', 'office-net')!)).toBe(
      'Prints by port 8631',
    )
    const nat = applyEdits(plan, [
      edit('recordHandOff', { uplinkId: 'fibre', facts: { addressKind: 'carrier-grade' } }),
    ])
    expect(
      trace(
        siteModel(nat),
        { kind: 'internet' },
        { kind: 'forward', id: 'led' },
        plan.services['svc-print']!,
      ),
    ).toMatchObject({ verdict: 'broken', decidedBy: { kind: 'line' } })
  })
  it('what goes takes along what is said of it', () => {
    const plan = applyEdits(known, [
      edit('addGroup', { id: 'desks', name: 'Desks', memberIds: ['printer', 'cameras'] }),
      state('g', 'desks', 'visitors', 'any'),
      state('p', 'printer', 'internet', 'any'),
      edit('addForward', {
        id: 'led',
        name: 'Prints',
        protocol: 'tcp',
        outside: { first: 8631, last: 8631 },
        deviceId: 'printer',
        inside: 631,
        reason: '',
      }),
      edit('removeDevice', { id: 'printer' }),
    ])
    expect([
      Object.keys(plan.forwards),
      plan.groups.desks!.memberIds,
      Object.keys(plan.intents),
    ]).toEqual([[], ['cameras'], ['g']])
    expect(Object.keys(applyEdits(plan, [edit('removeGroup', { id: 'desks' })]).intents)).toEqual(
      [],
    )
  })
})
describe('trace', () => {
  const plan = applyEdits(quayside(), [
    edit('addTag', { segmentId: 'visitors', portIds: ['switch.2'] }),
    edit('denyPairs', { from: 'visitors', to: ['office-net'], reason: 'guests stay out' }),
  ])
  const model = siteModel(plan)
  const device = (id: string): Endpoint => ({ kind: 'device', id })
  const run = (from: Endpoint, to: Endpoint, service = 'svc-web', p = plan) =>
    trace(siteModel(p), from, to, p.services[service]!)

  it('names every hop and the rule that decides', () => {
    const t = run(device('visitor-phone'), { kind: 'internet' })
    expect(t.verdict).toBe('delivered')
    expect(t.hops.map((h) => h.layer)).toEqual([
      'host',
      'radio',
      'cable',
      'cable',
      'route',
      'rule',
      'nat',
      'line',
    ])
    expect(t.decidedBy).toMatchObject({ kind: 'rule', id: 'forward-int-visitors-internet' })
    expect(run(device('visitor-phone'), device('printer')).decidedBy).toMatchObject({
      kind: 'rule',
      text: 'guests stay out',
    })
  })
  it('inside a segment the gateway does not see it, and stops at the nearest switch', () => {
    const t = run(device('harbour-desk'), device('printer'), 'svc-print')
    expect(t).toMatchObject({ verdict: 'delivered', decidedBy: { kind: 'route' } })
    expect(t.hops.some((h) => h.deviceId === 'gateway')).toBe(false)
  })
  it('client isolation blocks two clients of one network', () => {
    const two = applyEdits(plan, [
      edit('addDevice', {
        id: 'phone-2',
        name: 'Second phone',
        profileId: 'handset',
        wirelessNetworkId: 'visitor-wifi',
        addressing: { mode: 'automatic', segmentId: 'visitors', address: null, gateway: null },
      }),
    ])
    expect(run(device('visitor-phone'), device('phone-2'), 'svc-ping', two)).toMatchObject({
      verdict: 'blocked',
      decidedBy: { kind: 'isolation' },
    })
    expect(
      run(
        device('visitor-phone'),
        device('phone-2'),
        'svc-ping',
        applyEdits(two, [
          edit('changeWirelessNetwork', {
            id: 'visitor-wifi',
            changes: { clientIsolation: false },
          }),
        ]),
      ).verdict,
    ).toBe('delivered')
  })
  it('follows the cable a host really hangs on, not the segment it was meant for', () => {
    const t = run(device('fuel-till'), { kind: 'gateway' }, 'svc-ssh')
    expect(
      t.hops.some((h) => /its socket carries VLAN 10 Management, not VLAN 20 Office/.test(h.text)),
    ).toBe(true)
    expect(t.verdict).toBe('delivered')
  })
  it.each<[string, EditCall[], Endpoint, Endpoint, RegExp]>([
    [
      'a lost tag',
      [edit('removeTag', { segmentId: 'visitors', portIds: ['switch.2'] })],
      device('visitor-phone'),
      { kind: 'internet' },
      /no access point both sends/,
    ],
    [
      'no line',
      [edit('changeUplink', { id: 'fibre', changes: { portId: null } })],
      device('harbour-desk'),
      { kind: 'internet' },
      /no default route/,
    ],
    [
      'no cable',
      [edit('removeLink', { id: 'l-desk' })],
      device('harbour-desk'),
      { kind: 'internet' },
      /no cable/,
    ],
    [
      'no subnet',
      [
        edit('changeSegment', {
          id: 'cameras',
          changes: { subnet: null, pools: [], gateway: null, fixedBlock: null },
        }),
      ],
      device('gate-camera'),
      { kind: 'internet' },
      /no subnet and gateway yet/,
    ],
    [
      'one network on both sides',
      [edit('recordHandOff', { uplinkId: 'fibre', facts: { providerLan: '10.20.40.0/24' } })],
      device('harbour-desk'),
      device('gate-camera'),
      /on both sides of the gateway/,
    ],
    [
      'a target that is not there',
      [],
      device('harbour-desk'),
      device('nobody'),
      /there is no device 'nobody'/,
    ],
  ])('gets lost with a reason: %s', (_, calls, from, to, text) => {
    const t = run(from, to, 'svc-video', applyEdits(plan, calls))
    expect(t.verdict).toBe('broken')
    expect(t.decidedBy.text).toMatch(text)
  })
  it('agrees with the matrix for hosts whose cables are right', () => {
    const matrix = matrixOf(plan)
    for (const from of segments)
      for (const to of [...segments, 'internet']) {
        if (from === to) continue
        for (const s of matrix.cell(from, to)!.services) {
          const t = trace(
            model,
            { kind: 'segment', id: from },
            to === 'internet' ? { kind: 'internet' } : { kind: 'segment', id: to },
            plan.services[s.serviceId]!,
          )
          expect(t.verdict === 'delivered', `${from} ${to} ${s.serviceId}`).toBe(s.allowed)
        }
      }
  })
})

it('offers a verdict for a pair by what is usual, and denies what is not', () => {
  const plan = quayside()
  expect(
    [
      ['visitors', 'internet'],
      ['visitors', 'office-net'],
      ['office-net', 'cameras'],
      ['harbour-desk', 'internet'],
      ['cameras', 'internet'],
      ['internet', 'office-net'],
    ].map(([from, to]) => usualVerdict(plan, from!, to!)),
  ).toEqual(['allow', 'deny', 'allow', 'allow', 'deny', 'deny'])
})
