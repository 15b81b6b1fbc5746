import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { kittiwakeHarbour } from '../../../demo/kittiwakeHarbour'
import { applyEdits, editCall as edit } from '../../plan'
import { siteModel } from '../../topology'
import { reckonTunnel } from '../reckoned'
import { explainShow } from './explain'
import { readShow } from './readShow'

const KEY = 'PpdxiEt6SxHiCOiyJzw7pnNRRInMBxs/aeq2p7jtaCk='
const plan = applyEdits(kittiwakeHarbour(), [
  edit('changeTunnel', { id: 'road', changes: { publicKey: KEY } }),
])
const reckoned = reckonTunnel(siteModel(plan), plan.tunnels.road!)
const keyOf = (id: string): string => plan.peers[id]!.publicKey!
const peer = (id: string, ...lines: string[]): string =>
  [`peer: ${keyOf(id)}`, ...lines.map((l) => `  ${l}`), ''].join('\n')
const shown = (...peers: string[]): string =>
  [
    'interface: wg0',
    `  public key: ${KEY}`,
    '  private key: (hidden)',
    '  listening port: 51820',
    '',
    ...peers,
  ].join('\n')
const allowed = (id: string): string => `allowed ips: ${plan.peers[id]!.address}/32`
const NOW = 1_800_000_000

describe('a reading of this end', () => {
  it('says of each peer how it is, and what to look at first', () => {
    const text = shown(
      peer('contractor-laptop', allowed('contractor-laptop')),
      peer(
        'office-laptop',
        'endpoint: 192.0.2.7:40123',
        allowed('office-laptop'),
        'latest handshake: 1 hour, 2 minutes, 5 seconds ago',
        'transfer: 1.20 MiB received, 3.00 MiB sent',
        'persistent keepalive: every 25 seconds',
      ),
      peer(
        'warden-phone',
        'endpoint: [2001:db8::7]:40123',
        allowed('warden-phone'),
        'latest handshake: 12 seconds ago',
        'transfer: 148 B received, 92 B sent',
      ),
    )
    const read = readShow(text, NOW)
    expect(read.problems).toEqual([])
    expect(read.interfaces[0]!.peers[1]).toMatchObject({
      handshakeAgo: 3725,
      receivedOctets: Math.round(1.2 * 1024 ** 2),
      keepaliveSeconds: 25,
    })
    const { peers, own } = explainShow(reckoned, read)
    expect(own).toEqual([])
    const of = (id: string) => peers.find((p) => p.peerId === id)!
    expect(of('contractor-laptop')).toMatchObject({ state: 'never' })
    expect(of('contractor-laptop').checks[0]).toMatch(/^Port: does UDP 51820/)
    expect(of('office-laptop')).toMatchObject({
      state: 'stale',
      text: expect.stringMatching(/62 min ago/),
    })
    expect(of('warden-phone')).toMatchObject({ state: 'no-traffic' })
    expect(of('warden-phone').checks[0]).toMatch(/^Allowed addresses/)
  })
  it('names another key, another port, another list of addresses, and strangers', () => {
    const text = shown(
      peer(
        'office-laptop',
        'allowed ips: 10.9.9.9/32',
        'latest handshake: Now',
        'transfer: 1.00 GiB received, 2.00 GiB sent',
      ),
      `peer: ${'A'.repeat(42)}E=\n  allowed ips: (none)\n`,
    )
      .replace(KEY, keyOf('contractor-laptop'))
      .replace('51820', '51999')
    const { own, peers } = explainShow(reckoned, readShow(text, NOW))
    expect(own.join(' ')).toMatch(/is not the one of this pair \(C-60\)/)
    expect(own.join(' ')).toMatch(/listens on UDP 51999, and is called on 51820/)
    expect(peers.find((p) => p.peerId === 'office-laptop')!.text).toMatch(
      /is allowed 10\.9\.9\.9\/32 there; planned is 172\.0\.30\.2\/32/,
    )
    expect(peers.find((p) => p.peerId === 'warden-phone')!.state).toBe('unknown')
    expect(peers.at(-1)!.text).toMatch(/is nobody of the plan/)
  })
  it('takes a dump, with the private key passed over', () => {
    const dump = [
      ['wg0', 'secret', KEY, '51820', 'off'],
      [
        ...['wg0', keyOf('office-laptop'), '(none)', '192.0.2.7:40123', '172.0.30.2/32'],
        ...[String(NOW - 20), '90000', '80000', '25'],
      ],
    ]
      .map((f) => f.join('\t'))
      .join('\n')
    const read = readShow(dump, NOW)
    expect(JSON.stringify(read)).not.toContain('secret')
    const fine = explainShow(reckoned, read).peers.find((p) => p.peerId === 'office-laptop')!
    expect(fine).toMatchObject({ state: 'fine', text: 'Office laptop is up from 192.0.2.7:40123.' })
    expect(fine.checks[0]).toMatch(/1412 octets at both ends/)
  })
  it('never falls over, and says which lines it does not understand', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 200 }), (text) => {
        expect(() => explainShow(reckoned, readShow(text, NOW))).not.toThrow()
      }),
    )
    expect(readShow('interface: wg0\nwhat is this\n  transfer: much', NOW).problems).toEqual([
      { line: 2, reason: "'what is this' is none of its lines" },
    ])
    expect(explainShow(reckoned, readShow('', NOW)).own[0]).toMatch(/No interface is up/)
  })
})
