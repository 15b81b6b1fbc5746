/**
 * IKEv2 against the outside world: what is exported is loaded by the daemon that it is for, on both
 * ends; where proposals, identities and networks fit, the tunnel comes up and carries a ping between
 * two sites, and where one does not, it fails as the comparison foretells.
 * Packets are carried by the daemon itself, as not every kernel has what ESP needs.
 * Needs root, iproute2 and charon-systemd with its plugins; without one of them the run fails.
 */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it, onTestFinished } from 'vitest'
import { trace } from '@mast/core/forwarding'
import { applyEdits, editCall as edit } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { compareIke, mirrored, writeSwanctl, type IkeEnd } from '@mast/core/tunnels'
import { quayside } from '../sites/quayside'
import { ip, must } from './judges/agent'

const DAEMON = '/usr/sbin/charon-systemd'
const CONTROL = '/usr/sbin/swanctl'
/** Gateways of segments here, and the first hosts of networks there. */
const HERE = ['10.20.20.1', '10.20.10.1', '10.20.40.1']
const THERE = ['192.168.7.1', '192.168.8.1']
const KEY = 'three fathoms of line and a bucket'

const end = (more: Partial<IkeEnd> = {}): IkeEnd => ({
  ...{ proposal: 'aes256gcm16-prfsha384-ecp384', childProposal: 'aes256gcm16-ecp384' },
  ...{ localId: 'harbour', remoteId: 'shop', lifetimeSeconds: 14_400, childLifetimeSeconds: 3600 },
  ...{ localSelectors: ['10.20.20.0/24'], remoteSelectors: ['192.168.7.0/24'] },
  ...more,
})

interface Side {
  readonly space: string
  readonly socket: string
  readonly daemon: ChildProcess
}

async function until(isSo: () => boolean, seconds: number): Promise<boolean> {
  const deadline = Date.now() + seconds * 1000
  while (!isSo()) {
    if (Date.now() > deadline) return false
    await new Promise((r) => setTimeout(r, 100))
  }
  return true
}
const control = (s: Side, ...args: string[]): { status: number | null; text: string } => {
  const done = spawnSync(
    'ip',
    ['netns', 'exec', s.space, CONTROL, ...args, '--uri', `unix://${s.socket}`],
    { encoding: 'utf8', timeout: 30_000 },
  )
  return { status: done.status, text: done.stdout + done.stderr }
}

/** Two daemons in namespaces of their own, a cable between them, and a host's address behind each. */
async function sides(folder: string): Promise<[Side, Side]> {
  const mark = `ik${process.pid}-`
  const spaces = [`${mark}a`, `${mark}b`] as const
  const made: Side[] = []
  onTestFinished(() => {
    for (const { daemon } of made) daemon.kill('SIGKILL')
    for (const s of spaces) {
      const pids = spawnSync('ip', ['netns', 'pids', s], { encoding: 'utf8' }).stdout
      for (const pid of pids.split('\n').filter(Boolean)) process.kill(Number(pid), 'SIGKILL')
      spawnSync('ip', ['netns', 'del', s])
    }
  })
  ip(spaces.map((s) => `netns add ${s}`))
  ip(
    [
      'link set lo up',
      `link add w0 type veth peer name w0 netns ${spaces[1]}`,
      'addr add 203.0.113.1/24 dev w0',
      'link set w0 up',
      ...HERE.map((a) => `addr add ${a}/24 dev lo`),
    ],
    spaces[0],
  )
  ip(
    [
      'link set lo up',
      'addr add 203.0.113.2/24 dev w0',
      'link set w0 up',
      ...THERE.map((a) => `addr add ${a}/24 dev lo`),
    ],
    spaces[1],
  )
  for (const [n, space] of spaces.entries()) {
    const socket = join(folder, `vici${n}`)
    const conf = join(folder, `charon${n}.conf`)
    writeFileSync(
      conf,
      [
        'charon-systemd {',
        'load = random nonce openssl gcm aes sha1 sha2 hmac kdf pem pkcs1 ' +
          'kernel-libipsec kernel-netlink socket-default vici',
        'retransmit_tries = 2',
        'retransmit_timeout = 1',
        `plugins { vici { socket = unix://${socket} } }`,
        '}',
        '',
      ].join('\n'),
    )
    const daemon = spawn('ip', ['netns', 'exec', space, DAEMON], {
      env: { PATH: process.env.PATH ?? '', STRONGSWAN_CONF: conf },
      stdio: 'ignore',
    })
    made.push({ space, socket, daemon })
    const side = made.at(-1)!
    if (
      !(await until(
        () => control(side, '--version').status === 0 && control(side, '--stats').status === 0,
        20,
      ))
    )
      throw new Error('the daemon does not come up')
  }
  return made as [Side, Side]
}

function load(s: Side, folder: string, name: string, e: IkeEnd, remote: string): string {
  const file = join(folder, `${name}.conf`)
  writeFileSync(
    file,
    writeSwanctl(
      [{ id: 'road', name: 'Road', end: e, remote, sharedKeyRef: 'psk', interfaceId: 1 }],
      { psk: KEY },
      false,
    ).replace(/start_action = start/, 'start_action = none'),
  )
  const done = control(s, '--load-all', '--file', file)
  expect(done.status, done.text).toBe(0)
  return done.text
}

const SEGMENTS = ['office-net', 'management', 'cameras']
/** Whether a ping from a segment to the first of the networks there is delivered, all of it allowed. */
function traced(ike: IkeEnd, foreignIke: IkeEnd, from: string, networks: string[]): boolean {
  const plan = applyEdits(quayside(), [
    edit('addTunnel', {
      ...{ id: 'road', name: 'Road', kind: 'sites', protocol: 'ikev2', hostDeviceId: 'gateway' },
      ...{ endpointName: 'quay.example.org', ike, foreignIke },
      dynamicName: { how: 'update', server: 'ns.example.org', ttlSeconds: 300 },
    }),
    edit('addPeer', {
      ...{ id: 'works', name: 'Works', tunnelId: 'road', device: 'gateway', networks },
      ...{ sharedKeyRef: 'psk', endpoint: { host: '203.0.113.2', port: 500 } },
    }),
    ...SEGMENTS.map((id) =>
      edit('stateIntent', {
        ...{ id: `int-${id}`, from: id, to: 'road', services: 'any', action: 'allow' },
        reason: 'all of it',
      }),
    ),
  ])
  const { verdict } = trace(
    siteModel(plan),
    { kind: 'segment', id: from },
    { kind: 'peer', id: 'works' },
    { id: 'ping', name: 'ping', protocol: 'icmp', ports: [] },
  )
  return verdict === 'delivered'
}

describe('two daemons', () => {
  it('load both ends, and come up exactly where the comparison says so', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'able-mast-ikev2-'))
    onTestFinished(() => rmSync(folder, { recursive: true, force: true }))
    const [a, b] = await sides(folder)
    const here = end()
    const cases: [string, Partial<IkeEnd>][] = [
      ['the mirror', {}],
      ['more proposals', { proposal: 'aes128-sha256-modp2048, aes256gcm16-prfsha384-ecp384' }],
      ['another proposal', { proposal: 'aes128-sha256-modp2048' }],
      ['another proposal of the traffic', { childProposal: 'aes128-sha256-modp2048' }],
      ['another identity', { localId: 'store' }],
      ['other networks', { remoteSelectors: ['10.99.0.0/24'] }],
      ['another lifetime', { lifetimeSeconds: 600 }],
    ]
    const seen: string[] = []
    for (const [name, more] of cases) {
      const there = { ...mirrored(here), ...more }
      expect(load(a, folder, 'a', here, '203.0.113.2')).toContain("loaded connection 'road'")
      load(b, folder, 'b', there, '203.0.113.1')
      const up = control(a, '--initiate', '--child', 'road', '--timeout', '10')
      const isUp = up.status === 0
      const isFit = compareIke(here, there).every((r) => r.isFit)
      if (isUp !== isFit)
        seen.push(`${name}: up ${isUp}, foretold ${isFit}: ${up.text.slice(-600)}`)
      if (isUp)
        must('ip', [
          'netns',
          'exec',
          a.space,
          'ping',
          '-c',
          '1',
          '-W',
          '5',
          '-I',
          '10.20.20.1',
          '192.168.7.1',
        ])
      control(a, '--terminate', '--ike', 'road', '--force')
      control(b, '--terminate', '--ike', 'road', '--force')
    }
    expect(seen).toEqual([])
  }, 120_000)

  it('carry between every two networks what the trace says, and nothing else', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'able-mast-ikev2-'))
    onTestFinished(() => rmSync(folder, { recursive: true, force: true }))
    const [a, b] = await sides(folder)
    const net = (address: string): string => address.replace(/\.1$/, '.0/24')
    const [office, management, cameras] = HERE.map(net) as [string, string, string]
    const [works, store] = THERE.map(net) as [string, string]
    const cases: [string, Partial<IkeEnd>, Partial<IkeEnd>][] = [
      ['all of it', { localSelectors: [office, management], remoteSelectors: [works, store] }, {}],
      ['one network there', { localSelectors: [office, cameras], remoteSelectors: [store] }, {}],
      [
        'narrowed by the other end',
        { localSelectors: [office, management, cameras], remoteSelectors: [works, store] },
        { localSelectors: [works], remoteSelectors: [office, cameras] },
      ],
      [
        'a wide one that is narrowed',
        { localSelectors: ['10.20.0.0/16'], remoteSelectors: ['192.168.0.0/16'] },
        { localSelectors: [store], remoteSelectors: [management] },
      ],
      ['nothing in common', { localSelectors: [office] }, { remoteSelectors: [cameras] }],
    ]
    const apart: string[] = []
    let carried = 0
    for (const [name, mine, theirs] of cases) {
      const ike = end(mine)
      const foreignIke = { ...mirrored(ike), ...theirs }
      load(a, folder, 'a', ike, '203.0.113.2')
      load(b, folder, 'b', foreignIke, '203.0.113.1')
      control(a, '--initiate', '--child', 'road', '--timeout', '10')
      for (const [i, here] of HERE.entries())
        for (const there of THERE) {
          const ping = ['ping', '-c', '1', '-W', '1', '-I', here, there]
          const done = spawnSync('ip', ['netns', 'exec', a.space, ...ping])
          const said = traced(ike, foreignIke, SEGMENTS[i]!, [
            net(there),
            ...THERE.map(net).filter((n) => n !== net(there)),
          ])
          if (done.status === 0) carried++
          if ((done.status === 0) !== said)
            apart.push(`${name}: ${here} to ${there}, foretold ${said}`)
        }
      control(a, '--terminate', '--ike', 'road', '--force')
      control(b, '--terminate', '--ike', 'road', '--force')
    }
    expect(apart).toEqual([])
    expect(carried).toBe(4 + 2 + 2 + 1)
  }, 240_000)

  it('a file that is not one is refused', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'able-mast-ikev2-'))
    onTestFinished(() => rmSync(folder, { recursive: true, force: true }))
    const [a] = await sides(folder)
    const file = join(folder, 'bad.conf')
    writeFileSync(
      file,
      writeSwanctl([
        {
          ...{ id: 'road', name: 'Road', remote: null, sharedKeyRef: '', interfaceId: 1 },
          end: end({ proposal: 'nonsense' }),
        },
      ]),
    )
    expect(control(a, '--load-all', '--file', file).status).not.toBe(0)
  }, 60_000)
})
