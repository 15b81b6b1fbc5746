import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { quayside } from '../../tests/sites/quayside'
import { trace, type Endpoint } from '../forwarding'
import { applyEdits, type EditCall, type SitePlan } from '../plan'
import { siteModel } from '../topology'
import { compilePolicy, decide, decideService, matrixOf, proposePolicy } from '.'

const edit = (name: string, args: unknown): EditCall => ({ name, args })
const segments = ['management', 'office-net', 'cameras', 'visitors']
const bare = applyEdits(quayside(), Object.values(quayside().intents).map((i) => edit('removeIntent', { id: i.id })))

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
    const intent = fc.record({ from: place, to: place, service: fc.constantFrom('any', 'svc-web', 'svc-ping', 'svc-dns'), action: fc.constantFrom('allow' as const, 'deny' as const), rank: fc.nat(50) }).filter((i) => i.from !== i.to)
    fc.assert(fc.property(fc.array(intent, { maxLength: 12 }), fc.constantFrom('deny' as const, 'allow' as const), place, place, (list, betweenSegments, from, to) => {
      fc.pre(from !== to)
      const intents = Object.fromEntries(list.map((i, n) => [`i${String(n).padStart(2, '0')}`, { ...i, id: `i${String(n).padStart(2, '0')}`, hours: null, reason: '' }]))
      const plan: SitePlan = { ...bare, intents, site: { ...bare.site, preferences: { ...bare.site.preferences, betweenSegments } } }
      const web = plan.services['svc-web']!
      const speaks = Object.values(intents).sort((a, b) => a.rank - b.rank || (a.id < b.id ? -1 : 1)).find((i) => i.from === from && i.to === to && (i.service === 'any' || i.service === 'svc-web'))
      const expected = from !== 'internet' && (speaks ? speaks.action === 'allow' : betweenSegments === 'allow')
      expect(decideService(plan, from, to, web).allowed).toBe(expected)
      expect(matrixOf(plan).cell(from, to)!.services.find((s) => s.serviceId === 'svc-web')!.allowed).toBe(expected)
    }))
  })
  it('device pages open from management alone', () => {
    const rules = compilePolicy(quayside())
    const page = (from: string): string => decide(rules, { chain: 'input', from, to: 'gateway', family: 'ipv4', protocol: 'tcp', port: 443 }).verdict
    expect([...segments, 'internet'].map(page)).toEqual(['accept', 'drop', 'drop', 'drop', 'drop'])
  })
  it('nothing comes in from the internet, even where the site is left open', () => {
    const open = applyEdits(bare, [edit('changeSite', { preferences: { betweenSegments: 'allow' } })])
    for (const to of segments) expect(matrixOf(open).cell('internet', to)!.verdict).toBe('none')
  })
  it('the provider\'s own network is no internet, but for what is stated of it, and leads nowhere else', () => {
    const open = applyEdits(bare, [
      edit('changeSite', { preferences: { betweenSegments: 'allow' } }), edit('stateIntent', { id: 'modem', from: 'management', to: '@line', services: ['svc-web'], action: 'allow', reason: 'the page of the modem' }),
    ])
    const matrix = matrixOf(open)
    expect(matrix.places.at(-1)).toBe('@line')
    expect(['management', 'office-net'].map((from) => matrix.cell(from, '@line')!.verdict)).toEqual(['some', 'none'])
    expect(matrix.cell('management', 'internet')!.verdict).toBe('all')
    expect(matrix.cell('@line', 'management')).toBeUndefined()
    const model = siteModel(open)
    const run = (from: string, to: Endpoint): string => trace(model, { kind: 'segment', id: from }, to, open.services['svc-web']!).verdict
    expect([run('management', { kind: 'provider' }), run('office-net', { kind: 'provider' }), run('office-net', { kind: 'internet' })]).toEqual(['delivered', 'blocked', 'delivered'])
    expect(compilePolicy(open).lists.find((l) => l.name === 'provider-network')!.prefixes).toEqual(['192.168.1.0/24'])
  })
  it('a service is allowed only where all its ports are', () => {
    const half = applyEdits(bare, [
      edit('addService', { id: 'svc-plain', name: 'plain web', protocol: 'tcp', ports: [80] }),
      edit('stateIntent', { id: 'a', from: 'visitors', to: 'internet', services: ['svc-plain'], action: 'allow' }),
    ])
    expect(decideService(half, 'visitors', 'internet', half.services['svc-web']!).allowed).toBe(false)
  })
  it('the proposal states each pair once, keeps what is stated, and lets nobody into the guarded segments', () => {
    const proposed = applyEdits(bare, proposePolicy(bare))
    expect(proposePolicy(proposed)).toEqual([])
    expect(matrixOf(proposed).cell('visitors', 'internet')!.verdict).toBe('all')
    for (const to of ['management', 'office-net', 'cameras']) expect(matrixOf(proposed).cell('visitors', to)!.verdict).toBe('none')
    expect(proposePolicy(quayside()).every((c) => !Object.values(quayside().intents).some((i) => i.from === (c.args as { from: string }).from && i.to === (c.args as { to: string }).to))).toBe(true)
  })
})

describe('trace', () => {
  const plan = applyEdits(quayside(), [edit('addTag', { segmentId: 'visitors', portIds: ['switch.2'] }), edit('denyPairs', { from: 'visitors', to: ['office-net'], reason: 'guests stay out' })])
  const model = siteModel(plan)
  const device = (id: string): Endpoint => ({ kind: 'device', id })
  const run = (from: Endpoint, to: Endpoint, service = 'svc-web', p = plan) => trace(siteModel(p), from, to, p.services[service]!)

  it('names every hop and the rule that decides', () => {
    const t = run(device('visitor-phone'), { kind: 'internet' })
    expect(t.verdict).toBe('delivered')
    expect(t.hops.map((h) => h.layer)).toEqual(['host', 'radio', 'cable', 'cable', 'route', 'rule', 'nat', 'line'])
    expect(t.decidedBy).toMatchObject({ kind: 'rule', id: 'forward-int-visitors-internet' })
    expect(run(device('visitor-phone'), device('printer')).decidedBy).toMatchObject({ kind: 'rule', text: 'guests stay out' })
  })
  it('inside a segment the gateway does not see it, and stops at the nearest switch', () => {
    const t = run(device('harbour-desk'), device('printer'), 'svc-print')
    expect(t).toMatchObject({ verdict: 'delivered', decidedBy: { kind: 'route' } })
    expect(t.hops.some((h) => h.deviceId === 'gateway')).toBe(false)
  })
  it('client isolation blocks two clients of one network', () => {
    const two = applyEdits(plan, [edit('addDevice', { id: 'phone-2', name: 'Second phone', profileId: 'handset', wirelessNetworkId: 'visitor-wifi', addressing: { mode: 'automatic', segmentId: 'visitors', address: null, gateway: null } })])
    expect(run(device('visitor-phone'), device('phone-2'), 'svc-ping', two)).toMatchObject({ verdict: 'blocked', decidedBy: { kind: 'isolation' } })
    expect(run(device('visitor-phone'), device('phone-2'), 'svc-ping', applyEdits(two, [edit('changeWirelessNetwork', { id: 'visitor-wifi', changes: { clientIsolation: false } })])).verdict).toBe('delivered')
  })
  it('follows the cable a host really hangs on, not the segment it was meant for', () => {
    const t = run(device('fuel-till'), { kind: 'gateway' }, 'svc-ssh')
    expect(t.hops.some((h) => /its socket carries VLAN 10 Management, not VLAN 20 Office/.test(h.text))).toBe(true)
    expect(t.verdict).toBe('delivered')
  })
  it.each<[string, EditCall[], Endpoint, Endpoint, RegExp]>([
    ['a lost tag', [edit('removeTag', { segmentId: 'visitors', portIds: ['switch.2'] })], device('visitor-phone'), { kind: 'internet' }, /no access point both sends/],
    ['no line', [edit('changeUplink', { id: 'fibre', changes: { portId: null } })], device('harbour-desk'), { kind: 'internet' }, /no default route/],
    ['no cable', [edit('removeLink', { id: 'l-desk' })], device('harbour-desk'), { kind: 'internet' }, /no cable/],
    ['no subnet', [edit('changeSegment', { id: 'cameras', changes: { subnet: null, pools: [], gateway: null, fixedBlock: null } })], device('gate-camera'), { kind: 'internet' }, /no subnet and gateway yet/],
    ['one network on both sides', [edit('recordHandOff', { uplinkId: 'fibre', facts: { providerLan: '10.20.40.0/24' } })], device('harbour-desk'), device('gate-camera'), /on both sides of the gateway/],
    ['a target that is not there', [], device('harbour-desk'), device('nobody'), /there is no device 'nobody'/],
  ])('gets lost with a reason: %s', (_, calls, from, to, text) => {
    const t = run(from, to, 'svc-video', applyEdits(plan, calls))
    expect(t.verdict).toBe('broken')
    expect(t.decidedBy.text).toMatch(text)
  })
  it('agrees with the matrix for hosts whose cables are right', () => {
    const matrix = matrixOf(plan)
    for (const from of segments) for (const to of [...segments, 'internet']) {
      if (from === to) continue
      for (const s of matrix.cell(from, to)!.services) {
        const t = trace(model, { kind: 'segment', id: from }, to === 'internet' ? { kind: 'internet' } : { kind: 'segment', id: to }, plan.services[s.serviceId]!)
        expect(t.verdict === 'delivered', `${from} ${to} ${s.serviceId}`).toBe(s.allowed)
      }
    }
  })
})
