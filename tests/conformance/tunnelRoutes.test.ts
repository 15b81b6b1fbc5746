/**
 * Routes of tunnels and files of their ends against the programs that they are for: the kernel says
 * where who goes, with the exported batch loaded, while the provider's tunnel is down, and with it taken
 * out again; wg-quick reads the files of the ends. Needs root, iproute2 and wireguard-tools; without one
 * of them the run fails.
 */
import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, it, onTestFinished } from 'vitest'
import { writable } from '@mast/core/formats'
import { applyEdits, editCall, tunnelInterface } from '@mast/core/plan'
import { siteModel } from '@mast/core/topology'
import { reckonTunnel } from '@mast/core/tunnels'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'
import { ip, must } from './judges/agent'

const INTERNET = '198.51.100.80'

/** The harbour, with a tunnel to a provider that holds back or lets go. */
function site(whenDown: 'blocked' | 'direct') {
  const plan = applyEdits(kittiwakeHarbour(), [
    editCall('changeTunnel', { id: 'charts', changes: { whenDown } }),
  ])
  const written = (id: string): Readonly<Record<string, string>> =>
    writable.find((f) => f.id === id)!.write!({ model: siteModel(plan), serial: 1, utcOffset: 0 })
  return { plan, written }
}

it.each(['blocked', 'direct'] as const)('who goes where, and while it is down: %s', (whenDown) => {
  const folder = mkdtempSync(join(tmpdir(), 'able-mast-routes-'))
  const space = `tr${process.pid}`
  onTestFinished(() => {
    spawnSync('ip', ['netns', 'del', space])
    rmSync(folder, { recursive: true, force: true })
  })
  const { plan, written } = site(whenDown)
  const tunnels = Object.values(plan.tunnels)
  const office = plan.segments['office-net']!
  ip([`netns add ${space}`])
  ip(
    [
      'link set lo up',
      ...[
        'line0',
        `vlan${office.vlanId}`,
        ...tunnels.map((t) => tunnelInterface(plan, t.id)),
      ].flatMap((d) => [
        `link add ${d} type veth peer name ${d}-far`,
        `link set ${d} up`,
        `link set ${d}-far up`,
      ]),
      'addr add 203.0.113.80/26 dev line0',
      'route add default via 203.0.113.65 dev line0',
      `addr add ${office.gateway}/24 dev vlan${office.vlanId}`,
      ...tunnels.flatMap((t) => {
        const own = reckonTunnel(siteModel(plan), t).ownAddress
        const length = t.subnet?.split('/')[1]
        return own ? [`addr add ${own}/${length} dev ${tunnelInterface(plan, t.id)}`] : []
      }),
    ],
    space,
  )
  const within = (...args: string[]): string => must('ip', ['netns', 'exec', space, ...args])
  within('sysctl', '-q', '-w', 'net.ipv4.ip_forward=1', 'net.ipv4.conf.all.rp_filter=0')
  const load = (name: string): void => {
    const file = join(folder, name)
    writeFileSync(file, written('tunnel-routes')[name]!)
    within('ip', '-batch', file)
  }
  /** By which interface something leaves that came in from the office. */
  const way = (from: string, to: string): string => {
    const asked = spawnSync(
      'ip',
      [
        ...['netns', 'exec', space, 'ip', 'route', 'get', to, 'from', from],
        ...['iif', `vlan${office.vlanId}`],
      ],
      { encoding: 'utf8' },
    )
    return / dev (\S+)/.exec(asked.stdout)?.[1] ?? 'nowhere'
  }
  const chart = plan.devices['chart-machine']!.addressing.address!
  const other = office.gateway!.replace(/\.1$/, '.77')
  const charts = tunnelInterface(plan, 'charts')
  expect(way(chart, INTERNET)).toBe('line0')
  load('tunnels.batch')
  expect(way(chart, INTERNET)).toBe(charts)
  expect(way(other, INTERNET)).toBe('line0')
  // What is inside stays inside, and the other site is behind its tunnel.
  expect(way(chart, '10.250.40.2')).toBe(tunnelInterface(plan, 'chandlery'))
  expect(way(other, '192.168.1.9')).toBe(tunnelInterface(plan, 'chandlery'))
  within('ip', 'link', 'set', charts, 'down')
  expect(way(chart, INTERNET)).toBe(whenDown === 'blocked' ? 'nowhere' : 'line0')
  expect(way(other, INTERNET)).toBe('line0')
  within('ip', 'link', 'set', charts, 'up')
  load('tunnels-away.batch')
  expect(way(chart, INTERNET)).toBe('line0')
})

it('the ends here are read by wg-quick, which is told to leave routes alone', () => {
  const folder = mkdtempSync(join(tmpdir(), 'able-mast-ends-'))
  onTestFinished(() => rmSync(folder, { recursive: true, force: true }))
  const files = site('blocked').written('wireguard')
  expect(Object.keys(files)).toHaveLength(3)
  for (const [name, text] of Object.entries(files)) {
    const file = join(folder, name)
    writeFileSync(file, text, { mode: 0o600 })
    const read = must('wg-quick', ['strip', file])
    expect(read).toMatch(/\[Interface\]/)
    expect(read).not.toMatch(/Table|Address|MTU|PrivateKey\s*=\s*\S{44}/)
    expect(text).toContain('Table = off')
    expect(text).not.toMatch(/^PrivateKey/m)
  }
})
