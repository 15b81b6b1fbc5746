/**
 * The exports run by the programs that they are for and asked as clients would ask: a lease
 * obtained, kept over a restart of the server and renewed, through a
 * relay too, with the exported rules loaded; names inside, outside and in reverse over UDP and TCP.
 * Programs of Debian: kea-dhcp4, dnsmasq, named, udhcpc, dig, nft.
 */
import { describe, expect, it, onTestFinished } from 'vitest'
import { reverseName } from '@mast/core/addressing'
import { writeDnsmasqFiles, writeKeaFiles, writeNftables, writeZones } from '@mast/core/formats'
import { CONTROLLER_NAME, hostNames } from '@mast/core/naming'
import { chanceOf, randomSite, smallShape } from '@mast/core/generator'
import { editCall as edit, applyEdits, hasKnownAddress, type SitePlan } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { quayside } from '../../sites/quayside'
import { must } from '../judges/agent'
import { OUTSIDE, Place, until, type LeaseEvent, type Running } from './place'
import { dnsmasq, kea } from './programs'

const SERVER = '10.20.20.10'
const DOMAIN = 'quay.internal'
const A_DEVICE = '02:4b:48:00:00:20'

/**
 * The quay with a domain; its cameras ask a server in the office for leases, whom they may reach.
 */
const plan: SitePlan = applyEdits(quayside(), [
  edit('changeSite', { domain: DOMAIN }),
  edit('setController', { bootstrap: { port: 8543, passTo: null } }),
  edit('recordHandOff', { uplinkId: 'fibre', facts: { nameServers: [OUTSIDE.names] } }),
  edit('changeDevice', {
    id: 'printer',
    changes: {
      name: 'Lease server',
      addressing: {
        mode: 'fixed',
        segmentId: 'office-net',
        address: SERVER,
        gateway: '10.20.20.1',
      },
    },
  }),
  edit('setPool', { segmentId: 'office-net', first: '10.20.20.100', last: '10.20.20.200' }),
  edit('changeSegment', { id: 'cameras', changes: { dhcp: { mode: 'relay', relayTo: SERVER } } }),
  edit('addService', { id: 'svc-dhcp', name: 'DHCP', protocol: 'udp', ports: [67] }),
  edit('addIntent', {
    id: 'lease-cameras',
    from: 'cameras',
    to: 'office-net',
    service: 'svc-dhcp',
    action: 'allow',
    rank: 0,
    reason: 'renewals go straight to the server',
  }),
  edit('changeDevice', {
    id: 'harbour-desk',
    changes: {
      addressing: {
        mode: 'reserved',
        segmentId: 'office-net',
        address: '10.20.20.7',
        gateway: null,
      },
    },
  }),
])
const model = siteModel(plan)
const { visitors, cameras } = plan.segments as {
  visitors: SitePlan['segments'][string]
  cameras: SitePlan['segments'][string]
}
const controller = plan.devices.controller!.addressing.address!

function place(): Place {
  const p = new Place(plan)
  onTestFinished(() => p.end())
  must('ip', [
    'netns',
    'exec',
    p.gateway,
    '/usr/sbin/nft',
    '-f',
    p.file('rules.nft', writeNftables(plan)),
  ])
  p.run(p.outside, 'dnsmasq', [
    '-k',
    '--conf-file=/dev/null',
    '--no-resolv',
    '--no-hosts',
    '--bind-interfaces',
    `--listen-address=${OUTSIDE.names}`,
    `--address=/www.example.net/${OUTSIDE.host}`,
    '--pid-file=',
    '--user=root',
  ])
  return p
}
const value = (t: string): number => t.split('.').reduce((n, o) => n * 256 + Number(o), 0)
const isFromPool = (e: LeaseEvent, s: SitePlan['segments'][string]): boolean =>
  s.pools.some((q) => value(e.ip!) >= value(q.first) && value(e.ip!) <= value(q.last))
/**
 * Where devices wake up the leases tell of the controller: RFC 2132 8.4 with sub-option 1, RFC 5417
 * (an address), RFC 8572 8.1 (a length and the text).
 */
function controllerOptions(): object {
  const url = Buffer.from(`http://${controller}:8043`)
  const start = Buffer.from(`https://${controller}:8543`)
  return {
    opt43: Buffer.concat([Buffer.from([1, url.length]), url]).toString('hex'),
    opt138: Buffer.from(controller.split('.').map(Number)).toString('hex'),
    opt143: Buffer.concat([Buffer.from([0, start.length]), start]).toString('hex'),
  }
}

it(
  'dnsmasq on the gateway and Kea elsewhere through its relay: leases are given, kept over a ' +
    'restart and renewed, and the relayed segment hears its own server alone',
  async () => {
    const p = place()
    const [files, keaFiles] = [writeDnsmasqFiles(model), writeKeaFiles(model)]
    expect([...Object.keys(files), ...Object.keys(keaFiles)]).toEqual([
      'dnsmasq.conf',
      'dnsmasq-lease-server.conf',
      'kea-dhcp4.conf',
      'kea-dhcp4-lease-server.conf',
    ])
    const server = p.host('office-net', null, SERVER)
    const start = (): Promise<[Running, Running]> =>
      Promise.all([
        dnsmasq(p, p.gateway, files['dnsmasq.conf']!, 'gateway'),
        kea(p, server, keaFiles['kea-dhcp4-lease-server.conf']!, 'elsewhere'),
      ])
    const programs = await start()
    const visitor = p.client(p.host('visitors'))
    const desk = p.client(p.host('office-net', plan.devices['harbour-desk']!.hardwareAddress))
    const camera = p.client(p.host('cameras', plan.devices['gate-camera']!.hardwareAddress))
    const device = p.client(p.host('management', A_DEVICE))
    const first = await visitor.next('bound')
    expect(isFromPool(first, visitors)).toBe(true)
    expect(first).toMatchObject({
      router: visitors.gateway,
      dns: visitors.gateway,
      domain: DOMAIN,
      search: DOMAIN,
      lease: String(visitors.leaseSeconds),
    })
    expect((await desk.next('bound')).ip).toBe('10.20.20.7')
    const watched = await camera.next('bound')
    expect(watched).toMatchObject({
      serverid: SERVER,
      router: cameras.gateway,
      domain: DOMAIN,
      search: DOMAIN,
    })
    expect(programs[0].log()).not.toContain('DHCPOFFER(vlan40)')
    expect(await device.next('bound')).toMatchObject(controllerOptions())

    await Promise.all(programs.map((x) => x.stop()))
    await start()
    for (const [client, had] of [
      [visitor, first],
      [camera, watched],
    ] as const) {
      const before = client.events().length
      client.renew()
      expect((await client.next('renew', before)).ip).toBe(had.ip)
    }
  },
)

it('a server elsewhere may run dnsmasq as well, and answers for nothing but what is passed on to it', async () => {
  const p = place()
  const files = writeDnsmasqFiles(model)
  const server = p.host('office-net', null, SERVER)
  await dnsmasq(p, p.gateway, files['dnsmasq.conf']!, 'gateway')
  const elsewhere = await dnsmasq(p, server, files['dnsmasq-lease-server.conf']!, 'elsewhere')
  const camera = p.client(p.host('cameras'))
  expect(isFromPool(await camera.next('bound'), cameras)).toBe(true)
  expect((await p.client(p.host('office-net')).next('bound')).serverid).toBe('10.20.20.1')
  expect(elsewhere.log()).not.toMatch(/DHCPOFFER\(\S+\) 10\.20\.20\./)
})

it(
  'Kea on the gateway: a lease is given, kept over a restart and renewed; who asks for an ' +
    'address of elsewhere gets one of here',
  async () => {
    const p = place()
    const text = writeKeaFiles(model)['kea-dhcp4.conf']!
    const server = await kea(p, p.gateway, text, 'gateway')
    const client = p.client(p.host('visitors'))
    const desk = p.client(p.host('office-net', plan.devices['harbour-desk']!.hardwareAddress))
    const device = p.client(p.host('management', A_DEVICE))
    const first = await client.next('bound')
    expect(first).toMatchObject({
      router: visitors.gateway,
      dns: visitors.gateway,
      domain: DOMAIN,
      search: DOMAIN,
      lease: String(visitors.leaseSeconds),
    })
    expect((await desk.next('bound')).ip).toBe('10.20.20.7')
    expect(await device.next('bound')).toMatchObject(controllerOptions())
    await server.stop()
    await kea(p, p.gateway, text, 'gateway')
    const before = client.events().length
    client.renew()
    expect((await client.next('renew', before)).ip).toBe(first.ip)
    expect(
      isFromPool(await p.client(p.host('visitors'), ['-r', '192.168.7.7']).next('bound'), visitors),
    ).toBe(true)
  },
)

describe('names', () => {
  it(
    'inside, outside and in reverse are answered over UDP and TCP, with the rules loaded, and ' +
      'not by the line',
    async () => {
      const p = place()
      await dnsmasq(p, p.gateway, writeDnsmasqFiles(model)['dnsmasq.conf']!, 'gateway')
      const visitor = p.host('visitors', null, '10.20.90.77')
      const ask = (name: string, ...more: string[]): string =>
        p.dig(visitor, visitors.gateway!, name, ...more)
      for (const way of ['+notcp', '+tcp']) {
        expect(ask('www.example.net', way)).toBe(OUTSIDE.host)
        expect(ask(CONTROLLER_NAME, way)).toBe(controller)
        expect(ask(`lease-server.${DOMAIN}`, way)).toBe(SERVER)
        expect(ask(SERVER, way, '-x')).toBe(`lease-server.${DOMAIN}.`)
        expect(ask(`nobody.${DOMAIN}`, way)).toBe('')
        expect(ask(`harbour-gateway-90.${DOMAIN}`, way, '-t', 'AAAA')).toBe('')
      }
      must('ip', ['netns', 'exec', p.gateway, '/usr/sbin/nft', 'flush', 'ruleset'])
      expect(p.dig(p.outside, OUTSIDE.line, CONTROLLER_NAME)).not.toContain(controller)
    },
  )

  it(
    'are served by named from the zones: every name, its reverse, and a name server that has ' +
      'an address inside',
    async () => {
      const p = place()
      const zones = Object.entries(writeZones(model, 7)).map(
        ([zone, text], i) =>
          `zone "${zone}" { type primary; file "${p.file(`zone-${i}`, text)}"; };`,
      )
      const config =
        `options { directory "${p.folder}"; listen-on { 10.20.20.1; }; listen-on-v6 { none; }; ` +
        `pid-file none; session-keyfile none; recursion no; dnssec-validation no; };\ncontrols { ` +
        `};\n${zones.join('\n')}\n`
      const named = p.run(p.gateway, '/usr/sbin/named', ['-g', '-c', p.file('named.conf', config)])
      await until(
        () => `named: ${named.log()}`,
        () => / running$/m.test(named.log()),
      )
      const desk = p.host('office-net', null, '10.20.20.77')
      const ask = (name: string, ...more: string[]): string =>
        p.dig(desk, '10.20.20.1', name, ...more)
      for (const n of hostNames(model)) {
        expect(ask(`${n.label}.${DOMAIN}`)).toBe(n.address)
        expect(ask(n.address, '-x').split('\n'), reverseName(n.address)).toContain(
          `${n.label}.${DOMAIN}.`,
        )
      }
      const server = ask(DOMAIN, '-t', 'NS', '+tcp')
      expect(Object.values(plan.segments).map((s) => s.gateway)).toContain(ask(server))
      expect(ask(DOMAIN, '-t', 'SOA').split(' ')[0]).toBe(server)
    },
  )
})

/** Sites made up at random; more by the environment. */
const SITES = Number(process.env.MAST_SERVED_SITES ?? 2)

interface Served {
  readonly plan: SitePlan
  /** Of the server elsewhere; null where the gateway hands out all leases. */ readonly server: {
    readonly segmentId: string
    readonly address: string
    readonly relayedId: string
  } | null
}
/**
 * A random site with a domain; of every other one a segment asks a server in another segment for
 * its leases, whom it may reach.
 */
function servedSite(seed: number): Served {
  const chance = chanceOf(seed)
  const base = applyEdits(randomSite(chance, smallShape(chance, 0)), [
    edit('changeSite', { domain: DOMAIN }),
    edit('recordHandOff', { uplinkId: 'line', facts: { nameServers: [OUTSIDE.names] } }),
  ])
  const host = Object.values(base.devices).find(
    (d) =>
      hasKnownAddress(d) &&
      d.addressing.mode === 'fixed' &&
      base.profiles[d.profileId]!.kind === 'host',
  )
  const relayed = Object.values(base.segments).find((s) => s.id !== host?.addressing.segmentId)
  if (seed % 2 === 0 || !host || !relayed) return { plan: base, server: null }
  const { address, segmentId } = host.addressing as { address: string; segmentId: string }
  return {
    server: { segmentId, address, relayedId: relayed.id },
    plan: applyEdits(base, [
      edit('changeSegment', {
        id: relayed.id,
        changes: { dhcp: { mode: 'relay', relayTo: address } },
      }),
      edit('addService', { id: 'svc-dhcp', name: 'DHCP', protocol: 'udp', ports: [67] }),
      edit('stateFirst', {
        id: 'renewals',
        from: relayed.id,
        to: host.id,
        service: 'svc-dhcp',
        action: 'allow',
        reason: 'renewals go straight to the server',
      }),
    ]),
  }
}

it.each(Array.from({ length: SITES }, (_, i) => i + 1))(
  'random site %i: every segment gets leases of its own, kept over a restart and renewed, ' +
    'hosts with a reservation theirs, and names are answered',
  async (seed) => {
    const { plan: site, server } = servedSite(seed)
    const of = siteModel(site)
    const p = new Place(site)
    onTestFinished(() => p.end())
    must('ip', [
      'netns',
      'exec',
      p.gateway,
      '/usr/sbin/nft',
      '-f',
      p.file('rules.nft', writeNftables(site)),
    ])
    p.run(p.outside, 'dnsmasq', [
      '-k',
      '--conf-file=/dev/null',
      '--no-resolv',
      '--no-hosts',
      '--bind-interfaces',
      `--listen-address=${OUTSIDE.names}`,
      `--address=/www.example.net/${OUTSIDE.host}`,
      '--pid-file=',
      '--user=root',
    ])
    const elsewhere = server && p.host(server.segmentId, null, server.address)
    const named = (files: Record<string, string>, isGateway: boolean): string =>
      files[Object.keys(files).find((n) => isGateway === /^(dnsmasq|kea-dhcp4)\.conf$/.test(n))!]!
    // The gateway that relays runs dnsmasq, which can; the server elsewhere Kea. Of the others half
    // run Kea.
    const onKea = !server && seed % 4 === 0
    const start = (): Promise<Running[]> =>
      Promise.all([
        onKea
          ? kea(p, p.gateway, named(writeKeaFiles(of), true), 'gateway')
          : dnsmasq(p, p.gateway, named(writeDnsmasqFiles(of), true), 'gateway'),
        ...(elsewhere ? [kea(p, elsewhere, named(writeKeaFiles(of), false), 'elsewhere')] : []),
      ])
    const programs = await start()
    const segments = Object.values(site.segments)
    const clients = await Promise.all(
      segments.map(async (s) => {
        const client = p.client(p.host(s.id))
        return { s, client, first: await client.next('bound') }
      }),
    )
    for (const { s, first } of clients) {
      expect([s.id, isFromPool(first, s)]).toEqual([s.id, true])
      expect(first).toMatchObject({
        router: s.gateway,
        domain: DOMAIN,
        serverid: s.id === server?.relayedId ? server.address : s.gateway,
      })
    }
    for (const d of Object.values(site.devices)) {
      if (
        d.addressing.mode !== 'reserved' ||
        !hasKnownAddress(d) ||
        site.profiles[d.profileId]!.kind !== 'host'
      )
        continue
      expect(
        (await p.client(p.host(d.addressing.segmentId!, d.hardwareAddress)).next('bound')).ip,
      ).toBe(d.addressing.address)
    }
    await Promise.all(programs.map((x) => x.stop()))
    await start()
    for (const { client, first } of clients) {
      const before = client.events().length
      client.renew()
      expect((await client.next('renew', before)).ip).toBe(first.ip)
    }
    if (onKea) return
    const s = segments.at(-1)!
    const asking = p.host(s.id, null, s.pools[0]!.last)
    for (const way of ['+notcp', '+tcp']) {
      expect(p.dig(asking, s.gateway!, 'www.example.net', way)).toBe(OUTSIDE.host)
      for (const n of hostNames(of)) {
        expect(p.dig(asking, s.gateway!, `${n.label}.${DOMAIN}`, way)).toBe(n.address)
        expect(p.dig(asking, s.gateway!, n.address, way, '-x').split('\n')).toContain(
          `${n.label}.${DOMAIN}.`,
        )
      }
    }
  },
)
