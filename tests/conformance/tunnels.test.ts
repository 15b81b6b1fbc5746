/**
 * Tunnels against the outside world: keys against wg(8), and files against userspace WireGuard
 * between network namespaces. A gateway with the exported rules and the exported file, peers behind a
 * translation of addresses somewhere outside with theirs: real connections to hosts of every segment,
 * to the internet, and back, held against what the trace foretells.
 * Needs root, iproute2, nftables, python3, wireguard-tools and wireguard-go; without one of them the
 * run fails.
 */
import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it, onTestFinished } from 'vitest'
import { formatAddress, parsePrefix, usableRange } from '@mast/core/addressing'
import { trace, type Endpoint } from '@mast/core/forwarding'
import { writeNftables } from '@mast/core/formats'
import { chanceOf, randomSite, smallShape } from '@mast/core/generator'
import {
  applyEdits,
  editCall as edit,
  freeTunnelNetwork,
  tunnelInterface,
  type EditCall,
  type Service,
  type SitePlan,
} from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import {
  explainShow,
  ownFile,
  peerFile,
  privateKeyFrom,
  publicKeyOf,
  readShow,
  reckonTunnel,
  writeTunnelFile,
} from '@mast/core/tunnels'
import { Agent, ip, must, type Try } from './judges/agent'
import { portsAsked } from './judges/flows'

/** A sample, as every site takes seconds; ./mast test judges takes forty. */
const SITES = Number(process.env.MAST_TUNNEL_SITES ?? 3)
const NFT = '/usr/sbin/nft'
const INTERNET = '198.51.100.80'
const LINE = '203.0.113.80'
/** Where the site stands behind the router of its provider, which leads the port on. */
const BEHIND = { network: '192.168.251.0/24', router: '192.168.251.1', gateway: '192.168.251.20' }
const isBehind = (seed: number): boolean => seed % 4 === 3
/** Longer than who has sent something waits for an answer before it calls anew. */
const QUIET_MS = 20_000
/** On one site the translation before the peers forgets all, and nobody outside asks anything more. */
const isForgotten = (seed: number): boolean => seed === 1
const PEERS = ['peer-1', 'peer-2', 'peer-3'] as const

function wg(args: readonly string[], input?: string): string {
  return must('wg', args, input).trim()
}

describe('keys', () => {
  it('are halves of one pair to wg(8) as well, 40 times', () => {
    for (let n = 0; n < 40; n++) {
      const mine = privateKeyFrom(
        Uint8Array.from({ length: 32 }, (_, i) => (n * 37 + i * 11) % 256),
      )
      expect(publicKeyOf(mine)).toBe(wg(['pubkey'], mine))
    }
    const theirs = wg(['genkey'])
    expect(publicKeyOf(theirs)).toBe(wg(['pubkey'], theirs))
  })
})

interface Site {
  readonly plan: SitePlan
  readonly keys: Readonly<Record<string, string>>
}

/** A random site whose line has an address of its own, with three people on the road. */
function siteOf(seed: number): Site {
  const chance = chanceOf(seed)
  const plan = randomSite(chance, smallShape(chance, 0))
  const line = Object.values(plan.uplinks)[0]!
  Object.assign(
    line.handOff,
    { mode: 'fixed', ipv6: 'none', mtu: 1500 },
    isBehind(seed)
      ? {
          ...{ address: `${BEHIND.gateway}/24`, gateway: BEHIND.router, addressKind: 'private' },
          providerLan: BEHIND.network,
        }
      : { address: `${LINE}/26`, gateway: '203.0.113.65', addressKind: 'public' },
  )
  for (const i of Object.values(plan.intents)) i.hours = null
  const keys = Object.fromEntries(['road', ...PEERS].map((id) => [`key-${id}`, wg(['genkey'])]))
  const pub = (id: string): string => wg(['pubkey'], keys[`key-${id}`]!)
  const subnet = freeTunnelNetwork(plan, null)!
  const host = subnet.replace(/\.0\/24$/, '')
  const model = siteModel(plan)
  const edits: EditCall[] = [
    edit('addTunnel', {
      id: 'road',
      name: 'Road',
      hostDeviceId: model.gateway!.id,
      subnet,
      listenPort: 51_820,
      publicKey: pub('road'),
      privateKeyRef: 'key-road',
      ...(isBehind(seed) ? { endpointName: LINE, isPassedOn: true } : {}),
    }),
    ...PEERS.map((id, n) =>
      edit('addPeer', {
        id,
        name: id,
        tunnelId: 'road',
        address: `${host}.${n + 2}`,
        publicKey: pub(id),
        privateKeyRef: `key-${id}`,
        isFull: n === 2,
        // One of them says nothing while nobody asks it.
        ...(isForgotten(seed) && n === 1 ? { keepaliveSeconds: 0 } : {}),
      }),
    ),
    ...Object.keys(plan.segments).flatMap((to, n): EditCall[] =>
      ['road', ...PEERS].flatMap((from, m) =>
        chance.happens(from === 'road' ? 0.3 : 0.35)
          ? [
              edit('stateIntent', {
                id: `into-${n}-${m}`,
                from,
                to,
                services: chance.happens(0.5) ? 'any' : [chance.one(Object.keys(plan.services))],
                action: chance.happens(0.8) ? 'allow' : 'deny',
              }),
            ]
          : [],
      ),
    ),
    edit('stateIntent', {
      id: 'out',
      from: 'peer-3',
      to: 'internet',
      services: 'any',
      action: 'allow',
    }),
    ...(isForgotten(seed)
      ? PEERS.map((to) =>
          edit('stateIntent', {
            ...{ id: `held-${to}`, from: Object.keys(plan.segments)[0]!, to },
            ...{ services: 'any', action: 'allow' },
          }),
        )
      : []),
    ...(chance.happens(0.6)
      ? [
          edit('stateIntent', {
            id: 'back',
            from: Object.keys(plan.segments)[0]!,
            to: chance.one([...PEERS]),
            services: 'any',
            action: 'allow',
          }),
        ]
      : []),
  ]
  return { plan: applyEdits(plan, edits), keys }
}

interface Asked extends Try {
  readonly by: string
  readonly predicted: boolean
  readonly because: string
}

async function judge(seed: number, folder: string) {
  const { plan, keys } = siteOf(seed)
  const model = siteModel(plan)
  const reckoned = reckonTunnel(model, plan.tunnels.road!)
  const segments = Object.values(plan.segments)
  const mark = `at${process.pid}-`
  const [gw, net, nat, box] = ['gw', 'net', 'nat', 'box'].map((s) => mark + s) as [
    string,
    string,
    string,
    string,
  ]
  const atLine = isBehind(seed)
    ? { address: `${BEHIND.gateway}/24`, router: BEHIND.router, space: box }
    : { address: `${LINE}/26`, router: '203.0.113.65', space: net }
  const hostSpace = (n: number): string => `${mark}h${n}`
  const peerSpace = (n: number): string => `${mark}p${n}`
  const spaces = [
    ...[gw, net, nat, box],
    ...segments.map((_, n) => hostSpace(n)),
    ...PEERS.map((_, n) => peerSpace(n)),
  ]
  const agents = new Map<string, Agent>()
  const within = (space: string, ...args: string[]): string =>
    must('ip', ['netns', 'exec', space, ...args])
  // The highest address is nobody's of the plan.
  const hostAt = (n: number): string =>
    formatAddress({ family: 4, value: usableRange(parsePrefix(segments[n]!.subnet!)!).last - 1n })
  const own = tunnelInterface(plan, 'road')
  const interfaces = [own, ...PEERS.map((_, n) => `wgp${n}`)]
  try {
    ip(spaces.map((s) => `netns add ${s}`))
    for (const s of [gw, net, nat, box])
      within(
        s,
        ...['sysctl', '-q', '-e', '-w', 'net.ipv4.ip_forward=1'],
        ...['net.ipv4.conf.all.rp_filter=0', 'net.ipv4.conf.default.rp_filter=0'],
      )
    ip(
      [
        'link set lo up',
        ...segments.flatMap((s, n) => [
          `link add vlan${s.vlanId} type veth peer name eth0 netns ${hostSpace(n)}`,
          `addr add ${s.gateway}/${s.subnet!.split('/')[1]} dev vlan${s.vlanId}`,
          `link set vlan${s.vlanId} up`,
        ]),
        `link add line0 type veth peer name eth0 netns ${atLine.space}`,
        `addr add ${atLine.address} dev line0`,
        'link set line0 up',
        `route add default via ${atLine.router}`,
      ],
      gw,
    )
    if (isBehind(seed)) {
      ip(
        [
          'link set lo up',
          `addr add ${BEHIND.router}/24 dev eth0`,
          'link set eth0 up',
          `link add out0 type veth peer name eth0 netns ${net}`,
          `addr add ${LINE}/26 dev out0`,
          'link set out0 up',
          'route add default via 203.0.113.65',
        ],
        box,
      )
      must(
        'ip',
        ['netns', 'exec', box, NFT, '-f', '-'],
        [
          'table ip way {',
          'chain pre {',
          'type nat hook prerouting priority dstnat;',
          `iifname "out0" udp dport 51820 dnat to ${BEHIND.gateway}`,
          '}',
          'chain post {',
          'type nat hook postrouting priority srcnat;',
          'oifname "out0" masquerade',
          '}',
          '}',
          '',
        ].join('\n'),
      )
    }
    for (const [n, s] of segments.entries())
      ip(
        [
          'link set lo up',
          `addr add ${hostAt(n)}/${s.subnet!.split('/')[1]} dev eth0`,
          'link set eth0 up',
          `route add default via ${s.gateway}`,
        ],
        hostSpace(n),
      )
    ip(
      [
        'link set lo up',
        `addr add ${INTERNET}/32 dev lo`,
        'addr add 203.0.113.65/26 dev eth0',
        'link set eth0 up',
        `link add out0 type veth peer name w0 netns ${nat}`,
        'addr add 192.0.2.1/24 dev out0',
        'link set out0 up',
      ],
      net,
    )
    ip(
      [
        'link set lo up',
        'addr add 192.0.2.2/24 dev w0',
        'link set w0 up',
        'route add default via 192.0.2.1',
        ...PEERS.flatMap((_, n) => [
          `link add in${n} type veth peer name eth0 netns ${peerSpace(n)}`,
          `addr add 192.168.99.${n * 4 + 1}/30 dev in${n}`,
          `link set in${n} up`,
        ]),
      ],
      nat,
    )
    must(
      'ip',
      ['netns', 'exec', nat, NFT, '-f', '-'],
      'table ip out {\nchain post {\ntype nat hook postrouting priority srcnat;\noifname "w0" masquerade\n}\n}\n',
    )
    const script = join(folder, 'rules.nft')
    writeFileSync(script, writeNftables(plan))
    within(gw, NFT, '-f', script)
    // The exported file of this end, as its own program takes it.
    const file = join(folder, 'end.conf')
    writeFileSync(file, writeTunnelFile(ownFile(reckoned, keys), true))
    within(gw, 'wireguard-go', own)
    within(gw, 'wg', 'setconf', own, file)
    ip(
      [
        `addr add ${reckoned.ownAddress}/24 dev ${own}`,
        `link set ${own} mtu ${reckoned.size.mtu} up`,
      ],
      gw,
    )
    for (const [n, id] of PEERS.entries()) {
      const p = reckoned.peers.find((x) => x.peer.id === id)!
      const { file: written, missing } = peerFile(reckoned, p, keys)
      expect(missing).toEqual([])
      const theirs = join(folder, `${id}.conf`)
      writeFileSync(theirs, writeTunnelFile(written, true))
      const space = peerSpace(n)
      ip(
        [
          'link set lo up',
          `addr add 192.168.99.${n * 4 + 2}/30 dev eth0`,
          'link set eth0 up',
          `route add default via 192.168.99.${n * 4 + 1}`,
          `route add ${LINE}/32 via 192.168.99.${n * 4 + 1}`,
        ],
        space,
      )
      within(space, 'wireguard-go', interfaces[n + 1]!)
      within(space, 'wg', 'setconf', interfaces[n + 1]!, theirs)
      ip(
        [
          `addr add ${written.addresses[0]} dev ${interfaces[n + 1]}`,
          `link set ${interfaces[n + 1]} mtu ${written.mtu} up`,
          ...p.allowedThere
            .filter((a) => !a.includes(':'))
            .flatMap((a) => (a === '0.0.0.0/0' ? ['0.0.0.0/1', '128.0.0.0/1'] : [a]))
            .map((a) => `route add ${a} dev ${interfaces[n + 1]}`),
        ],
        space,
      )
    }

    const services = Object.values(plan.services).filter((s) =>
      ['tcp', 'udp', 'icmp'].includes(s.protocol),
    )
    const ports = (protocol: string): number[] => [
      ...new Set(
        services
          .filter((s) => s.protocol === protocol)
          .flatMap((s) => portsAsked(plan, s) as number[]),
      ),
    ]
    const listening = { tcp: ports('tcp'), udp: ports('udp') }
    const start = async (id: string, space: string, addresses: string[]): Promise<void> => {
      agents.set(id, await Agent.start(space, listening, addresses))
    }
    await Promise.all([
      ...segments.map((s, n) => start(s.id, hostSpace(n), [hostAt(n)])),
      ...PEERS.map((id, n) => start(id, peerSpace(n), [plan.peers[id]!.address!])),
      start('internet', net, [INTERNET]),
    ])
    const one = (
      service: Service,
      port: number | null,
    ): Pick<Service, 'id' | 'name' | 'protocol' | 'ports'> => ({
      ...service,
      ports: port === null ? [] : [port],
    })
    const ask = (by: string, from: Endpoint, to: Endpoint, address: string): Asked[] =>
      services.flatMap((s) =>
        portsAsked(plan, s).map((port): Asked => {
          const t = trace(model, from, to, one(s, port))
          return {
            id: `${by} to ${address} ${s.protocol} ${port ?? ''}`,
            by,
            protocol: s.protocol as Try['protocol'],
            port: port ?? 0,
            address,
            predicted: t.verdict === 'delivered',
            because: t.decidedBy.text,
          }
        }),
      )
    const asked = [
      ...PEERS.flatMap((id) => [
        ...segments.flatMap((s, n) =>
          ask(id, { kind: 'peer', id }, { kind: 'segment', id: s.id }, hostAt(n)),
        ),
        // Past the tunnel it is the peer's own way out.
        ...(plan.peers[id]!.isFull
          ? ask(id, { kind: 'peer', id }, { kind: 'internet' }, INTERNET)
          : []),
      ]),
      ...segments.flatMap((s) =>
        PEERS.flatMap((id) =>
          ask(s.id, { kind: 'segment', id: s.id }, { kind: 'peer', id }, plan.peers[id]!.address!),
        ),
      ),
    ]
    const works = new Map<string, boolean>()
    const tryAll = async (by: (id: string) => boolean): Promise<void> => {
      await Promise.all(
        [...agents]
          .filter(([id]) => by(id))
          .map(async ([id, agent]) => {
            for (const [key, ok] of await agent.try(asked.filter((a) => a.by === id)))
              works.set(key, ok)
          }),
      )
    }
    // Whoever is outside begins: only then is it known where they are.
    await tryAll((id) => id.startsWith('peer-'))
    // Two without anything to ask have to have called as well.
    const shaken = wg(['show', own, 'latest-handshakes'])
      .split('\n')
      .filter((l) => Number(l.split(/\s+/)[1]) > 0).length
    await tryAll((id) => !id.startsWith('peer-'))
    /** Who is reached from inside once the translation before them has forgotten everything. */
    const heldOpen = async (): Promise<Record<string, boolean>> => {
      const [first] = segments
      const toPeer = (id: string): Asked => ({
        ...{ id, by: first!.id, protocol: 'icmp', port: 0, predicted: true, because: '' },
        address: plan.peers[id]!.address!,
      })
      const reached = async (id: string): Promise<boolean> =>
        (await agents.get(first!.id)!.try([toPeer(id)])).get(id) ?? false
      // Who waits for an answer calls anew by itself: first the one without keepalive is to be quiet.
      const counted = (): string =>
        within(peerSpace(1), 'wg', 'show', interfaces[2]!, 'transfer').trim()
      let [seen, since] = [counted(), Date.now()]
      while (Date.now() - since < QUIET_MS) {
        await reached(PEERS[0])
        const now = counted()
        if (now !== seen) [seen, since] = [now, Date.now()]
      }
      // A link that goes down takes the translations of its address with it.
      ip(['link set w0 down', 'link set w0 up', 'route replace default via 192.0.2.1'], nat)
      const until = Date.now() + 60_000
      while (Date.now() < until && !(await reached(PEERS[0]))) continue
      return { [PEERS[0]]: await reached(PEERS[0]), [PEERS[1]]: await reached(PEERS[1]) }
    }
    // Another address outside: the next packet tells, and all goes on (roaming).
    ip(
      [
        'addr del 192.0.2.2/24 dev w0',
        'addr add 192.0.2.77/24 dev w0',
        'route replace default via 192.0.2.1',
      ],
      nat,
    )
    const again = asked.find((a) => a.by.startsWith('peer-') && a.predicted)
    const roamed = again
      ? (await agents.get(again.by)!.try([{ ...again, id: 'roamed' }])).get('roamed')
      : null
    return {
      held: isForgotten(seed) ? await heldOpen() : null,
      differ: asked
        .filter((a) => works.get(a.id) !== a.predicted)
        .map((a) => `${a.id}: ${works.get(a.id)}, foretold ${a.predicted}: ${a.because}`),
      asked: asked.length,
      reached: asked.filter((a) => a.predicted).length,
      shaken,
      roamed,
      endpoints: wg(['show', own, 'endpoints']),
      // Printed and as a dump, what it says is read as it is.
      said: [wg(['show']), wg(['show', 'all', 'dump']), wg(['show', own, 'dump'])].map((text) => {
        const read = readShow(text, Date.now() / 1000)
        return { problems: read.problems, ...explainShow(reckoned, read) }
      }),
    }
  } finally {
    for (const a of agents.values()) a.stop()
    for (const i of interfaces) rmSync(`/var/run/wireguard/${i}.sock`, { force: true })
    for (const s of spaces) {
      const pids = spawnSync('ip', ['netns', 'pids', s], { encoding: 'utf8' }).stdout
      for (const pid of pids.split('\n').filter(Boolean)) process.kill(Number(pid), 'SIGKILL')
      spawnSync('ip', ['netns', 'del', s])
    }
  }
}

describe('between namespaces', () => {
  it.each(Array.from({ length: SITES }, (_, i) => 2 * i + 1))(
    'site %i: real connections agree with the trace, both that must and that must not',
    async (seed) => {
      const folder = mkdtempSync(join(tmpdir(), 'able-mast-tunnels-'))
      onTestFinished(() => rmSync(folder, { recursive: true, force: true }))
      const judged = await judge(seed, folder)
      expect(judged.differ).toEqual([])
      expect(judged.asked).toBeGreaterThan(judged.reached)
      expect(judged.shaken).toBe(PEERS.length)
      for (const s of judged.said) {
        expect(s.problems).toEqual([])
        expect(s.own).toEqual([])
        expect(s.peers.map((p) => p.peerId)).toEqual([...PEERS])
        expect(s.peers.map((p) => p.state)).not.toContain('never')
        expect(s.peers.map((p) => p.state)).not.toContain('unknown')
      }
      if (isForgotten(seed)) expect(judged.held).toEqual({ 'peer-1': true, 'peer-2': false })
      if (judged.roamed !== null) {
        expect(judged.roamed).toBe(true)
        expect(judged.endpoints).toContain('192.0.2.77:')
      }
    },
    240_000,
  )
})
