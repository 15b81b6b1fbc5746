/** What stands outside: routers that translate, names that may be kept, files that are read. */
import { describe, expect, it } from 'vitest'
import { EventQueue } from '../clock/eventQueue'
import { toNumber, type Packet } from '../frames/frame'
import { NameMemory, Names } from './names'
import { callerPlace, callerPorts } from './places'
import { Translation } from './translation'
import { readTunnelFile } from './tunnelFile'

const HOME = toNumber('192.168.178.20')
const SITE = toNumber('203.0.113.80')
const udp = (src: number, srcPort: number, dst: number, dstPort: number): Packet => ({
  ...{ kind: 'ipv4', src, dst, ttl: 64 },
  body: { protocol: 'udp', srcPort, dstPort, data: { kind: 'datagram', isReply: false } },
})
const later = (queue: EventQueue, seconds: number): void => {
  queue.now += seconds
}

describe('a router that translates', () => {
  it('lets answers back to who asked, from whom it asked alone, as long as it remembers', () => {
    const queue = new EventQueue()
    const router = new Translation(queue, toNumber('198.51.100.100'))
    const out = router.out(udp(HOME, 51_820, SITE, 51_820))
    expect(out.src).toBe(router.address)
    const { body } = out
    if (body.protocol !== 'udp') throw new Error('it was UDP')
    const answer = udp(SITE, 51_820, router.address, body.srcPort)
    expect(router.back(answer)).toMatchObject({ dst: HOME, body: { dstPort: 51_820 } })
    expect(router.back({ ...answer, src: SITE + 1 })).toBeUndefined()
    expect(router.back(udp(SITE, 51_821, router.address, body.srcPort))).toBeUndefined()
    later(queue, 59)
    expect(router.back(answer)).toBeDefined()
    // What passes keeps it open; a minute of silence does not.
    later(queue, 61)
    expect(router.back(answer)).toBeUndefined()
    expect(router.out(udp(HOME, 51_820, SITE, 51_820))).not.toEqual(out)
  })
  it('keeps those who share an address apart by their ports', () => {
    const places = Array.from({ length: 2000 }, (_, nth) => ({
      at: callerPlace(nth),
      ...callerPorts(nth),
    }))
    for (const [n, a] of places.entries())
      for (const b of places.slice(n + 1))
        if (a.at === b.at) expect(a.last < b.first || b.last < a.first).toBe(true)
    expect(Math.max(...places.map((p) => p.last))).toBeLessThan(65_536)
  })
})

describe('names', () => {
  it('are kept no longer than they may, whatever the server says since', () => {
    const queue = new EventQueue()
    const names = new Names()
    names.register('Quay.example.org', SITE, 300)
    const memory = new NameMemory(queue, names)
    expect(memory.find('quay.example.org')).toBe(SITE)
    expect(names.update('quay.example.org', SITE + 1, 300)).toBe(true)
    later(queue, 299)
    expect(memory.find('quay.example.org')).toBe(SITE)
    later(queue, 2)
    expect(memory.find('quay.example.org')).toBe(SITE + 1)
  })
  it('are changed by nobody who did not register them, and no more where they are stuck', () => {
    const names = new Names()
    expect(names.update('elsewhere.example.org', SITE, 300)).toBe(false)
    names.register('quay.example.org', SITE)
    names.isStuck = true
    expect(names.update('quay.example.org', SITE + 1, 300)).toBe(false)
    expect(names.lookup('quay.example.org')?.address).toBe(SITE)
  })
})

it('a file is read with lines that it does not know, and lists over several lines', () => {
  const file = readTunnelFile(
    [
      '[Interface]',
      '# Address = 10.9.9.9/32',
      'Address = 10.250.30.2/32, fd00::2/128',
      'Table = off',
      'MTU = 1412',
      '[Peer]',
      'PublicKey = abc=',
      'AllowedIPs = 10.20.0.0/16',
      'AllowedIPs = 10.250.30.1/32 # this end',
      'Endpoint = quay.example.org:51820',
      '[peer]',
      'PublicKey = def=',
    ].join('\n'),
  )
  expect(file).toMatchObject({ privateKey: null, mtu: 1412, listenPort: null })
  expect(file.addresses).toEqual([{ network: toNumber('10.250.30.2'), length: 32 }])
  expect(file.peers.map((p) => [p.publicKey, p.allowed.length, p.endpoint?.port])).toEqual([
    ['abc=', 2, 51_820],
    ['def=', 0, undefined],
  ])
})
