/**
 * The analysis against the Linux kernel: on random sites a network namespace for every host, one for the gateway with the exported nftables rules,
 * connection tracking and translation, one for the internet; then real connections of every host to every other by every service. What it takes for granted is
 * that every VLAN reaches where it should (the wiring of these sites has no mistakes; the stand-ins judge that part): each host has a veth to a bridge of its segment.
 * Needs root, iproute2, nftables and python3; without one of them the run fails.
 */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { describe, expect, it } from 'vitest'
import { trace } from '@mast/core/forwarding'
import { writeNftables } from '@mast/core/formats'
import { chanceOf, randomSite, smallShape } from '@mast/core/generator'
import type { Device, SitePlan } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { flowsOf, hostsOf } from './flows'

/** A sample, as every site takes seconds; ./mast test judges takes forty. */
const SITES = Number(process.env.MAST_KERNEL_SITES ?? 10)
/** Odd seeds have no mistakes in their wiring. */
const seeds = Array.from({ length: SITES }, (_, i) => 2 * i + 1)
/** By its whole path: one of the npm packages has a command of the same name. */
const NFT = '/usr/sbin/nft'
const INTERNET = '198.51.100.80'
const OWN_LINE = '203.0.113.65'

function must(file: string, args: readonly string[], input?: string): void {
  const done = spawnSync(file, args, { encoding: 'utf8', input })
  if (done.status !== 0) throw new Error(`${file} ${args.slice(0, 6).join(' ')}: ${done.error?.message ?? done.stderr}`)
}
/** Many commands of ip(8) in one process. */
const ip = (lines: readonly string[], namespace?: string): void => must('ip', [...(namespace ? ['-n', namespace] : []), '-batch', '-'], `${lines.join('\n')}\n`)

class Agent {
  private readonly lines: AsyncIterator<string>
  constructor(private readonly child: ChildProcess) { this.lines = createInterface({ input: child.stdout! })[Symbol.asyncIterator]() }
  static async start(namespace: string, ports: { tcp: number[]; udp: number[] }, address: string): Promise<Agent> {
    const agent = new Agent(spawn('ip', ['netns', 'exec', namespace, 'python3', `${import.meta.dirname}/agent.py`, JSON.stringify(ports), address], { stdio: ['pipe', 'pipe', 'inherit'] }))
    expect(await agent.next()).toEqual({ ready: true })
    return agent
  }
  private async next(): Promise<Record<string, unknown>> {
    const { value, done } = await this.lines.next()
    if (done) throw new Error('an agent ended')
    return JSON.parse(value) as Record<string, unknown>
  }
  async try(tries: readonly object[]): Promise<Map<string, boolean>> {
    this.child.stdin!.write(`${JSON.stringify({ tries })}\n`)
    const out = new Map<string, boolean>()
    for (let line = await this.next(); !line.done; line = await this.next()) out.set(line.id as string, line.works as boolean)
    return out
  }
  stop(): void { this.child.stdin!.end(); this.child.kill('SIGKILL') }
}

/** The addresses that hosts have: typed and reserved ones as planned, leases from the start of the pool. */
function addressesOf(plan: SitePlan, hosts: readonly Device[]): Map<string, string> {
  const next = new Map(Object.values(plan.segments).map((s) => [s.id, s.pools[0]!.first.split('.').reduce((n, o) => n * 256 + Number(o), 0)]))
  return new Map(hosts.map((h) => {
    const segmentId = h.addressing.segmentId!
    if (h.addressing.address) return [h.id, h.addressing.address]
    const value = next.get(segmentId)!
    next.set(segmentId, value + 1)
    return [h.id, [24, 16, 8, 0].map((s) => Math.floor(value / 2 ** s) % 256).join('.')]
  }))
}

async function judge(seed: number, folder: string): Promise<{ differ: string[]; decided: number; reached: number; outside: string[] }> {
  const chance = chanceOf(seed)
  const plan = randomSite(chance, smallShape(chance, 0))
  const model = siteModel(plan)
  // Stations on the air have a trunk between them and isolation; here everybody has a cable.
  const hosts = hostsOf(plan).filter((h) => h.wirelessNetworkId === null)
  const addresses = addressesOf(plan, hosts)
  const mark = `am${process.pid}-`
  const gateway = `${mark}gw`
  const internet = `${mark}net`
  const spaces = [gateway, internet, ...hosts.map((_, i) => `${mark}h${i}`)]
  const agents = new Map<string, Agent>()
  try {
    ip(spaces.map((s) => `netns add ${s}`))
    const vlan = (id: string): string => `vlan${plan.segments[id]!.vlanId}`
    ip([
      'link set lo up',
      ...Object.values(plan.segments).flatMap((s) => [`link add ${vlan(s.id)} type bridge`, `addr add ${s.gateway}/${s.subnet!.split('/')[1]} dev ${vlan(s.id)}`, `link set ${vlan(s.id)} up`]),
      ...hosts.flatMap((h, i) => [`link add p${i} type veth peer name eth0 netns ${mark}h${i}`, `link set p${i} master ${vlan(h.addressing.segmentId!)} up`]),
      `link add line0 type veth peer name eth0 netns ${internet}`, `addr add 203.0.113.80/26 dev line0`, 'link set line0 up', `route add default via ${OWN_LINE}`,
    ], gateway)
    for (const [i, h] of hosts.entries()) {
      const s = plan.segments[h.addressing.segmentId!]!
      ip(['link set lo up', `addr add ${addresses.get(h.id)}/${s.subnet!.split('/')[1]} dev eth0`, 'link set eth0 up', `route add default via ${s.gateway}`], `${mark}h${i}`)
    }
    // The internet has routes to public addresses only, as the real one has.
    ip(['link set lo up', `addr add ${INTERNET}/32 dev lo`, `addr add ${OWN_LINE}/26 dev eth0`, 'link set eth0 up'], internet)
    // What stays in a segment does not pass the rules, as on a switch; some kernels would show bridged packets to them.
    must('ip', ['netns', 'exec', gateway, 'sysctl', '-q', '-e', '-w', 'net.bridge.bridge-nf-call-iptables=0', 'net.ipv4.ip_forward=1', 'net.ipv4.conf.all.rp_filter=0', 'net.ipv4.conf.default.rp_filter=0'])
    // From a file: what it reads is then the same for a person who looks.
    const script = join(folder, 'rules.nft')
    writeFileSync(script, writeNftables(plan))
    must('ip', ['netns', 'exec', gateway, NFT, '-f', script])
    const ports = { tcp: [...new Set(Object.values(plan.services).filter((s) => s.protocol === 'tcp').flatMap((s) => s.ports))], udp: [...new Set(Object.values(plan.services).filter((s) => s.protocol === 'udp').flatMap((s) => s.ports))] }
    await Promise.all([...hosts.map(async (h, i) => { agents.set(h.id, await Agent.start(`${mark}h${i}`, ports, addresses.get(h.id)!)) }), Agent.start(internet, ports, INTERNET).then((a) => agents.set('internet', a))])

    const flows = flowsOf(plan, hosts)
    const works = new Map<string, boolean>()
    const idOf = (e: Device | 'internet'): string => (e === 'internet' ? e : e.id)
    await Promise.all([...agents].map(async ([id, agent]) => {
      const tries = flows.filter((f) => idOf(f.from) === id).flatMap((f) =>
        (f.service.ports.length > 0 ? f.service.ports : [0]).map((port) => ({ id: `${f.id}:${port}`, protocol: f.service.protocol, port, address: f.to === 'internet' ? INTERNET : addresses.get(f.to.id)! })))
      for (const [key, ok] of await agent.try(tries)) {
        const flow = key.slice(0, key.lastIndexOf(':'))
        works.set(flow, (works.get(flow) ?? true) && ok)
      }
    }))
    const differ: string[] = []
    let reached = 0
    for (const f of flows) {
      const t = trace(model, f.from === 'internet' ? { kind: 'internet' } : { kind: 'device', id: f.from.id }, f.to === 'internet' ? { kind: 'internet' } : { kind: 'device', id: f.to.id }, f.service)
      const predicted = t.verdict === 'delivered'
      if (predicted) reached++
      if (works.get(f.id) !== predicted) differ.push(`seed ${seed} ${f.id}: the analysis says ${t.verdict} (${t.decidedBy.text}), the kernel ${works.get(f.id) ? 'lets it through' : 'does not'}`)
    }
    const seen = spawnSync('ip', ['netns', 'exec', internet, 'ss', '-Htan', 'src', INTERNET], { encoding: 'utf8' }).stdout
    const outside = [...seen.matchAll(/\s(\d+\.\d+\.\d+\.\d+):\d+\s*$/gm)].map((m) => m[1]!)
    return { differ, decided: flows.length, reached, outside }
  } finally {
    for (const a of agents.values()) a.stop()
    for (const s of spaces) spawnSync('ip', ['netns', 'del', s])
  }
}

describe(`the analysis and the Linux kernel, ${SITES} random sites`, () => {
  it('agree on every pair and service', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'able-mast-judge-'))
    const total = { decided: 0, reached: 0 }
    for (const seed of seeds) {
      const { differ, decided, reached, outside } = await judge(seed, folder)
      expect(differ).toEqual([])
      // Whatever reached the internet came with the address of the line.
      expect(outside.filter((a) => a !== '203.0.113.80')).toEqual([])
      total.decided += decided
      total.reached += reached
    }
    rmSync(folder, { recursive: true })
    expect(total.reached).toBeGreaterThan(total.decided / 20)
    expect(total.reached).toBeLessThan(total.decided)
  }, 900_000)
})
