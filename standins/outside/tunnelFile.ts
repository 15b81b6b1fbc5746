/** What a device at the other end reads of the file that it was given. */
import { spansIn, type Span } from '../tunnels/span'

export interface FileOfPeer {
  readonly publicKey: string
  readonly sharedKey: string | null
  readonly allowed: readonly Span[]
  readonly endpoint: { readonly host: string; readonly port: number } | null
  readonly keepaliveSeconds: number
}
export interface TunnelFile {
  readonly privateKey: string | null
  readonly addresses: readonly Span[]
  readonly nameServers: readonly string[]
  readonly listenPort: number | null
  readonly mtu: number
  readonly peers: readonly FileOfPeer[]
}

/** Of Ethernet over IPv4, less what a tunnel adds over IPv6. */
const USUAL_MTU = 1420

/** Lines that it does not know are passed over. */
export function readTunnelFile(text: string): TunnelFile {
  let at: Map<string, string> = new Map()
  const own = at
  const peers: Map<string, string>[] = []
  for (const line of text.split('\n').map((l) => l.replace(/#.*/, '').trim())) {
    if (/^\[peer\]$/i.test(line)) peers.push((at = new Map()))
    const equals = line.indexOf('=')
    if (equals < 0) continue
    const name = line.slice(0, equals).trim().toLowerCase()
    const value = line.slice(equals + 1).trim()
    const before = at.get(name)
    at.set(name, before === undefined ? value : `${before},${value}`)
  }
  const list = (s: string | undefined): string[] =>
    (s ?? '').split(',').flatMap((x) => x.trim() || [])
  return {
    privateKey: own.get('privatekey') ?? null,
    addresses: spansIn(list(own.get('address'))),
    nameServers: list(own.get('dns')),
    listenPort: Number(own.get('listenport') ?? 0) || null,
    mtu: Number(own.get('mtu') ?? USUAL_MTU),
    peers: peers.map((p) => {
      const [, host, port] = /^(.*):(\d+)$/.exec(p.get('endpoint') ?? '') ?? []
      return {
        publicKey: p.get('publickey') ?? '',
        sharedKey: p.get('presharedkey') ?? null,
        allowed: spansIn(list(p.get('allowedips'))),
        endpoint: host && port ? { host, port: Number(port) } : null,
        keepaliveSeconds: Number(p.get('persistentkeepalive') ?? 0) || 0,
      }
    }),
  }
}
