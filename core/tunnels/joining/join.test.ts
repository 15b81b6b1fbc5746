import { describe, expect, it } from 'vitest'
import { dunlinSlipway } from '../../../demo/dunlinSlipway'
import { petrelStreet } from '../../../demo/petrelStreet'
import { quayside } from '../../../tests/sites/quayside'
import { parsePrefix, overlaps } from '../../addressing'
import { applyEdits, editCall as edit, type EditCall, type SitePlan } from '../../plan'
import { siteModel } from '../../topology'
import { privateKeyFrom, publicKeyOf } from '../keys/keys'
import { reckonTunnel } from '../reckoned'
import { joinSites, type JoinedSite, type KeyMaker, type Shape } from './join'

let made = 0
const keys: KeyMaker = {
  own: (siteId, tunnelId) => ({
    publicKey: publicKeyOf(privateKeyFrom(Uint8Array.from({ length: 32 }, () => ++made % 251)))!,
    privateKeyRef: `k-${siteId}-${tunnelId}`,
  }),
  shared: (a, b) => [`s-${a.peerId}`, `s-${b.peerId}`],
}
const asked = (name: string): EditCall =>
  edit('addTunnel', {
    ...{ id: 'people', name: 'People', hostDeviceId: 'gateway', listenPort: 51_820 },
    ...{ subnet: '10.250.20.0/24', endpointName: name },
    dynamicName: { how: 'update', server: 'ns.example.org', ttlSeconds: 300 },
  })
const quay = (): SitePlan => applyEdits(quayside(), [asked('quay.example.org')])
/** The shop with numbers of its own: its router's are the provider's as well. */
const shop = (): SitePlan => {
  const plan = petrelStreet()
  const [segment] = Object.values(plan.segments)
  return applyEdits(plan, [
    ...Object.keys(plan.tunnels).map((id) => edit('removeTunnel', { id })),
    edit('setSubnet', { segmentId: segment!.id, subnet: '10.30.20.0/24' }),
  ])
}
const site = (id: string, plan: SitePlan): JoinedSite => ({ id, name: plan.site.name, plan })
const three = (): JoinedSite[] => [
  site('quay', quay()),
  site('shop', shop()),
  site('slip', dunlinSlipway()),
]
function joined(sites: readonly JoinedSite[], shape: Shape) {
  const { edits, problems } = joinSites(sites, shape, keys)
  expect(problems).toEqual([])
  return sites.map(({ id, plan }) => {
    const after = applyEdits(plan, edits.get(id)!)
    const tunnel = Object.values(after.tunnels).find((t) => t.name === 'Our sites')!
    return { id, plan: after, tunnel, reckoned: reckonTunnel(siteModel(after), tunnel) }
  })
}

describe('sites joined over a hub', () => {
  it('have an end each, and what both say of each other fits', () => {
    const all = joined(three(), 'hub')
    expect(all.map((s) => s.reckoned.peers.map((p) => p.peer.siteId).sort())).toEqual([
      ['shop', 'slip'],
      ['quay'],
      ['quay'],
    ])
    for (const s of all)
      for (const { peer } of s.reckoned.peers) {
        const there = all.find((x) => x.id === peer.siteId)!
        expect(peer.publicKey).toBe(there.tunnel.publicKey)
        expect(peer.address).toBe(there.reckoned.ownAddress)
        expect(peer.sharedKeyRef).not.toBe('')
        // It is called where it says that it is called, or it calls.
        expect(peer.endpoint).toEqual(there.reckoned.called)
      }
    expect(new Set(all.map((s) => s.reckoned.ownAddress)).size).toBe(3)
    expect(new Set(all.map((s) => s.tunnel.subnet)).size).toBe(1)
    const subnet = parsePrefix(all[0]!.tunnel.subnet!)!
    for (const { plan } of all)
      for (const s of Object.values(plan.segments))
        expect(s.subnet !== null && overlaps(subnet, parsePrefix(s.subnet)!)).toBe(false)
  })
  it('of which one has behind the hub what the others have, guests left out', () => {
    const [, shopEnd, slipEnd] = joined(three(), 'hub')
    expect(shopEnd!.reckoned.peers[0]!.peer.networks).toEqual(
      expect.arrayContaining(['10.20.10.0/24', '10.44.10.0/24', '10.44.20.0/24']),
    )
    expect(slipEnd!.reckoned.peers[0]!.peer.networks).toContain('10.30.20.0/24')
    expect(shopEnd!.reckoned.peers[0]!.peer.networks.join()).not.toMatch(/10\.20\.90|10\.44\.90/)
  })
})

describe('all with all', () => {
  it('is a peer for each pair at both', () => {
    const calls = (name: string, plan: SitePlan): SitePlan =>
      applyEdits(plan, [
        ...Object.values(plan.uplinks).map((u) =>
          edit('recordHandOff', { uplinkId: u.id, facts: { addressKind: 'public' } }),
        ),
        asked(name),
      ])
    const sites = [
      site('quay', quay()),
      site('shop', calls('shop.example.org', shop())),
      site('slip', dunlinSlipway()),
    ]
    const all = joined(sites, 'all')
    expect(all.map((s) => s.reckoned.peers.length)).toEqual([2, 2, 2])
    const slip = all[2]!
    expect(slip.reckoned.peers.map((p) => p.peer.endpoint?.host).sort()).toEqual([
      'quay.example.org',
      'shop.example.org',
    ])
    expect(all[0]!.reckoned.peers.find((p) => p.peer.siteId === 'slip')!.peer.endpoint).toBeNull()
  })
  it('is refused where two of them can hear nobody', () => {
    const { edits, problems } = joinSites(three(), 'all', keys)
    expect(problems.join()).toMatch(/neither .* nor .* can be called: .*provider translates/)
    expect(edits.size).toBe(0)
  })
})

it('what meets, or is there already, is told', () => {
  const twice = joinSites([site('quay', quay()), site('other', quay())], 'hub', keys)
  expect(twice.problems.join()).toMatch(/10\.20\.10\.0\/24 of .* is in use at/)
  const [a, b] = joined(three().slice(0, 2), 'hub')
  const again = joinSites([site('quay', a!.plan), site('shop', b!.plan)], 'hub', keys)
  expect(again.problems.join()).toMatch(/a way leads there already/)
})
