import { describe, expect, it } from 'vitest'
import { EventQueue } from '../clock/eventQueue'
import { seededRandom } from '../clock/random'
import { decodeVendor, encodeVendor, toNumber, toText, type Frame } from '../frames/frame'
import { DhcpServer } from './dhcpServer'
import type { Answer } from './endpoint'
import { Host } from './host'
import { NetInterface } from './netInterface'
import { Router, type FilterRule, type OriginRule } from './router'
import { connect, disconnect, Socket } from './socket'
import { SpanningTree } from './spanningTree'
import { VlanBridge, type Membership } from './vlanBridge'

const queue = (): EventQueue => new EventQueue()
const run = (q: EventQueue, seconds: number): void => {
  const end = q.now + seconds
  while (q.step(end));
  q.now = end
}
const power = { powered: true }
const counter = { frames: 0 }
const cable = (q: EventQueue, name: string): [Socket, Socket] => {
  const pair: [Socket, Socket] = [
    new Socket(q, power, `${name}-a`, counter),
    new Socket(q, power, `${name}-b`, counter),
  ]
  connect(...pair)
  return pair
}

/** Hosts around one switch, each in the port of its name. */
function around(
  q: EventQueue,
  ports: Record<string, Membership>,
): { bridge: VlanBridge; hosts: Record<string, Host>; seen: Record<string, Frame[]> } {
  const bridge = new VlanBridge(q)
  const hosts: Record<string, Host> = {}
  const seen: Record<string, Frame[]> = {}
  Object.entries(ports).forEach(([name, membership], i) => {
    const [inside, outside] = cable(q, name)
    bridge.attach(name, inside, membership)
    const host = new Host(q, `02:00:00:00:00:0${i}`, (f) => outside.send(f), seededRandom(i))
    seen[name] = []
    outside.onFrame = (f) => {
      seen[name]!.push(f)
      if (f.tag === null) host.net.receive(f)
    }
    hosts[name] = host
  })
  return { bridge, hosts, seen }
}
const access = (vlan: number): Membership => ({ untagged: vlan, tagged: new Set() })
const trunk = (untagged: number | null, ...tagged: number[]): Membership => ({
  untagged,
  tagged: new Set(tagged),
})
const fixed = (h: Host, address: string, gateway: string | null = null): void =>
  h.setFixed({
    address: toNumber(address),
    length: 24,
    gateway: gateway ? toNumber(gateway) : null,
  })

describe('the queue', () => {
  it('runs events in order, equal times in the order asked for, and none that were cancelled', () => {
    const q = queue()
    const out: string[] = []
    q.after(2, () => out.push('c'))
    q.after(1, () => out.push('a'))
    q.after(1, () => out.push('b'))
    q.after(1.5, () => out.push('x')).cancel()
    run(q, 5)
    expect(out).toEqual(['a', 'b', 'c'])
    expect(q.now).toBe(5)
  })
})

describe('a switch with VLANs', () => {
  it('keeps segments apart and puts tags on only where they belong', () => {
    const q = queue()
    const { hosts, seen } = around(q, {
      one: access(10),
      two: access(10),
      other: access(20),
      trunk: trunk(null, 10, 20),
    })
    fixed(hosts.one!, '10.0.0.1')
    fixed(hosts.two!, '10.0.0.2')
    fixed(hosts.other!, '10.0.0.3')
    const answers: string[] = []
    hosts.one!.endpoint.ping(toNumber('10.0.0.2'), (a) => answers.push(a))
    hosts.one!.endpoint.ping(toNumber('10.0.0.3'), (a) => answers.push(a))
    run(q, 30)
    expect(answers).toEqual(['works', 'no-answer'])
    expect(seen.other).toEqual([])
    expect(new Set(seen.trunk!.map((f) => f.tag))).toEqual(new Set([10]))
    expect(seen.two!.every((f) => f.tag === null)).toBe(true)
  })
  it('learns where hosts are, and forgets after five minutes', () => {
    const q = queue()
    const { bridge, hosts } = around(q, { one: access(10), two: access(10) })
    fixed(hosts.one!, '10.0.0.1')
    fixed(hosts.two!, '10.0.0.2')
    hosts.one!.endpoint.ping(toNumber('10.0.0.2'), () => {})
    run(q, 5)
    expect(bridge.heardAt('one')).toEqual(['02:00:00:00:00:00'])
    run(q, 301)
    expect(bridge.heardAt('one')).toEqual([])
  })
  it('drops a tag that a port lost, both ways', () => {
    const q = queue()
    const { bridge, hosts, seen } = around(q, { one: access(10), trunk: trunk(null, 10) })
    bridge.lostTags.set('trunk', new Set([10]))
    fixed(hosts.one!, '10.0.0.1')
    hosts.one!.endpoint.ping(toNumber('10.0.0.9'), () => {})
    run(q, 20)
    expect(seen.trunk).toEqual([])
  })
})

describe('DHCP', () => {
  const served = (
    q: EventQueue,
    last: string,
  ): { client: Host; server: DhcpServer; unplug: () => void; plug: () => void } => {
    const [a, b] = cable(q, 'lan')
    const net = new NetInterface(q, '02:00:00:00:00:aa', (f) => a.send(f))
    net.set(toNumber('10.0.0.1'), 24)
    const server = new DhcpServer(
      {
        own: toNumber('10.0.0.1'),
        pools: [{ first: toNumber('10.0.0.10'), last: toNumber(last) }],
        reservations: new Map([['02:00:00:00:00:07', toNumber('10.0.0.5')]]),
        options: {
          length: 24,
          router: toNumber('10.0.0.1'),
          nameServer: null,
          leaseSeconds: 600,
          vendor: encodeVendor('http://10.0.0.2:8043'),
        },
      },
      (to, p) => net.sendTo(to, p),
    )
    a.onFrame = (f) => net.receive(f)
    net.onPacket = (p) => {
      if (p.body.protocol === 'udp' && p.body.data.kind === 'dhcp') server.receive(p.body.data)
    }
    const client = new Host(q, '02:00:00:00:00:06', (f) => b.send(f), seededRandom(1))
    b.onFrame = (f) => client.net.receive(f)
    return { client, server, unplug: () => disconnect(a), plug: () => connect(a, b) }
  }
  it('gives a lease with its options, and the same one again', () => {
    const q = queue()
    const { client } = served(q, '10.0.0.20')
    let vendor: string | null = null
    client.onAddress = (l) => {
      vendor = l?.options.vendor ? decodeVendor(l.options.vendor) : null
    }
    client.dhcp.start()
    run(q, 5)
    expect([toText(client.address!), client.gateway && toText(client.gateway), vendor]).toEqual([
      '10.0.0.10',
      '10.0.0.1',
      'http://10.0.0.2:8043',
    ])
    client.dhcp.start()
    run(q, 5)
    expect(toText(client.address!)).toBe('10.0.0.10')
  })
  it(
    'asks its server at half of the lease, all at seven eighths, and gives the address up at ' +
      'the end (RFC 2131 4.4.5)',
    () => {
      const q = queue()
      const { client, unplug, plug } = served(q, '10.0.0.20')
      client.dhcp.start()
      run(q, 5)
      unplug()
      run(q, 590)
      expect(client.address).not.toBeNull()
      run(q, 10)
      expect(client.address).toBeNull()
      plug()
      run(q, 60)
      expect(toText(client.address!)).toBe('10.0.0.10')
      // Renewed at half, the lease runs from there: it is past the end of the first one that it is
      // given up.
      run(q, 320)
      unplug()
      run(q, 500)
      expect(client.address).not.toBeNull()
      run(q, 120)
      expect(client.address).toBeNull()
    },
  )
  it('keeps its address where only the broadcast at seven eighths is heard', () => {
    const q = queue()
    const { client, unplug, plug } = served(q, '10.0.0.20')
    client.dhcp.start()
    run(q, 5)
    unplug()
    run(q, 500)
    plug()
    run(q, 600)
    expect(toText(client.address!)).toBe('10.0.0.10')
  })
  it('offers nothing when the pool is empty', () => {
    const q = queue()
    const { client, server } = served(q, '10.0.0.10')
    server.leases.set('02:00:00:00:00:99', toNumber('10.0.0.10'))
    const results: unknown[] = []
    client.dhcp.renew((l) => results.push(l))
    run(q, 60)
    expect(results).toEqual([null])
  })
  it('option 43 reads back, skipping other sub-options (RFC 2132 8.4)', () => {
    expect(decodeVendor(Uint8Array.of(7, 2, 1, 2, ...encodeVendor('http://a:1')))).toBe(
      'http://a:1',
    )
    expect(decodeVendor(Uint8Array.of(9, 1, 0))).toBeNull()
  })
})

describe('a spanning tree', () => {
  /** Two bridges with a cable between each pair of their sockets, and a host at each. */
  function pair(
    q: EventQueue,
    cables: number,
  ): { trees: SpanningTree[]; cut(n: number): void; ping(): Answer | undefined } {
    const counter = { frames: 0 }
    const sockets = [0, 1].map(() =>
      Array.from(
        { length: cables + 1 },
        (_, i) => new Socket(q, { powered: true }, String(i), counter),
      ),
    )
    const trees = [0, 1].map((n) => new SpanningTree(q, `02:00:00:00:00:0${n + 1}`))
    const hosts = [0, 1].map((n) => {
      const bridge = new VlanBridge(q, trees[n]!)
      for (const [i, s] of sockets[n]!.entries()) {
        bridge.attach(s.name, s, { untagged: 10, tagged: new Set() })
        trees[n]!.attach(s.name, s, i + 1)
      }
      const end = new Socket(q, { powered: true }, 'host', counter)
      const host = new Host(q, `02:00:00:00:01:0${n}`, (f) => end.send(f), seededRandom(1))
      end.onFrame = (f) => host.net.receive(f)
      connect(end, sockets[n]![cables]!)
      host.setFixed({ address: toNumber(`10.0.0.${n + 1}`), length: 24, gateway: null })
      return host
    })
    for (let i = 0; i < cables; i++) connect(sockets[0]![i]!, sockets[1]![i]!)
    trees.forEach((t, n) => t.start(n === 0 ? 4096 : 32_768, new Map()))
    const ping = (): Answer | undefined => {
      let answer: Answer | undefined
      hosts[0]!.endpoint.ping(toNumber('10.0.0.2'), (a) => {
        answer = a
      })
      run(q, 10)
      return answer
    }
    return { trees, ping, cut: (n) => disconnect(sockets[0]![n]!) }
  }
  it(
    'lets one of two cables pass, so that a broadcast goes round no more than once, and the ' +
      'other when the first is pulled out',
    () => {
      const q = new EventQueue()
      const { trees, ping, cut } = pair(q, 2)
      run(q, 10)
      expect([0, 1].map((n) => ['0', '1'].map((name) => trees[n]!.passes(name)))).toEqual([
        [true, true],
        [true, false],
      ])
      expect(ping()).toBe('works')
      cut(0)
      run(q, 10)
      expect(trees[1]!.passes('1')).toBe(true)
      expect(ping()).toBe('works')
    },
  )
  it('keeps what it knows as long as it is told, and closes a guarded socket where a bridge speaks', () => {
    const q = new EventQueue()
    const { trees, ping } = pair(q, 3)
    run(q, 3600)
    expect(['0', '1', '2'].map((name) => trees[1]!.passes(name))).toEqual([true, false, false])
    trees[1]!.start(32_768, new Map([['0', { isEdge: true, guard: true }]]))
    run(q, 30)
    expect(['0', '1', '2'].map((name) => trees[1]!.passes(name))).toEqual([false, true, false])
    expect(ping()).toBe('works')
  })
})

describe('a router', () => {
  const rule: FilterRule = {
    chain: 'forward',
    from: 'any',
    to: 'any',
    family: 'any',
    sources: null,
    destinations: null,
    protocol: 'any',
    ports: [],
    states: ['new'],
    forwarded: 'too',
    hours: null,
    verdict: 'accept',
  }
  const established: FilterRule = { ...rule, states: ['established', 'related'] }
  /** A router with a LAN (VLAN 10), a second LAN (20) and a line; a host on each. */
  function site(
    q: EventQueue,
    rules: FilterRule[],
    origins: OriginRule[] = [],
    addressLists: Record<string, string[]> = {},
    forwards: Parameters<Router['filter']>[0]['forwards'] = [],
  ): { router: Router; lan: Host; second: Host; outside: Host } {
    const router = new Router(q)
    router.filter({ rules, origins, addressLists, forwards })
    router.masquerade = new Set([10, 20])
    const host = (
      zone: 'line' | number,
      routerAddress: string,
      address: string,
      gateway: string | null,
    ): Host => {
      const [a, b] = cable(q, String(zone))
      const net = new NetInterface(q, `02:00:00:00:01:${zone === 'line' ? 'ff' : zone}`, (f) =>
        a.send(f),
      )
      net.set(toNumber(routerAddress), 24)
      a.onFrame = (f) => net.receive(f)
      if (zone === 'line')
        router.attachLine('wan', net, { mtu: 1500, group: 0, weight: 1 }).gateway =
          toNumber('203.0.113.1')
      else router.attach(zone, net)
      const h = new Host(
        q,
        `02:00:00:00:02:${zone === 'line' ? 'ff' : zone}`,
        (f) => b.send(f),
        seededRandom(1),
      )
      b.onFrame = (f) => h.net.receive(f)
      fixed(h, address, gateway)
      return h
    }
    const lan = host(10, '10.0.10.1', '10.0.10.9', '10.0.10.1')
    const second = host(20, '10.0.20.1', '10.0.20.9', '10.0.20.1')
    const outside = host('line', '203.0.113.2', '203.0.113.1', null)
    outside.endpoint.listening.set(443, () => 'page')
    second.endpoint.listening.set(554, () => 'stream')
    return { router, lan, second, outside }
  }
  const ask = (q: EventQueue, from: Host, to: string, port: number): string => {
    let answer = ''
    from.endpoint.connect(toNumber(to), port, (a) => {
      answer = a
    })
    run(q, 20)
    return answer
  }
  const allow = (from: 'line' | number, to: 'line' | number, ports: number[] = []): FilterRule => ({
    ...rule,
    from: [from],
    to: [to],
    protocol: ports.length ? 'tcp' : 'any',
    ports: ports.map((p) => ({ first: p, last: p })),
  })

  it('hides the LAN behind its own address; the outside, with no route back, still answers', () => {
    const q = queue()
    const { lan } = site(q, [established, allow(10, 'line')])
    expect(ask(q, lan, '203.0.113.1', 443)).toBe('works')
  })
  it('the first rule that matches decides; replies follow state; without a rule new connections are dropped', () => {
    const q = queue()
    const { lan, second } = site(q, [
      established,
      { ...allow(10, 20, [554]), verdict: 'drop' },
      allow(10, 20),
    ])
    expect(ask(q, lan, '10.0.20.9', 554)).toBe('no-answer')
    expect(ask(q, lan, '10.0.20.9', 80)).toBe('refused')
    expect(ask(q, second, '10.0.10.9', 80)).toBe('no-answer')
  })
  it('nothing comes in by the line that was not asked for', () => {
    const q = queue()
    const { lan, outside } = site(q, [established, allow(10, 'line')])
    expect(ask(q, lan, '203.0.113.1', 443)).toBe('works')
    expect(ask(q, outside, '203.0.113.2', 443)).toBe('no-answer')
    outside.gateway = toNumber('203.0.113.2')
    expect(ask(q, outside, '10.0.10.9', 80)).toBe('no-answer')
  })
  it('who sends from where they cannot be is not heard', () => {
    const origins: OriginRule[] = [
      { zone: 10, only: ['0.0.0.0/32', '10.0.10.0/24', 'fe80::/10'], never: [] },
      { zone: 'line', only: null, never: ['10.0.10.0/24', '10.0.20.0/24'] },
    ]
    const q = queue()
    const { lan, second, outside } = site(
      q,
      [established, allow(10, 20), allow('line', 20)],
      origins,
    )
    const heard: number[] = []
    second.net.onPacket = (p) => {
      heard.push(p.src)
    }
    const send = (from: Host, src: string, via: string): void => {
      from.net.send(
        {
          kind: 'ipv4',
          src: toNumber(src),
          dst: second.address!,
          ttl: 9,
          body: { protocol: 'tcp', srcPort: 1, dstPort: 80, flag: 'syn' },
        },
        toNumber(via),
      )
      run(q, 5)
    }
    for (const src of ['10.0.10.77', '10.0.20.77', '192.0.2.1']) send(lan, src, '10.0.10.1')
    for (const src of ['198.51.100.7', '10.0.10.77']) send(outside, src, '203.0.113.2')
    expect(heard).toEqual(['10.0.10.77', '198.51.100.7'].map(toNumber))
  })
  it('a rule for a list of addresses is for those, and one for IPv6 for none here', () => {
    const q = queue()
    const { lan } = site(
      q,
      [
        established,
        { ...allow(10, 20), destinations: 'some', verdict: 'drop' },
        { ...allow(10, 'line'), family: 'ipv6', verdict: 'drop' },
        allow(10, 20),
        allow(10, 'line'),
      ],
      [],
      { some: ['10.0.20.8/29', '2001:db8::/32'] },
    )
    expect(ask(q, lan, '10.0.20.9', 80)).toBe('no-answer')
    expect(ask(q, lan, '203.0.113.1', 443)).toBe('works')
  })
  it('a packet of no connection is invalid, not new', () => {
    const q = queue()
    const { outside, router, lan } = site(q, [established, allow('line', 10)])
    const before = counter.frames
    outside.gateway = toNumber('203.0.113.2')
    outside.net.send(
      {
        kind: 'ipv4',
        src: toNumber('203.0.113.1'),
        dst: lan.address!,
        ttl: 9,
        body: { protocol: 'tcp', srcPort: 1, dstPort: 80, flag: 'ack' },
      },
      toNumber('203.0.113.2'),
    )
    run(q, 5)
    // ARP question and answer and the packet itself reach the router; none goes on to the LAN.
    expect(counter.frames - before).toBe(3)
    expect(router.interfaces.size).toBe(3)
  })
  it('a ping that is allowed one way lets none through the other way, even with the same id at the same time', () => {
    const q = queue()
    const { lan, second } = site(q, [established, allow(10, 20)])
    const answers: string[] = []
    lan.endpoint.ping(second.address!, (a) => answers.push(`allowed ${a}`))
    second.endpoint.ping(lan.address!, (a) => answers.push(`denied ${a}`))
    run(q, 30)
    expect(answers).toEqual(['allowed works', 'denied no-answer'])
  })
  it('two hosts with the same source port are told apart outside', () => {
    const q = queue()
    const { lan, second } = site(q, [established, allow(10, 'line'), allow(20, 'line')])
    const answers: string[] = []
    for (const h of [lan, second])
      h.endpoint.connect(toNumber('203.0.113.1'), 443, (a) => answers.push(a))
    run(q, 20)
    expect(answers).toEqual(['works', 'works'])
  })
})
