/**
 * Exports judged by the programs that they are for, on a hundred random plans: every format that
 * names a judge. A program that is missing fails the run.
 */
import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import {
  importOf,
  readAddressCsv,
  formats,
  netplanAddresses,
  readDnsmasq,
  readKea,
  readNetplan,
  readZone,
  writeAddressCsv,
  writeDnsmasqFiles,
  writeKeaFiles,
  writeNetplan,
  writeZones,
  zoneAddresses,
  type AddressFile,
} from '@mast/core/formats'
import { chanceOf, randomSite, smallShape } from '@mast/core/generator'
import { applyEdits, type SitePlan } from '@mast/core/plan'
import { siteModel, type SiteModel } from '@mast/core/topology'
import { kittiwakeHarbour } from '../../demo/kittiwakeHarbour'

const PLANS = 100
const folder = mkdtempSync(join(tmpdir(), 'able-mast-exports-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

/** A random site with options, routes, several pools, relays, names and IPv6 as well. */
function plan(seed: number): SitePlan {
  const chance = chanceOf(seed)
  const made = randomSite(chance, smallShape(chance, 0))
  made.site.domain = chance.one(['site.internal', 'a-b.example', null])
  made.site.addressSpace6 = chance.happens(0.5) ? ['2001:db8:20::/48'] : []
  for (const s of Object.values(made.segments)) {
    s.options = {
      nameServers: chance.happens(0.3) ? ['192.0.2.53', '198.51.100.53'] : [],
      timeServers: chance.happens(0.3) ? ['192.0.2.123'] : [],
      routes: chance.happens(0.4)
        ? [
            { to: '10.200.0.0/16', via: s.gateway! },
            { to: '172.20.4.0/23', via: s.gateway! },
          ].slice(0, chance.between(1, 2))
        : [],
    }
    s.leaseSeconds = chance.one([1800, 86_400, 604_800])
    s.name = chance.one([s.name, `${s.name} "upper"`, `${s.name}; deck #2`, `Süd ${s.vlanId}`])
    if (chance.happens(0.3)) {
      const [pool] = s.pools
      const [first, last] = [pool!.first, pool!.last].map((t) =>
        t.split('.').reduce((n, o) => n * 256 + Number(o), 0),
      ) as [number, number]
      const text = (v: number): string =>
        [24, 16, 8, 0].map((b) => Math.floor(v / 2 ** b) % 256).join('.')
      const middle = Math.floor((first + last) / 2)
      if (last - first > 8)
        s.pools = [
          { first: pool!.first, last: text(middle - 2) },
          { first: text(middle), last: pool!.last },
        ]
    }
    if (chance.happens(0.15)) s.dhcp = { mode: 'off', relayTo: null }
  }
  const server = Object.values(made.devices).find(
    (d) => d.addressing.mode === 'fixed' && d.addressing.address,
  )
  if (server)
    for (const s of Object.values(made.segments))
      if (s.dhcp.mode === 'server' && s.id !== server.addressing.segmentId && chance.happens(0.3))
        s.dhcp = { mode: 'relay', relayTo: server.addressing.address }
  made.controller.hostDeviceId =
    Object.keys(made.devices).find((id) => made.devices[id]!.addressing.mode === 'fixed') ?? null
  return made.site.addressSpace6.length > 0
    ? applyEdits(made, [{ name: 'allocateSixtyFours', args: {} }])
    : made
}
const models: SiteModel[] = [
  ...Array.from({ length: PLANS }, (_, i) => siteModel(plan(1000 + i))),
  siteModel(kittiwakeHarbour()),
]

/** The system's own programs first: packages bring some of the same names. */
const SYSTEM = { ...process.env, PATH: `/usr/sbin:/sbin:/usr/bin:/bin:${process.env.PATH}` }

function accepts(program: string, args: readonly string[], what: string): void {
  const done = spawnSync(program, args, {
    encoding: 'utf8',
    env: SYSTEM,
  })
  if (done.error) throw new Error(`${program} cannot be run: ${done.error.message}`)
  expect(done.status, `${what}: ${done.stdout}${done.stderr}`).toBe(0)
}
/** Whether a program does refuse what is wrong; one that takes everything judges nothing. */
const refuses = (program: string, args: readonly string[]): boolean =>
  spawnSync(program, args, { env: SYSTEM }).status !== 0
/** Of programs that are slow to start, fewer plans. */
const mostOf: Readonly<Record<string, number>> = { netplan: 40 }

describe.each(formats.filter((f) => f.judge).map((f) => [f.id, f] as const))('%s', (id, format) => {
  const { program, args, at, spoil } = format.judge!
  /** In a folder of its own, where the program looks for it. */
  const put = (what: string, name: string, text: string): readonly string[] => {
    const root = join(folder, `${id}-${what}`)
    mkdirSync(join(root, at ?? ''), { recursive: true })
    const path = join(root, at ?? '', name)
    writeFileSync(path, text, { mode: 0o600 })
    return args(path, root)
  }
  const written = models.flatMap((m, i) =>
    Object.entries(format.write!({ model: m, serial: i + 1, utcOffset: 60 })).map(
      ([name, text], n) => ({ what: `${i}-${n}`, name, text }),
    ),
  )
  it(`is accepted by ${program}, written of ${models.length} plans`, () => {
    expect(written.length).toBeGreaterThan(40)
    for (const { what, name, text } of written.slice(-(mostOf[id] ?? 1000)))
      accepts(program, put(what, name, text), `plan ${what}, ${name}\n${text}`)
  })
  it(`is refused by ${program} where it is broken`, () => {
    const { name, text } = written[0]!
    expect(refuses(program, put('broken', name, spoil(text)))).toBe(true)
  })
})

describe('what is written is read back', () => {
  const addresses = (p: SitePlan): unknown =>
    Object.values(p.segments)
      .filter((s) => s.dhcp.mode !== 'off')
      .map(({ vlanId, name, subnet, gateway, pools, leaseSeconds, dhcp, options }) => ({
        vlanId,
        name,
        subnet,
        gateway,
        pools,
        leaseSeconds,
        dhcp,
        options,
      }))
      .sort((a, b) => a.vlanId - b.vlanId)
  /**
   * The plan as a stranger would build it from the file: its segments gone, brought in from the
   * file.
   */
  const rebuilt = (p: SitePlan, edits: ReturnType<typeof importOf>['edits']): SitePlan =>
    applyEdits(p, edits)
  const bare = (p: SitePlan): SitePlan =>
    applyEdits(
      { ...structuredClone(p), intents: {} },
      Object.values(p.segments).map((s) => ({
        name: 'changeSegment',
        args: {
          id: s.id,
          changes: {
            subnet: null,
            gateway: null,
            fixedBlock: null,
            pools: [],
            leaseSeconds: 3600,
            ...(s.dhcp.mode === 'off' ? {} : { dhcp: { mode: 'server', relayTo: null } }),
            options: { nameServers: [], timeServers: [], routes: [] },
          },
        },
      })),
    )

  it('address CSV gives all of the segments back', () => {
    for (const m of models) {
      const read = readAddressCsv(writeAddressCsv(m.plan))
      expect(read.problems).toEqual([])
      expect(importOf(m.plan, read)).toMatchObject({ edits: [], same: m.segments.length })
      expect(rebuilt(bare(m.plan), importOf(bare(m.plan), read).edits).segments).toEqual(
        m.plan.segments,
      )
    }
  })
  it.each([
    ['Kea', readKea, writeKeaFiles],
    ['dnsmasq', readDnsmasq, writeDnsmasqFiles],
  ] as const)(
    '%s gives subnets, pools, leases, options and reservations back',
    (_, read, write) => {
      for (const m of models) {
        const files = Object.values(write(m)).map(read)
        const file: AddressFile = {
          rows: files.flatMap((f) => f.rows),
          hosts: files.flatMap((f) => f.hosts),
          problems: files.flatMap((f) => f.problems),
          leftOut: files.flatMap((f) => f.leftOut),
        }
        expect([...file.problems, ...file.leftOut]).toEqual([])
        const again = rebuilt(bare(m.plan), importOf(bare(m.plan), file).edits)
        expect(addresses(again)).toEqual(addresses(m.plan))
        const reserved = (p: SitePlan): unknown =>
          Object.values(p.devices)
            .filter(
              (d) =>
                d.addressing.mode === 'reserved' &&
                d.addressing.address &&
                d.hardwareAddress &&
                (p.segments[d.addressing.segmentId ?? '']?.dhcp.mode ?? 'off') !== 'off',
            )
            .map((d) => [d.id, d.addressing.address])
            .sort()
        const forgotten = applyEdits(
          m.plan,
          Object.values(m.plan.devices)
            .filter((d) => d.addressing.mode === 'reserved')
            .map((d) => ({
              name: 'changeDevice',
              args: {
                id: d.id,
                changes: { addressing: { ...d.addressing, address: '10.255.255.254' } },
              },
            })),
        )
        expect(reserved(applyEdits(forgotten, importOf(forgotten, file).edits))).toEqual(
          reserved(m.plan),
        )
      }
    },
  )
  it('zones give every planned name and address back', () => {
    for (const m of models) {
      const { domain } = m.plan.site
      if (!domain) continue
      const { records, problems } = readZone(writeZones(m, 7)[domain]!, domain)
      expect(problems).toEqual([])
      for (const d of m.devices)
        if (d.addressing.mode !== 'automatic' && d.addressing.address)
          expect(records.some((r) => r.type === 'A' && r.data === d.addressing.address)).toBe(true)
      // Read over the plan that it is from, the file changes nothing and knows everybody.
      for (const [zone, text] of Object.entries(writeZones(m, 7)))
        expect(importOf(m.plan, zoneAddresses(text, `${zone}.zone`))).toMatchObject({
          edits: [],
          strangers: [],
        })
    }
  })
  it('netplan gives the typed addresses back', () => {
    for (const m of models)
      for (const [name, text] of Object.entries(writeNetplan(m))) {
        const device = m.plan.devices[name.replace('.yaml', '')]!
        const { addresses: read, problems } = readNetplan(text)
        expect(problems).toEqual([])
        expect(read.map((a) => [a.address, a.gateway])).toEqual(
          device.addressing.mode === 'fixed' && device.addressing.address
            ? [[device.addressing.address, device.addressing.gateway]]
            : [],
        )
        // And into a plan that has forgotten it.
        const forgotten = applyEdits(m.plan, [
          {
            name: 'changeDevice',
            args: {
              id: device.id,
              changes: {
                addressing: {
                  ...device.addressing,
                  mode: 'automatic',
                  address: null,
                  gateway: null,
                },
              },
            },
          },
        ])
        if (read.length > 0)
          expect(
            applyEdits(forgotten, importOf(forgotten, netplanAddresses(text, name)).edits).devices[
              device.id
            ],
          ).toEqual(device)
      }
  })
})
