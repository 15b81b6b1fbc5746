import { describe, expect, it } from 'vitest'
import { quayside } from '../../../tests/sites/quayside'
import { DhcpServer } from '../../../standins/net/dhcpServer'
import { toNumber, toText, type Dhcp } from '../../../standins/frames/frame'
import { applyEdits, editCall as edit } from '../../plan'
import { siteModel } from '../../topology'
import { nextLeases } from './nextLease'

const SEGMENT = 'cameras'
/** Cameras, some of them reserved in the middle of the pool, with a hardware address each. */
function plan() {
  const profile = Object.values(quayside().profiles).find((p) => p.kind === 'host')!
  const [pool] = quayside().segments[SEGMENT]!.pools
  const inside = toText(toNumber(pool!.first) + 1)
  const add = (n: number, addressing: { mode: 'automatic' | 'reserved'; address?: string }) =>
    edit('addDevice', {
      ...{ id: `cam-${n}`, name: `Camera ${n}`, profileId: profile.id },
      hardwareAddress: `02:00:00:00:00:0${n}`,
      addressing: { segmentId: SEGMENT, address: null, gateway: null, ...addressing },
    })
  return applyEdits(quayside(), [
    add(1, { mode: 'automatic' }),
    add(2, { mode: 'reserved', address: inside }),
    add(3, { mode: 'automatic' }),
    add(4, { mode: 'automatic' }),
  ])
}
const model = siteModel(plan())
const cameras = [1, 2, 3, 4].map((n) => model.device(`cam-${n}`))

/** A server of the stand-ins, asked by one client after the other. */
function served(order: readonly (typeof cameras)[number][], leases = new Map<string, number>()) {
  const segment = model.plan.segments[SEGMENT]!
  const given = new Map<string, string>()
  let answer: Dhcp | undefined
  const server = new DhcpServer(
    {
      own: toNumber(segment.gateway!),
      pools: segment.pools.map((p) => ({ first: toNumber(p.first), last: toNumber(p.last) })),
      reservations: new Map(
        model.devices
          .filter((d) => d.addressing.segmentId === SEGMENT && d.addressing.address)
          .map((d) => [d.hardwareAddress ?? d.id, toNumber(d.addressing.address!)]),
      ),
      options: { length: 24, router: 0, nameServer: 0, leaseSeconds: 600, vendor: null },
    },
    (_, { body }) => {
      if (body.protocol === 'udp') answer = body.data as Dhcp
    },
    leases,
  )
  for (const d of order) {
    const ask = (op: 'discover' | 'request', address: number): void =>
      server.receive({
        ...{ kind: 'dhcp', op, transaction: 1, client: d.hardwareAddress!, address },
        ...{ server: toNumber(segment.gateway!), relay: 0, options: null },
      })
    ask('discover', 0)
    ask('request', answer!.address)
    given.set(d.id, toText(answer!.address))
  }
  return given
}
const guessed = (order: typeof cameras, held = new Map<string, string>()) =>
  new Map(nextLeases(model, order, { held }).map((g) => [g.deviceId, g.address]))

describe('the next lease', () => {
  it('is what a server gives that asks for the lowest, in whatever order they come', () => {
    for (const order of [cameras, [...cameras].reverse(), [cameras[2]!, cameras[0]!]])
      expect(guessed(order)).toEqual(served(order))
  })
  it('is what a client had before, after both started again', () => {
    const leases = new Map<string, number>()
    const first = served([cameras[3]!, cameras[0]!], leases)
    const held = new Map([...leases].map(([mac, a]) => [mac, toText(a)]))
    const second = [cameras[0]!, cameras[2]!, cameras[3]!]
    const after = served(second, leases)
    expect(guessed(second, held)).toEqual(after)
    expect(after.get('cam-4')).toBe(first.get('cam-4'))
  })
  it('says why there is none', () => {
    const bare = siteModel(
      applyEdits(plan(), [
        edit('changeDevice', { id: 'cam-2', changes: { hardwareAddress: null } }),
      ]),
    )
    expect(nextLeases(bare, [bare.device('cam-2')])[0]).toMatchObject({
      address: null,
      because: expect.stringContaining('nobody has read yet'),
    })
  })
})
