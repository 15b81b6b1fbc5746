import { describe, expect, it } from 'vitest'
import { readTunnelFile } from './read'
import { fromFile } from './toPlan'

const KEYS = [
  'IQb/FtqKRkzmIUsAJmCINJfcLV5IAZ8FvNUcvm/uNXY=',
  'urACwszPyYex3SxOmTtQN1eHzAI3tBXglCQHynupME8=',
]
const file = (...peers: string[]): string =>
  ['[Interface]', 'Address = 10.64.12.7/32', 'ListenPort = 51830', 'MTU = 1380', ...peers].join(
    '\r\n',
  )
const peer = (n: 0 | 1, allowed: string): string =>
  `\r\n[Peer]\r\nPublicKey = ${KEYS[n]}\r\nAllowedIPs = ${allowed}\r\nEndpoint = north.example.net:51820`

describe('a file that was read', () => {
  it('leads to a provider where everything goes through', () => {
    const { kind, tunnel, peers } = fromFile(
      readTunnelFile(file(peer(0, '0.0.0.0/0, ::/0'))).tunnel!,
    )
    expect([kind, tunnel.listenPort, tunnel.subnet]).toEqual(['provider', null, '10.64.12.7/32'])
    expect(peers).toMatchObject([{ device: 'server', networks: [], publicKey: KEYS[0] }])
  })
  it('leads to other sites where it names networks, and keeps every peer', () => {
    const { kind, tunnel, peers } = fromFile(
      readTunnelFile(file(peer(0, '10.30.0.0/24'), peer(1, '10.31.0.0/24, 10.32.0.0/24'))).tunnel!,
    )
    expect([kind, tunnel.listenPort, tunnel.mtu]).toEqual(['sites', 51_830, 1380])
    expect(peers.map((p) => p.networks)).toEqual([
      ['10.30.0.0/24'],
      ['10.31.0.0/24', '10.32.0.0/24'],
    ])
    expect(new Set(peers.map((p) => p.name)).size).toBe(2)
    const wide = readTunnelFile(
      file(peer(0, '10.30.0.0/24')).replace('10.64.12.7/32', '10.64.12.7/24'),
    )
    expect(fromFile(wide.tunnel!).tunnel).toMatchObject({
      subnet: '10.64.12.0/24',
      address: '10.64.12.7',
    })
  })
})
