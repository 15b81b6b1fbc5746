/** Tunnels on the stand-ins: they come up with the files that were made, and faults are named. */
import { describe, expect, it } from 'vitest'
import { controllerUrl } from '@mast/core/adoption'
import { applyEdits, editCall as edit, type EditCall, type SitePlan } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import {
  joinSites,
  overSwitches,
  privateKeyFrom,
  publicKeyOf,
  reckonTunnel,
  type JoinedSite,
} from '@mast/core/tunnels'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { petrelStreet } from '../../demo/petrelStreet'
import { quayside } from '../../tests/sites/quayside'
import type { Fault } from '../control/messages'
import { broughtUp, labelled, mended, pass, prove, until } from '../../tests/sites/broughtUp'

const ends = ['road', 'desk-laptop', 'warden-phone', 'shop', 'shop-gateway', 'charts', 'exit']
const keyOf = (n: number): string =>
  privateKeyFrom(Uint8Array.from({ length: 32 }, (_, i) => (n * 31 + i * 7) % 256))
const keys = Object.fromEntries(ends.map((id, n) => [`k-${id}`, keyOf(n)]))
const pub = (id: string): string => publicKeyOf(keys[`k-${id}`]!)!
const keyed = (id: string) => ({ publicKey: pub(id), privateKeyRef: `k-${id}` })
const allow = (from: string, to: string): EditCall =>
  edit('stateIntent', {
    id: `int-${from}-${to}`,
    from,
    to,
    services: 'any',
    action: 'allow',
    reason: 'theirs',
  })

/** People on the road, a shop in town and a provider for one machine. */
export function withTunnels(more: readonly EditCall[] = []): SitePlan {
  const plan = applyEdits(mended(quayside()), [
    edit('addTunnel', {
      id: 'road',
      name: 'Road',
      hostDeviceId: 'gateway',
      subnet: '10.250.30.0/24',
      listenPort: 51_820,
      endpointName: 'quay.example.org',
      dynamicName: { how: 'update', server: 'ns.example.org', ttlSeconds: 300 },
      ...keyed('road'),
    }),
    edit('addPeer', {
      id: 'desk-laptop',
      name: 'Desk laptop',
      tunnelId: 'road',
      address: '10.250.30.2',
      ...keyed('desk-laptop'),
    }),
    edit('addPeer', {
      id: 'warden-phone',
      name: 'Warden',
      device: 'phone',
      tunnelId: 'road',
      address: '10.250.30.3',
      isFull: true,
      ...keyed('warden-phone'),
    }),
    edit('addTunnel', {
      id: 'shop',
      name: 'Shop',
      kind: 'sites',
      hostDeviceId: 'gateway',
      subnet: '10.250.40.0/30',
      listenPort: 51_821,
      endpointName: 'quay.example.org',
      dynamicName: { how: 'update', server: 'ns.example.org', ttlSeconds: 300 },
      ...keyed('shop'),
    }),
    edit('addPeer', {
      id: 'shop-gateway',
      name: 'Shop gateway',
      device: 'gateway',
      tunnelId: 'shop',
      address: '10.250.40.2',
      networks: ['192.168.7.0/24'],
      ...keyed('shop-gateway'),
    }),
    edit('addTunnel', {
      id: 'charts',
      name: 'Charts',
      kind: 'provider',
      hostDeviceId: 'gateway',
      subnet: '10.64.12.7/32',
      throughIds: ['harbour-desk'],
      whenDown: 'blocked',
      ...keyed('charts'),
    }),
    edit('addPeer', {
      id: 'exit',
      name: 'Exit',
      tunnelId: 'charts',
      device: 'server',
      publicKey: pub('exit'),
      endpoint: { host: 'north.charts.example', port: 51_820 },
      keepaliveSeconds: 25,
    }),
    allow('desk-laptop', 'office-net'),
    allow('warden-phone', 'internet'),
    allow('office-net', 'shop'),
    ...more,
  ])
  return mended(plan)
}

/** A name under which the site is found. */
const named = (): EditCall =>
  edit('addTunnel', {
    ...{ id: 'road', name: 'Road', hostDeviceId: 'gateway', subnet: '10.250.30.0/24' },
    ...{ listenPort: 51_820, endpointName: 'quay.example.org', ...keyed('road') },
    dynamicName: { how: 'update', server: 'ns.example.org', ttlSeconds: 300 },
  })

describe('tunnels on the stand-ins', () => {
  it('come up with the files that were made, and prove as planned', async () => {
    const up = await broughtUp(withTunnels(), 7, keys)
    const { wrong, count } = await prove(up)
    expect(wrong).toEqual([])
    expect(count.proven).toBe(true)
  })

  it.each<[Fault, string, RegExp]>([
    [{ kind: 'tunnel-key', peerId: 'desk-laptop' }, 'tunnel-key', /do not know each other/],
    [
      { kind: 'tunnel-endpoint', peerId: 'desk-laptop' },
      'tunnel-endpoint',
      /calls 192.0.2.199, and the line is at/,
    ],
    [
      { kind: 'tunnel-forward', lineId: 'fibre', port: 51_820 },
      'tunnel-forward',
      /does not come to the line/,
    ],
    [
      { kind: 'tunnel-port', tunnelId: 'road' },
      'tunnel-port',
      /nor from outside does the gateway take in/,
    ],
    [
      { kind: 'tunnel-no-access', tunnelId: 'road' },
      'tunnel-no-access',
      /does not get on from the gateway/,
    ],
    [
      { kind: 'tunnel-allowed', peerId: 'desk-laptop' },
      'tunnel-allowed',
      /its file allows too little/,
    ],
    [
      { kind: 'tunnel-silence', peerId: 'desk-laptop' },
      'tunnel-silence',
      /after some minutes no more/,
    ],
    [{ kind: 'tunnel-size', peerId: 'desk-laptop' }, 'tunnel-size', /pages begin and hang/],
    [{ kind: 'stale-name', lineId: 'fibre' }, 'tunnel-endpoint', /the name did not follow/],
  ])('%o is named by the proof', async (fault, kind, words) => {
    const up = await broughtUp(withTunnels(), 7, keys)
    expect(up.world.setFault(fault, true).ok).toBe(true)
    for (const p of up.world.outside.peers.values()) p.restart()
    await pass(up.world, 400)
    const { causes, wrong } = await prove(up)
    const told = causes.map((c) => `${c.kind}: ${c.text}`)
    expect(told, wrong.join('\n')).toEqual(
      expect.arrayContaining([expect.stringMatching(new RegExp(`^${kind}: .*${words.source}`))]),
    )
    // Whatever else is named has to do with tunnels too.
    expect(told.filter((t) => !t.startsWith('tunnel-'))).toEqual([])
    up.world.setFault(fault, false)
    for (const p of up.world.outside.peers.values()) p.restart()
    await pass(up.world, 700)
    expect((await prove(up)).wrong).toEqual([])
  })

  const ike = {
    ...{ proposal: 'aes256gcm16-prfsha384-ecp384', childProposal: 'aes256gcm16-ecp384' },
    ...{ localId: 'quay.example.org', remoteId: 'works', lifetimeSeconds: 14_400 },
    ...{ childLifetimeSeconds: 3600, remoteSelectors: ['192.168.7.0/24'] },
  }
  /** A works with a foreign end, of which one of two segments is named. */
  const withIke = (calls: boolean, more: object = {}): SitePlan => {
    const plan = mended(quayside())
    const office = plan.segments['office-net']!.subnet!
    return mended(
      applyEdits(plan, [
        edit('addTunnel', {
          ...{ id: 'works', name: 'Works', kind: 'sites', protocol: 'ikev2' },
          ...{ hostDeviceId: 'gateway', endpointName: 'quay.example.org' },
          dynamicName: { how: 'update', server: 'ns.example.org', ttlSeconds: 300 },
          ike: { ...ike, localSelectors: [office], ...more },
        }),
        edit('addPeer', {
          ...{ id: 'works-gateway', name: 'Works gateway', device: 'gateway', tunnelId: 'works' },
          ...{ networks: ['192.168.7.0/24'], sharedKeyRef: 'k-works' },
          endpoint: calls ? { host: 'works.example.net', port: 500 } : null,
        }),
        allow('office-net', 'works'),
        allow('works', 'office-net'),
      ]),
    )
  }
  const shared = { 'k-works': 'three fathoms of line and a bucket' }

  it.each([
    ['that this end calls', true],
    ['that calls this end', false],
  ])('IKEv2 %s carries what both ends name', async (_, calls) => {
    const up = await broughtUp(withIke(calls), 7, shared)
    const { wrong, results, count } = await prove(up)
    expect(wrong).toEqual([])
    expect(count.proven).toBe(true)
    expect(results.map((r) => r.test.title)).toEqual(
      expect.arrayContaining([
        'Works gateway and Works shake hands, from outside',
        'Works gateway reaches printing on Office printer',
        expect.stringMatching(/reaches Works gateway in the tunnel/),
      ]),
    )
  })
  it.each([
    ['proposal', 'tunnel-proposal'],
    ['identity', 'tunnel-identity'],
    ['key', 'tunnel-identity'],
    ['networks', 'tunnel-networks'],
  ] as const)('another %s at the other end of IKEv2 is named', async (what, kind) => {
    const up = await broughtUp(withIke(what === 'key'), 7, shared)
    const fault: Fault = { kind: 'tunnel-foreign', peerId: 'works-gateway', what }
    expect(up.world.setFault(fault, true).ok).toBe(true)
    await pass(up.world, 600)
    expect((await prove(up)).causes.map((c) => c.kind)).toEqual([kind])
    up.world.setFault(fault, false)
    await pass(up.world, 600)
    expect((await prove(up)).wrong).toEqual([])
  })

  it('a shop joins the site that has its controller, and its devices come into service', async () => {
    const found = applyEdits(petrelStreet(), [
      edit('changeTunnel', { id: 'harbour', changes: keyed('shop') }),
      edit('changePeer', { id: 'kittiwake', changes: { publicKey: pub('road') } }),
    ])
    const plan = labelled(mended(found))
    expect(controllerUrl(siteModel(plan))).toBe('http://10.20.10.5:8043')
    const up = await broughtUp(plan, 7, keys)
    const { wrong, results } = await prove(up)
    expect(wrong).toEqual([])
    const serving = results.filter((r) => r.test.kind === 'service').map((r) => r.test.title)
    expect(serving).toEqual(['Shop gateway is in service', 'Shop AP is in service'])
    // As it was found, the shop has the numbers of the provider's own router, and nothing gets out.
    const shut = await broughtUp(labelled(found), 7, keys)
    expect((await prove(shut)).wrong.join()).toMatch(/Shop AP is in service: lost/)
  })

  it('of the harbour prove as planned, and the shop reaches its controller there', async () => {
    const plan = applyEdits(kittiwakeHarbour(), [
      edit('changeTunnel', { id: 'road', changes: keyed('road') }),
      edit('changeTunnel', { id: 'chandlery', changes: keyed('shop') }),
      edit('changeTunnel', { id: 'charts', changes: keyed('charts') }),
      edit('addService', { id: 'svc-call', name: 'controller', protocol: 'tcp', ports: [8043] }),
      edit('stateIntent', {
        id: 'int-call',
        from: 'petrel-street',
        to: 'controller',
        services: ['svc-call'],
        action: 'allow',
        reason: 'the shop is looked after from here',
      }),
    ])
    const { wrong, results } = await prove(await broughtUp(labelled(mended(plan)), 7, keys))
    expect(wrong).toEqual([])
    const titles = results.map((r) => r.test.title)
    expect(titles).toContain('Petrel Street Chandlery reaches controller on Controller')
    expect(titles).toContain('Chart download machine comes out at Charts, northern exit')
  })

  it("that end on a host behind the gateway, and behind its provider's router, come up as well", async () => {
    // The forward that leads to the host is what a finding offers.
    const plan = mended(
      applyEdits(mended(quayside()), [
        edit('recordHandOff', {
          uplinkId: 'fibre',
          facts: { addressKind: 'private', providerLan: '192.168.99.0/24' },
        }),
        edit('addTunnel', {
          ...{ id: 'road', name: 'Road', hostDeviceId: 'controller', subnet: '10.250.30.0/24' },
          ...{ listenPort: 51_820, endpointName: 'quay.example.org', isPassedOn: true },
          dynamicName: { how: 'web', server: 'names.example.org', ttlSeconds: 300 },
          ...keyed('road'),
        }),
        edit('addPeer', {
          ...{ id: 'desk-laptop', name: 'Desk laptop', tunnelId: 'road' },
          address: '10.250.30.2',
          ...keyed('desk-laptop'),
        }),
        allow('desk-laptop', 'office-net'),
      ]),
    )
    const { wrong, results } = await prove(await broughtUp(plan, 7, keys))
    expect(wrong).toEqual([])
    expect(results.map((r) => r.test.title)).toEqual(
      expect.arrayContaining([
        'Desk laptop and Road shake hands, from outside',
        'Desk laptop reaches printing on Office printer',
      ]),
    )
  })

  it('that end two on one host are each led to by their port', async () => {
    const own = (id: string, port: number, subnet: string): EditCall =>
      edit('addTunnel', {
        ...{ id, name: id, hostDeviceId: 'controller', subnet, listenPort: port },
        endpointName: 'quay.example.org',
        dynamicName: { how: 'web', server: 'names.example.org', ttlSeconds: 300 },
        ...keyed(id),
      })
    const plan = mended(
      applyEdits(mended(quayside()), [
        own('road', 51_820, '10.250.30.0/24'),
        own('shop', 51_821, '10.250.40.0/24'),
        edit('addPeer', {
          ...{ id: 'desk-laptop', name: 'Desk laptop', tunnelId: 'road' },
          ...{ address: '10.250.30.2', ...keyed('desk-laptop') },
        }),
        edit('addPeer', {
          ...{ id: 'shop-gateway', name: 'Shop gateway', tunnelId: 'shop' },
          ...{ address: '10.250.40.2', ...keyed('shop-gateway') },
        }),
        allow('desk-laptop', 'office-net'),
        allow('shop-gateway', 'office-net'),
      ]),
    )
    const { wrong, results } = await prove(await broughtUp(plan, 7, keys))
    expect(wrong).toEqual([])
    expect(results.map((r) => r.test.title)).toEqual(
      expect.arrayContaining([
        'Desk laptop reaches printing on Office printer',
        'Shop gateway reaches printing on Office printer',
      ]),
    )
  })

  it('of three sites over a hub carry from one to another as Policy says', async () => {
    const other = (id: string, name: string, subnet: string): JoinedSite => {
      const plan = applyEdits(quayside(), [
        edit('changeSite', { name }),
        ...Object.keys(quayside().segments)
          .filter((s) => s !== 'office-net')
          .map((s) => edit('setSubnet', { segmentId: s, subnet: null })),
        edit('setSubnet', { segmentId: 'office-net', subnet }),
      ])
      return { id, name, plan }
    }
    const hub = { id: 'quay', name: 'Quay', plan: applyEdits(mended(quayside()), [named()]) }
    const sites = [
      hub,
      other('east', 'East', '10.31.20.0/24'),
      other('west', 'West', '10.32.20.0/24'),
    ]
    const made: Record<string, string> = {}
    const { edits, problems } = joinSites(sites, 'hub', {
      own(siteId) {
        const key = keyOf(40 + siteId.length + siteId.charCodeAt(0))
        made[`own-${siteId}`] = key
        return { publicKey: publicKeyOf(key)!, privateKeyRef: `own-${siteId}` }
      },
      shared: (a, b) => {
        const [first, second] = [`s-${a.peerId}`, `s-${b.peerId}-there`]
        made[first] = made[second] = keyOf(90 + b.siteId.length)
        return [first, second]
      },
    })
    expect(problems).toEqual([])
    const of = (more: readonly EditCall[]): SitePlan =>
      labelled(
        mended(
          applyEdits(hub.plan, [...edits.get('quay')!, allow('our-sites', 'office-net'), ...more]),
        ),
      )
    const over = async (more: readonly EditCall[]) => {
      const { wrong, results } = await prove(await broughtUp(of(more), 7, { ...keys, ...made }))
      expect(wrong).toEqual([])
      return results.map((r) => r.test.title).filter((t) => t.endsWith('over Our sites'))
    }
    expect(await over([])).toEqual([
      'East must not reach West, over Our sites',
      'West must not reach East, over Our sites',
    ])
    expect(await over([allow('east', 'west')])).toEqual([
      'East reaches West, over Our sites',
      'West must not reach East, over Our sites',
    ])
  })

  it('that this end calls follow it to the other line, no later than reckoned', async () => {
    const plan = labelled(
      mended(
        applyEdits(petrelStreet(), [
          edit('changeTunnel', { id: 'harbour', changes: keyed('shop') }),
          edit('changePeer', {
            id: 'kittiwake',
            changes: { publicKey: pub('road'), keepaliveSeconds: 25 },
          }),
          // Its own modem answers whatever lies behind it.
          edit('changeUplink', {
            id: 'cable',
            changes: {
              watch: {
                ...petrelStreet().uplinks.cable!.watch!,
                tests: [{ kind: 'ping', target: '198.51.100.80', port: null }],
              },
            },
          }),
        ]),
      ),
    )
    const model = siteModel(plan)
    const [over] = overSwitches(model, reckonTunnel(model, plan.tunnels.harbour!))
    expect(over).toMatchObject({
      lineId: 'cable',
      nextId: 'stick',
      why: expect.stringMatching(/it calls/),
    })
    const { world } = await broughtUp(plan, 7, keys)
    const ping = async () => {
      const asked = world.probe([
        {
          ...{ id: 'p', from: 'gateway', kind: 'ping', port: null },
          target: { kind: 'address', address: '10.20.0.1' },
        },
      ])
      return (await until(world, asked))[0]!.outcome
    }
    expect(await ping()).toBe('works')
    const died = world.queue.now
    expect(world.setFault({ kind: 'dead-path', lineId: 'cable' }, true).ok).toBe(true)
    expect(await ping()).not.toBe('works')
    while ((await ping()) !== 'works' && world.queue.now < died + 3600) await pass(world, 1)
    expect(world.queue.now - died).toBeLessThanOrEqual(over!.seconds!.worst + 8)
    expect(world.queue.now - died).toBeGreaterThanOrEqual(over!.seconds!.best)
  })
})
