import { describe, expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { applyEdits, editCall as edit, type EditCall } from '../plan'
import { trace } from '../forwarding'
import { matrixOf } from '../policy'
import { siteModel } from '../topology'
import { peerFile } from './files/ends'
import { reachedFrom } from './reach/reach'
import { reckonTunnel } from './reckoned'

const KEY = 'PpdxiEt6SxHiCOiyJzw7pnNRRInMBxs/aeq2p7jtaCk='
const harbour = (...edits: EditCall[]) =>
  applyEdits(kittiwakeHarbour(), [
    ...['road', 'chandlery', 'charts'].map((id) =>
      edit('changeTunnel', { id, changes: { publicKey: KEY } }),
    ),
    ...edits,
  ])
const reckoned = (plan = harbour(), id = 'road') => reckonTunnel(siteModel(plan), plan.tunnels[id]!)
const peerOf = (plan: ReturnType<typeof harbour>, id: string) =>
  reckoned(plan, plan.peers[id]!.tunnelId).peers.find((p) => p.peer.id === id)!

describe('what follows from a tunnel', () => {
  it('over PPPoE with IPv6 outside: 1492 - 80, and segments of 40 and 60 less', () => {
    expect(reckoned().size).toMatchObject({ mtu: 1412, segment: { ipv4: 1372, ipv6: 1352 } })
  })
  it('a peer is allowed its own address here; there what it may reach, and this end', () => {
    const plan = harbour()
    const office = peerOf(plan, 'office-laptop')
    expect(office.allowedHere).toEqual(['172.0.30.2/32'])
    expect(office.allowedThere).toContain('172.0.30.1/32')
    expect(office.allowedThere).toContain(plan.segments['office-net']!.subnet!)
    expect(office.allowedThere).not.toContain(plan.segments.payments!.subnet!)
    expect(peerOf(plan, 'warden-phone').allowedThere).toEqual(['0.0.0.0/0', '::/0'])
    expect(peerOf(plan, 'petrel-street').allowedHere).toEqual(['10.250.40.2/32', '192.168.1.0/24'])
  })
  it('is as fast as the least between, and says which that is', () => {
    const office = peerOf(harbour(), 'office-laptop')
    expect(office.down.by?.what).toBe('Office laptop down')
    expect(office.down.mbps).toBeCloseTo((50 * 1412) / 1492, 6)
    const contractor = peerOf(harbour(), 'contractor-laptop')
    expect(contractor.down.by?.what).toBe('Harbour fibre up')
  })
  it('keeps the way open where somebody is to be reached, and spares a phone', () => {
    const plan = harbour()
    expect(peerOf(plan, 'office-laptop').keepaliveThere).toBe(25)
    expect(peerOf(plan, 'warden-phone').keepaliveThere).toBe(0)
    expect(peerOf(plan, 'chart-exit')).toMatchObject({ keepaliveHere: 25, keepaliveThere: 0 })
  })
  it('nobody is called behind a translation, or at an address that changes', () => {
    expect(reckoned().called).toEqual({ host: 'kittiwake.example.org', port: 51_820 })
    const nameless = harbour(
      edit('changeTunnel', { id: 'road', changes: { endpointName: null, dynamicName: null } }),
    )
    expect(reckoned(nameless)).toMatchObject({ called: null, whyNot: /no name follows it/ })
    const shut = harbour(
      edit('recordHandOff', { uplinkId: 'fibre', facts: { addressKind: 'private' } }),
      edit('changeTunnel', { id: 'road', changes: { isPassedOn: false } }),
    )
    expect(reckoned(shut).whyNot).toMatch(/own router does not pass UDP 51820 on/)
    const onHost = harbour(
      edit('changeTunnel', { id: 'road', changes: { hostDeviceId: 'office-server' } }),
    )
    expect(reckoned(onHost).whyNot).toMatch(/no port of the line leads to Office server/)
    const led = applyEdits(onHost, [
      edit('addForward', {
        id: 'fwd-road',
        name: 'Road in',
        protocol: 'udp',
        outside: { first: 40_000, last: 40_000 },
        deviceId: 'office-server',
        inside: 51_820,
        reason: '',
      }),
    ])
    expect(reckoned(led).called).toEqual({ host: 'kittiwake.example.org', port: 40_000 })
  })
  it('the file of a peer says what is missing, and holds a key only where it was given one', () => {
    const plan = harbour(
      edit('changePeer', { id: 'office-laptop', changes: { privateKeyRef: 'x25519-peer-o' } }),
    )
    const r = reckoned(plan)
    const p = r.peers.find((x) => x.peer.id === 'office-laptop')!
    expect(peerFile(r, p, {}).missing).toEqual(['the private key of Office laptop'])
    const { file, missing } = peerFile(r, p, { 'x25519-peer-o': KEY })
    expect(missing).toEqual([])
    expect(file).toMatchObject({ privateKey: KEY, nameServers: ['172.0.30.1'], mtu: 1412 })
  })
})

describe('through a tunnel', () => {
  const plan = harbour()
  const model = siteModel(plan)
  const asks = (peer: string, to: Parameters<typeof trace>[2], service = 'svc-web', m = model) =>
    trace(m, { kind: 'peer', id: peer }, to, m.plan.services[service]!)

  it('the office reaches its server, the contractor does not; the rule is named', () => {
    const there = asks('office-laptop', { kind: 'device', id: 'office-server' })
    expect(there.verdict).toBe('delivered')
    expect(there.hops.map((h) => h.layer)).toEqual(
      expect.arrayContaining(['host', 'line', 'tunnel', 'rule', 'cable']),
    )
    const kept = asks('contractor-laptop', { kind: 'segment', id: 'office-net' })
    // Its own file does not even send it through.
    expect(kept).toMatchObject({ verdict: 'broken', decidedBy: { kind: 'tunnel' } })
    const warden = asks('warden-phone', { kind: 'segment', id: 'office-net' })
    expect(warden).toMatchObject({ verdict: 'blocked', decidedBy: { kind: 'rule' } })
  })
  it('all goes through where all is to, else it leaves by its own line', () => {
    expect(asks('warden-phone', { kind: 'internet' }).verdict).toBe('delivered')
    expect(asks('office-laptop', { kind: 'internet' })).toMatchObject({
      verdict: 'broken',
      decidedBy: { text: expect.stringMatching(/leaves by its own line/) },
    })
  })
  it('who goes through a provider comes out there, and while it is down is held back or not', () => {
    const charts = kittiwakeHarbour().devices['chart-machine']!.id
    const out = (m = model, family: 'ipv4' | 'ipv6' = 'ipv4') =>
      trace(
        m,
        { kind: 'device', id: charts },
        { kind: 'internet' },
        m.plan.services['svc-web']!,
        family,
      )
    expect(
      out(model, 'ipv6')
        .hops.map((h) => h.text)
        .join(),
    ).not.toMatch(/Chart provider/)
    expect(out().hops.map((h) => h.text)).toEqual(
      expect.arrayContaining([
        'leaves through Chart provider',
        'leaves with 10.64.12.7 in the tunnel',
        'into Chart provider, and out at Charts, northern exit',
      ]),
    )
    // What nobody sends through leaves by the line.
    const other = trace(
      model,
      { kind: 'device', id: 'harbour-desk' },
      { kind: 'internet' },
      model.plan.services['svc-web']!,
    )
    expect(other.hops.map((h) => h.text).join()).toMatch(/Harbour fibre/)
    expect(other.hops.map((h) => h.text).join()).not.toMatch(/Chart provider/)
    const keyless = (whenDown: 'blocked' | 'direct') =>
      out(
        siteModel(
          harbour(edit('changeTunnel', { id: 'charts', changes: { publicKey: null, whenDown } })),
        ),
      )
    expect(keyless('blocked')).toMatchObject({
      verdict: 'broken',
      decidedBy: { kind: 'tunnel', text: expect.stringMatching(/held back/) },
    })
    expect(keyless('direct').verdict).toBe('delivered')
  })
  it('nothing comes up without keys, an address, or a way in', () => {
    const without = (changes: object) =>
      asks(
        'office-laptop',
        { kind: 'segment', id: 'office-net' },
        'svc-web',
        siteModel(harbour(edit('changePeer', { id: 'office-laptop', changes }))),
      ).decidedBy.text
    expect(without({ publicKey: null })).toMatch(/public key of Office laptop is not here/)
    expect(without({ address: null })).toMatch(/has no address in the tunnel/)
    const off = harbour(edit('changeTunnel', { id: 'road', changes: { isActive: false } }))
    expect(
      asks('office-laptop', { kind: 'gateway' }, 'svc-web', siteModel(off)).decidedBy.text,
    ).toMatch(/is switched off/)
  })
  it('the matrix says the same of each peer and segment', () => {
    const matrix = matrixOf(plan)
    for (const peer of ['office-laptop', 'contractor-laptop', 'warden-phone']) {
      const reached = new Set(reachedFrom(plan, peer).map((r) => r.place))
      for (const s of model.segments)
        expect(matrix.cell(peer, s.id)!.verdict !== 'none', `${peer} to ${s.id}`).toBe(
          reached.has(s.id),
        )
    }
  })
})
