import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { keyText, privateKeyFrom, publicKeyOf } from '../keys/keys'
import { readTunnelFile } from './read'
import { writeTunnelFile, type WrittenTunnel } from './write'

const key = fc.uint8Array({ minLength: 32, maxLength: 32 }).map((octets) => privateKeyFrom(octets))
const net = fc
  .tuple(fc.nat(255), fc.nat(255), fc.integer({ min: 8, max: 24 }))
  .map(([a, b, length]) => {
    const whole = ((10 << 24) | (a << 16) | (b << 8)) >>> 0
    const kept = length === 0 ? 0 : (whole & (0xffffffff << (32 - length))) >>> 0
    return `${kept >>> 24}.${(kept >>> 16) & 255}.${(kept >>> 8) & 255}.${kept & 255}/${length}`
  })
const tunnel: fc.Arbitrary<WrittenTunnel> = fc.record({
  name: fc.constantFrom('Laptop: Road', 'One'),
  privateKey: key,
  addresses: fc.constantFrom(['10.250.20.2/32'], ['10.250.20.2/32', 'fd00:20::2/128']),
  listenPort: fc.option(fc.integer({ min: 1, max: 65_535 })),
  mtu: fc.option(fc.integer({ min: 576, max: 1500 })),
  nameServers: fc.constantFrom([], ['10.20.10.1']),
  peers: fc.array(
    fc.record({
      name: fc.constantFrom('Gateway', 'Other'),
      publicKey: key.map((k) => publicKeyOf(k)!),
      sharedKey: fc.option(fc.uint8Array({ minLength: 32, maxLength: 32 }).map(keyText)),
      allowed: fc.uniqueArray(net, { minLength: 1, maxLength: 4 }),
      endpoint: fc.option(
        fc.constantFrom(
          { host: 'harbour.example.org', port: 51_820 },
          { host: '2001:db8::7', port: 4500 },
        ),
      ),
      keepaliveSeconds: fc.option(fc.integer({ min: 1, max: 120 })),
    }),
    { maxLength: 4 },
  ),
})

const sound = (extra: string, peer = ''): string =>
  [
    '[Interface]',
    `PrivateKey = ${privateKeyFrom(new Uint8Array(32).fill(7))}`,
    'Address = 10.64.12.7/32',
    extra,
    '',
    '# northern exit',
    '[Peer]',
    `PublicKey = ${publicKeyOf(privateKeyFrom(new Uint8Array(32).fill(9)))}`,
    'AllowedIPs = 0.0.0.0/0, ::/0',
    'Endpoint = north.example.org:51820',
    peer,
  ].join('\n')

describe('the file of a tunnel', () => {
  it('is read back as it was written, whatever it says', () => {
    fc.assert(
      fc.property(tunnel, (t) => {
        const { tunnel: read, problems } = readTunnelFile(writeTunnelFile(t))
        expect(problems).toEqual([])
        expect(read).toMatchObject({
          name: t.name,
          privateKey: t.privateKey,
          addresses: t.addresses,
          listenPort: t.listenPort,
          mtu: t.mtu,
          nameServers: t.nameServers,
          kept: [],
        })
        expect(read!.peers).toEqual(
          t.peers.map((p) => ({ ...p, line: expect.any(Number) as number })),
        )
      }),
    )
  })
  it('keeps what it does not know with its line, takes comments, capitals and other line ends', () => {
    const text = sound('Table = off\nPostUp = echo hello # said once', 'FutureThing = 5')
    const { tunnel: read, problems } = readTunnelFile(
      `\uFEFF${text.replace('PrivateKey', 'privatekey').replace(/\n/g, '\r\n')}`,
    )
    expect(problems).toEqual([])
    expect(read!.kept.map((k) => [k.line, k.name, k.value])).toEqual([
      [4, 'Table', 'off'],
      [5, 'PostUp', 'echo hello'],
      [12, 'FutureThing', '5'],
    ])
    expect(read!.peers[0]).toMatchObject({
      name: 'northern exit',
      endpoint: { host: 'north.example.org', port: 51_820 },
    })
  })
  it.each<[string, string, number, number, RegExp]>([
    ['no section', 'hello = 1', 1, 1, /stands before any section/],
    ['another section', '[Wire]\nA = 1', 1, 1, /is no section; expected \[Interface\] or \[Peer\]/],
    ['no assignment', '[Interface]\nPrivateKey', 2, 1, /is no 'name = value'/],
    ['a key cut off', '[Interface]\nPrivateKey = abc=', 2, 14, /PrivateKey is no key/],
    ['no private key', '[Interface]\nMTU = 1400', 1, 1, /has no PrivateKey/],
    ['no peer key', sound('').replace(/PublicKey.*\n/, ''), 7, 1, /this \[Peer\] has no PublicKey/],
    [
      'a wrong address',
      sound('Address = 10.64.0.1/32, 10.64.1/40'),
      4,
      25,
      /is no address with a length/,
    ],
    ['a wrong port', sound('ListenPort = 70000'), 4, 14, /whole number from 0 to 65535/],
    [
      'an endpoint without port',
      sound('').replace(':51820', ''),
      10,
      12,
      /a name or an address with a port/,
    ],
    ['twice', sound('MTU = 1400\nMTU = 1300'), 5, 7, /stands here twice; the first counts/],
    ['nothing', '', 1, 1, /this is no file of a tunnel/],
  ])('%s: says line and column', (_, text, line, column, reason) => {
    const { problems } = readTunnelFile(text)
    expect(problems).toContainEqual({ line, column, reason: expect.stringMatching(reason) })
  })
  it('never falls over, and what people typed never becomes a line of its own', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 300 }), (text) => {
        expect(() => readTunnelFile(text)).not.toThrow()
        const written = writeTunnelFile({
          name: `${text}\n[Peer]`,
          privateKey: null,
          addresses: [],
          listenPort: null,
          mtu: null,
          nameServers: [],
          peers: [],
        })
        expect(written.split('\n').filter((l) => l.trim().startsWith('['))).toEqual(['[Interface]'])
      }),
    )
  })
})
