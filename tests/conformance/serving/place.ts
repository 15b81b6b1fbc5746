/**
 * A site in network namespaces, for programs that serve it: one for the gateway with its
 * interfaces, one for the line, one for each client and server elsewhere.
 */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { SitePlan } from '@mast/core/plan'
import { ip, must } from '../judges/agent'

/**
 * Documentation networks (RFC 5737) stand for the internet; a name server of the provider is there.
 */
export const OUTSIDE = {
  names: '198.51.100.53',
  host: '198.51.100.80',
  provider: '203.0.113.65',
  line: '203.0.113.80',
}
const PATIENCE_MS = 30_000

export interface LeaseEvent {
  readonly event: string
  readonly [key: string]: string
}
export interface Running {
  log(): string
  signal(name: NodeJS.Signals): void
  stop(): Promise<void>
}

export async function until<T>(what: () => string, look: () => T | undefined | false): Promise<T> {
  for (const deadline = Date.now() + PATIENCE_MS; ;) {
    const found = look()
    if (found) return found
    if (Date.now() > deadline) throw new Error(`waited in vain for ${what()}`)
    await new Promise((r) => setTimeout(r, 20))
  }
}

export class Place {
  readonly folder = mkdtempSync(join(tmpdir(), 'able-mast-serving-'))
  readonly gateway: string
  readonly outside: string
  private readonly mark = `as${process.pid}${Math.floor(Math.random() * 1000)}-`
  private readonly spaces: string[] = []
  private readonly running: ChildProcess[] = []
  private hosts = 0

  constructor(private readonly plan: SitePlan) {
    this.gateway = this.space('gw')
    this.outside = this.space('net')
    must('ip', [
      'netns',
      'exec',
      this.gateway,
      'sysctl',
      '-q',
      '-e',
      '-w',
      'net.bridge.bridge-nf-call-iptables=0',
      'net.ipv4.ip_forward=1',
      'net.ipv4.conf.all.rp_filter=0',
      'net.ipv4.conf.default.rp_filter=0',
    ])
    ip(
      [
        'link set lo up',
        ...Object.values(plan.segments).flatMap((s) => [
          `link add ${this.vlan(s.id)} type bridge`,
          `addr add ${s.gateway}/${s.subnet!.split('/')[1]} dev ${this.vlan(s.id)}`,
          `link set ${this.vlan(s.id)} up`,
        ]),
        `link add line0 type veth peer name eth0 netns ${this.outside}`,
        `addr add ${OUTSIDE.line}/26 dev line0`,
        'link set line0 up',
        `route add default via ${OUTSIDE.provider}`,
      ],
      this.gateway,
    )
    ip(
      [
        'link set lo up',
        `addr add ${OUTSIDE.host}/32 dev lo`,
        `addr add ${OUTSIDE.names}/32 dev lo`,
        `addr add ${OUTSIDE.provider}/26 dev eth0`,
        'link set eth0 up',
      ],
      this.outside,
    )
  }

  private vlan(id: string): string {
    return `vlan${this.plan.segments[id]!.vlanId}`
  }
  private space(name: string): string {
    const space = `${this.mark}${name}`
    ip([`netns add ${space}`])
    this.spaces.push(space)
    return space
  }
  path(name: string): string {
    return join(this.folder, name)
  }
  file(name: string, text: string): string {
    const at = this.path(name)
    writeFileSync(at, text)
    return at
  }

  /** A host in a segment, with an address of its own or none yet. */
  host(
    segmentId: string,
    hardwareAddress: string | null = null,
    address: string | null = null,
  ): string {
    const n = ++this.hosts
    const space = this.space(`h${n}`)
    ip(
      [
        `link add p${n} type veth peer name eth0 netns ${space}`,
        `link set p${n} master ${this.vlan(segmentId)} up`,
      ],
      this.gateway,
    )
    const s = this.plan.segments[segmentId]!
    ip(
      [
        'link set lo up',
        ...(hardwareAddress ? [`link set eth0 address ${hardwareAddress}`] : []),
        ...(address ? [`addr add ${address}/${s.subnet!.split('/')[1]} dev eth0`] : []),
        'link set eth0 up',
        ...(address ? [`route add default via ${s.gateway}`] : []),
      ],
      space,
    )
    return space
  }

  /** Starts a program in a namespace; what it says can be looked at. */
  run(
    space: string,
    file: string,
    args: readonly string[],
    env: Record<string, string> = {},
  ): Running {
    const child = spawn('ip', ['netns', 'exec', space, file, ...args], {
      env: { ...process.env, ...env },
      stdio: ['ignore', 'pipe', 'pipe'],
    })
    let said = ''
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (d: Buffer) => {
        said += d.toString()
      })
    this.running.push(child)
    const ended = new Promise<void>((r) => child.once('exit', () => r()))
    return {
      log: () => said,
      signal: (name) => {
        child.kill(name)
      },
      stop: async () => {
        child.kill('SIGTERM')
        await ended
      },
    }
  }

  /** A client that asks for a lease, and what it heard. */
  client(
    space: string,
    more: readonly string[] = [],
  ): {
    events(): LeaseEvent[]
    next(event: string, after?: number): Promise<LeaseEvent>
    renew(): void
  } {
    const events = this.path(`events-${space}-${this.running.length}`)
    const asked = ['search', 'ntpsrv', 'staticroutes', '43', '138', '143'].flatMap((o) => ['-O', o])
    const program = this.run(
      space,
      'udhcpc',
      [
        '-f',
        '-i',
        'eth0',
        '-t',
        '5',
        '-T',
        '2',
        '-A',
        '2',
        '-s',
        `${import.meta.dirname}/event.sh`,
        ...asked,
        ...more,
      ],
      { EVENTS: events },
    )
    const pairs = (block: string): LeaseEvent =>
      Object.fromEntries(
        block
          .trim()
          .split('\n')
          .map((l) => {
            const at = l.indexOf('=')
            return [l.slice(0, at), l.slice(at + 1)]
          }),
      ) as LeaseEvent
    const all = (): LeaseEvent[] =>
      (existsSync(events) ? readFileSync(events, 'utf8') : '')
        .split('end\n')
        .slice(0, -1)
        .map(pairs)
    return {
      events: all,
      renew: () => program.signal('SIGUSR1'),
      next: (event, after = 0) =>
        until(
          () => `'${event}' of a lease in ${space}: ${JSON.stringify(all())} ${program.log()}`,
          () =>
            all()
              .slice(after)
              .find((e) => e.event === event),
        ),
    }
  }

  /** What dig(1) says, in short. */
  dig(space: string, server: string, name: string, ...more: readonly string[]): string {
    return spawnSync(
      'ip',
      ['netns', 'exec', space, 'dig', '+short', '+tries=2', '+time=3', `@${server}`, ...more, name],
      { encoding: 'utf8' },
    ).stdout.trim()
  }

  async end(): Promise<void> {
    for (const child of this.running)
      if (child.exitCode === null && child.signalCode === null) {
        const gone = new Promise((r) => child.once('exit', r))
        child.kill('SIGKILL')
        await gone
      }
    for (const s of this.spaces) {
      for (const pid of spawnSync('ip', ['netns', 'pids', s], { encoding: 'utf8' })
        .stdout.split('\n')
        .filter(Boolean))
        process.kill(Number(pid), 'SIGKILL')
      spawnSync('ip', ['netns', 'del', s])
    }
    rmSync(this.folder, { recursive: true, force: true })
  }
}
