/**
 * The analysis of several lines against the Linux kernel: a namespace for the router with the
 * exported rules, marks and routes, one for each provider with the same piece of internet behind it,
 * one for each segment. A line is cut, by its signal and by its path, and comes back; by which line
 * everybody then gets out, and with which address, is held against the trace.
 * Needs root, iproute2, nftables and python3; without one of them the run fails.
 */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, it, onTestFinished } from 'vitest'
import { writeLineRoutes, writeNftables } from '@mast/core/formats'
import { trace } from '@mast/core/forwarding'
import {
  applyEdits,
  createPlan,
  editCall as edit,
  unknownHandOff,
  uplinksInOrder,
  type EditCall,
  type Service,
  type SitePlan,
} from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { Agent, ip, must } from './agent'

/** Documentation networks (RFC 5737) stand for the internet. */
const INTERNET = '198.51.100.80'
const lines = [
  { id: 'fibre', own: '203.0.113.10', provider: '203.0.113.9' },
  { id: 'cellular', own: '192.0.2.10', provider: '192.0.2.9' },
  { id: 'bridge', own: '192.0.2.34', provider: '192.0.2.33' },
] as const
type LineId = (typeof lines)[number]['id']
const segmentIds = ['office', 'tills', 'visitors'] as const
const services: readonly Service[] = [
  { id: 'web', name: 'Web', protocol: 'tcp', ports: [443] },
  { id: 'cards', name: 'Cards', protocol: 'tcp', ports: [{ first: 8440, last: 8445 }] },
]

function site(more: readonly EditCall[]): SitePlan {
  return applyEdits(createPlan('Three lines', ['10.4.0.0/16']), [
    ...segmentIds.map((id, n) =>
      edit('addSegment', {
        id,
        name: id,
        purpose: 'staff',
        vlanId: 10 * (n + 1),
        expectedHosts: 10,
        subnet: `10.4.${10 * (n + 1)}.0/24`,
        gateway: `10.4.${10 * (n + 1)}.1`,
      }),
    ),
    edit('addDevice', { id: 'gateway', name: 'Gateway', profileId: 'gateway-4-2' }),
    ...services.map(({ id, name, protocol, ports }) =>
      edit('addService', { id, name, protocol, ports }),
    ),
    ...segmentIds.map((id) =>
      edit('stateIntent', {
        id: `out-${id}`,
        from: id,
        to: 'internet',
        services: 'any',
        action: 'allow',
        reason: 'work',
      }),
    ),
    ...lines.map(({ id, own, provider }, n) =>
      edit('addUplink', {
        id,
        name: id,
        rank: n,
        // The profile has two sockets for lines; the third is one of the LAN's.
        portId: ['gateway.wan1', 'gateway.wan2', 'gateway.3'][n],
        handOff: {
          ...unknownHandOff,
          mode: 'fixed',
          vlan: 'untagged',
          addressKind: 'public',
          address: `${own}/29`,
          gateway: provider,
        },
      }),
    ),
    ...more,
  ])
}
const choose = (
  id: string,
  from: string,
  service: string,
  uplinkIds: readonly LineId[],
  rank: number,
): EditCall =>
  edit('addLineChoice', { id, from, service, uplinkIds: [...uplinkIds], rank, reason: id })

const sites: Readonly<Record<string, readonly EditCall[]>> = {
  'in their order': [],
  'by segment and service': [
    choose('tills-first', 'tills', 'cards', ['cellular', 'fibre'], 10),
    choose('visitors-fibre', 'visitors', 'any', ['fibre'], 20),
    choose('visitors-late', 'visitors', 'web', ['bridge'], 30),
    choose('nothing-out', 'office', 'cards', [], 40),
  ],
  'sharing by weight': [
    edit('changeUplink', { id: 'fibre', changes: { weight: 3 } }),
    edit('changeUplink', { id: 'cellular', changes: { rank: 0 } }),
    choose('tills-bridge', 'tills', 'cards', ['bridge', 'cellular'], 10),
  ],
}

/** Which lines it goes by, by the analysis; the same as the kernel is asked. */
function foretold(
  plan: SitePlan,
  from: string,
  service: Service,
  dead: ReadonlySet<string>,
): string[] {
  const t = trace(
    siteModel(plan),
    { kind: 'segment', id: from },
    { kind: 'internet' },
    service,
    'ipv4',
    null,
    dead,
  )
  if (t.verdict !== 'delivered') return []
  const { text } = t.hops.find((h) => h.layer === 'line')!
  return lines.map((l) => l.id).filter((id) => text.includes(id))
}

it.each(Object.entries(sites))(
  'lines used %s: the kernel leaves as the trace says, whichever is dead',
  async (_, edits) => {
    const plan = site(edits)
    const files = writeLineRoutes(plan)
    const folder = mkdtempSync(join(tmpdir(), 'able-mast-lines-'))
    const mark = `al${process.pid}-`
    /** Interfaces are named by the order in which the lines are used. */
    const interfaceOf = (id: string): string =>
      `line${uplinksInOrder(plan).findIndex((u) => u.id === id)}`
    const router = `${mark}gw`
    const ispOf = (id: string): string => `${mark}${id}`
    const hostOf = (id: string): string => `${mark}${id}`
    const spaces = [router, ...lines.map((l) => ispOf(l.id)), ...segmentIds.map(hostOf)]
    const agents: Agent[] = []
    onTestFinished(() => {
      for (const a of agents) a.stop()
      ip(spaces.map((s) => `netns del ${s}`))
      rmSync(folder, { recursive: true, force: true })
    })
    ip(spaces.map((s) => `netns add ${s}`))
    must('ip', [
      'netns',
      'exec',
      router,
      'sysctl',
      '-q',
      '-w',
      'net.ipv4.ip_forward=1',
      'net.ipv4.conf.all.rp_filter=0',
      'net.ipv4.conf.default.rp_filter=0',
      'net.ipv4.conf.all.ignore_routes_with_linkdown=1',
    ])
    ip(
      [
        'link set lo up',
        ...segmentIds.flatMap((id, n) => [
          `link add vlan${10 * (n + 1)} type veth peer name eth0 netns ${hostOf(id)}`,
          `addr add 10.4.${10 * (n + 1)}.1/24 dev vlan${10 * (n + 1)}`,
          `link set vlan${10 * (n + 1)} up`,
        ]),
        ...lines.flatMap(({ id, own }) => [
          `link add ${interfaceOf(id)} type veth peer name eth0 netns ${ispOf(id)}`,
          `addr add ${own}/29 dev ${interfaceOf(id)}`,
          `link set ${interfaceOf(id)} up`,
        ]),
      ],
      router,
    )
    for (const [n, id] of segmentIds.entries())
      ip(
        [
          'link set lo up',
          `addr add 10.4.${10 * (n + 1)}.20/24 dev eth0`,
          'link set eth0 up',
          `route add default via 10.4.${10 * (n + 1)}.1`,
        ],
        hostOf(id),
      )
    for (const { id, provider } of lines)
      ip(
        [
          'link set lo up',
          `addr add ${INTERNET}/32 dev lo`,
          `addr add ${provider}/29 dev eth0`,
          'link set eth0 up',
        ],
        ispOf(id),
      )
    const load = (name: string): void => void must('ip', ['-n', router, '-batch', '-'], files[name])
    writeFileSync(join(folder, 'rules.nft'), writeNftables(plan))
    must('ip', ['netns', 'exec', router, '/usr/sbin/nft', '-f', join(folder, 'rules.nft')])
    load('lines.batch')
    const ports = services.flatMap((s) => s.ports.map((p) => (typeof p === 'number' ? p : p.last)))
    const providers = new Map<string, Agent>()
    for (const { id } of lines) {
      const agent = await Agent.start(ispOf(id), { tcp: ports, udp: [] }, [INTERNET])
      agents.push(agent)
      providers.set(id, agent)
    }
    const hosts = new Map<string, Agent>()
    for (const id of segmentIds) {
      const agent = await Agent.start(hostOf(id), { tcp: [], udp: [] }, [])
      agents.push(agent)
      hosts.set(id, agent)
    }
    const differ: string[] = []
    let asked = 0
    const round = async (state: string, dead: ReadonlySet<string>): Promise<void> => {
      for (const from of segmentIds)
        for (const service of services)
          for (const port of service.ports.map((p) => (typeof p === 'number' ? p : p.last))) {
            // Where they share, the second has its turn soon.
            const expected = foretold(plan, from, { ...service, ports: [port] }, dead)
            const tries = Array.from({ length: expected.length > 1 ? 40 : 2 }, (_, i) => ({
              id: String(i),
              protocol: 'tcp' as const,
              address: INTERNET,
              port,
            }))
            const answers = await hosts.get(from)!.try(tries)
            asked++
            const what = `${state}: ${from} for ${service.id}`
            const works = [...answers.values()]
            if (works.some((w) => w !== expected.length > 0))
              differ.push(`${what} ${works[0] ? 'gets out' : 'does not get out'}`)
            const by: string[] = []
            for (const { id, own } of lines) {
              const callers = new Set(await providers.get(id)!.callers())
              if (callers.size > 0) by.push(id)
              // With our own address on that line, and no other.
              callers.delete(own)
              for (const c of callers) differ.push(`${what} by ${id} came as ${c}`)
            }
            if (by.join() !== expected.join())
              differ.push(`${what} goes by ${by.join()}, foretold ${expected.join()}`)
          }
    }
    await round('all well', new Set())
    for (const { id } of lines.slice(0, 2)) {
      // By its signal, as when a cable is pulled.
      ip([`link set eth0 down`], ispOf(id))
      await round(`${id} without a signal`, new Set([id]))
      ip([`link set eth0 up`], ispOf(id))
      await round(`${id} with its signal again`, new Set())
      // By its path: whoever watches it takes it out, and puts it back.
      load(`${id}-out.batch`)
      await round(`${id} taken out`, new Set([id]))
      load(`${id}-back.batch`)
      await round(`${id} put back`, new Set())
    }
    for (const { id } of lines.slice(0, 2)) load(`${id}-out.batch`)
    await round('two of them taken out', new Set(['fibre', 'cellular']))
    load('bridge-out.batch')
    await round('all taken out', new Set(lines.map((l) => l.id)))
    load('lines-away.batch')
    expect(must('ip', ['-n', router, 'rule'])).not.toMatch(/fwmark/)
    expect(differ).toEqual([])
    expect(asked).toBeGreaterThan(60)
  },
  600_000,
)
