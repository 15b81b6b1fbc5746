/** Two ends that hear each other over a way that can be cut: the published protocol, section by section. */
import { describe, expect, it } from 'vitest'
import { EventQueue } from '../clock/eventQueue'
import { toNumber, type Packet, type Sealed } from '../frames/frame'
import { publicHalf } from './identity'
import { spansIn } from './span'
import { TunnelEnd, type Heard, type TunnelPeer } from './tunnelEnd'

const [HERE, THERE] = [toNumber('10.250.30.1'), toNumber('10.250.30.2')]
const echo = (src: number, dst: number): Packet => ({
  ...{ kind: 'ipv4', src, dst, ttl: 64 },
  body: { protocol: 'icmp', type: 'echo', id: 7, octets: 84 },
})

/** `site` is called, `road` calls. */
function pair(more: { road?: Partial<TunnelPeer>; site?: Partial<TunnelPeer>; key?: string } = {}) {
  const queue = new EventQueue()
  const ends: { site?: TunnelEnd; road?: TunnelEnd } = {}
  const seen = { site: [] as Packet[], road: [] as Packet[], said: [] as string[] }
  let way = { address: 1, isCut: false }
  const carry = (to: 'site' | 'road') => (at: Heard, data: Sealed) => {
    seen.said.push(`${to === 'site' ? 'road' : 'site'} ${data.message}`)
    if (way.isCut || (to === 'road' && at.address !== way.address)) return
    const from: Heard = { address: to === 'site' ? way.address : 100, port: 51_820, by: null }
    queue.after(0.01, () => ends[to]!.receive(data, from))
  }
  const peer = (publicKey: string, allowed: string): TunnelPeer => ({
    ...{ name: publicKey, publicKey, sharedKey: null, keepaliveSeconds: 0, endpoint: null },
    allowed: spansIn([allowed]),
  })
  ends.site = new TunnelEnd(
    queue,
    {
      ...{ identity: 'site', address: HERE, length: 24, mtu: 1420 },
      peers: [{ ...peer('road', '10.250.30.2/32'), ...more.site }],
    },
    { send: carry('road'), resolve: (_, done) => done(null) },
  )
  ends.road = new TunnelEnd(
    queue,
    {
      ...{ identity: more.key ?? 'road', address: THERE, length: 32, mtu: 1420 },
      peers: [
        {
          ...peer('site', '10.250.30.0/24'),
          endpoint: { host: 'site.example', port: 51_820 },
          ...more.road,
        },
      ],
    },
    { send: carry('site'), resolve: (_, done) => done(100) },
  )
  ends.site.onPacket = (p) => seen.site.push(p)
  ends.road.onPacket = (p) => seen.road.push(p)
  const pass = (seconds: number): void => {
    const end = queue.now + seconds
    while (queue.step(end)) continue
    queue.now = end
  }
  return {
    ...{ queue, seen, pass, site: ends.site, road: ends.road },
    change: (to: Partial<typeof way>) => (way = { ...way, ...to }),
  }
}

describe('two ends', () => {
  it('shake hands with the first packet, which is not lost', () => {
    const { road, site, seen, pass } = pair()
    road.send(echo(THERE, HERE))
    pass(1)
    expect([road.isUp(), site.isUp()]).toEqual([true, true])
    expect(seen.site).toHaveLength(1)
  })
  it('who is called takes a session for one only when it hears it used', () => {
    const { road, site, pass, change } = pair()
    road.call('site')
    change({ address: 2 })
    // The answer goes where the call came from.
    pass(0.015)
    expect([road.isUp(), site.isUp()]).toEqual([false, false])
  })
  it.each<[string, Parameters<typeof pair>[0]]>([
    ['another key', { key: 'stranger' }],
    ['a key of another end', { road: { publicKey: 'elsewhere' } }],
    ['a shared key at one end alone', { road: { sharedKey: 'k' } }],
  ])('do not with %s', (_, more) => {
    const { road, site, seen, pass } = pair(more)
    road.send(echo(THERE, HERE))
    pass(30)
    expect(road.isUp() || site.isUp()).toBe(false)
    expect(seen.site).toEqual([])
    expect(site.refusedAt).toBeGreaterThanOrEqual(0)
  })
  it('take nothing from an address that is not allowed, and send to nobody what nobody is allowed', () => {
    const { road, site, seen, pass } = pair()
    road.send(echo(toNumber('10.9.9.9'), HERE))
    road.send(echo(THERE, toNumber('10.9.9.9')))
    pass(5)
    expect(seen.site).toEqual([])
    expect(site.leads(THERE)).toBe(32)
    expect(site.leads(HERE)).toBe(-1)
  })
  it('follow who is heard from elsewhere', () => {
    const { road, site, seen, pass, change } = pair()
    road.send(echo(THERE, HERE))
    pass(1)
    change({ address: 9 })
    site.send(echo(HERE, THERE))
    pass(1)
    expect(seen.road).toHaveLength(0)
    road.send(echo(THERE, HERE))
    pass(1)
    site.send(echo(HERE, THERE))
    pass(1)
    expect(seen.road).toHaveLength(1)
  })
  it('use no session that is three minutes old, and make a new one before where they talk', () => {
    const quiet = pair()
    quiet.road.send(echo(THERE, HERE))
    quiet.pass(200)
    expect([quiet.road.isUp(), quiet.site.isUp()]).toEqual([false, false])
    const talking = pair({ road: { keepaliveSeconds: 25 } })
    talking.road.start()
    talking.pass(600)
    expect([talking.road.isUp(), talking.site.isUp()]).toEqual([true, true])
    expect(talking.seen.said.filter((s) => s === 'road call').length).toBeGreaterThan(3)
  })
  it('call anew when they send and hear nothing, and again where the way is back', () => {
    const { road, seen, pass, change } = pair()
    road.send(echo(THERE, HERE))
    pass(20)
    change({ isCut: true })
    const before = seen.said.length
    road.send(echo(THERE, HERE))
    pass(14)
    expect(seen.said.slice(before)).toEqual(['road data'])
    pass(7)
    expect(seen.said.slice(before)).toContain('road call')
    change({ isCut: false })
    pass(6)
    road.send(echo(THERE, HERE))
    pass(1)
    expect(seen.site).toHaveLength(2)
  })
})

it('a private key has its public half, by the vector of RFC 7748 6.1', () => {
  const base64 = (hex: string): string => Buffer.from(hex, 'hex').toString('base64')
  expect(
    publicHalf(base64('5dab087e624a8a4b79e17f8b83800ee66f3bb1292618b6fd1c2f8b27ff88e0eb')),
  ).toBe(base64('de9edb7d7b7dc1b4d35b61c2ece435373f8343c85b78674dadfc7e146f882b4f'))
  expect(publicHalf('short')).toBeNull()
})
