/** A tunnel's file as facts: what it says, what is missing, what is not understood and kept. */
import { parseAddress, readPrefix, formatPrefix } from '../../addressing'
import { keyOctets } from '../keys/keys'
import {
  readSections,
  valuesOf,
  type FileLine,
  type FileProblem,
  type FileSection,
} from './wireguardText'

export interface ReadPeer {
  readonly line: number
  /** The first comment of its section, where there is one. */
  readonly name: string | null
  readonly publicKey: string
  readonly sharedKey: string | null
  readonly allowed: readonly string[]
  readonly endpoint: { readonly host: string; readonly port: number } | null
  readonly keepaliveSeconds: number | null
}
export interface ReadTunnel {
  readonly name: string | null
  readonly privateKey: string | null
  readonly addresses: readonly string[]
  readonly listenPort: number | null
  readonly mtu: number | null
  readonly nameServers: readonly string[]
  readonly peers: readonly ReadPeer[]
  /** Lines that mean something to others: kept, and shown. */
  readonly kept: readonly FileLine[]
}
export type ReadOutcome = {
  readonly tunnel: ReadTunnel | null
  readonly problems: readonly FileProblem[]
}

const KNOWN = {
  interface: ['privatekey', 'address', 'listenport', 'mtu', 'dns'],
  peer: ['publickey', 'presharedkey', 'allowedips', 'endpoint', 'persistentkeepalive'],
} as const

export function readTunnelFile(text: string): ReadOutcome {
  const { sections, problems: unread } = readSections(text)
  const problems: FileProblem[] = [...unread]
  const say = (at: FileLine | FileSection, reason: string): void => {
    problems.push({ line: at.line, column: 'column' in at ? at.column : 1, reason })
  }
  const interfaces = sections.filter((s) => s.kind === 'interface')
  const [own] = interfaces
  if (!own) {
    problems.push({
      line: 1,
      column: 1,
      reason: 'there is no [Interface]: this is no file of a tunnel',
    })
    return { tunnel: null, problems }
  }
  for (const second of interfaces.slice(1))
    say(second, 'a file has one [Interface]; this is another')

  const one = (s: FileSection, name: string): FileLine | undefined => {
    const found = valuesOf(s, name)
    for (const again of found.slice(1)) say(again, `${name} stands here twice; the first counts`)
    return found[0]
  }
  const parts = (s: FileSection, name: string): { text: string; at: FileLine }[] =>
    valuesOf(s, name).flatMap((at) => {
      let from = 0
      return at.value.split(',').flatMap((piece) => {
        const column = at.column + from + (piece.length - piece.trimStart().length)
        from += piece.length + 1
        return piece.trim() ? [{ text: piece.trim(), at: { ...at, column } }] : []
      })
    })
  const key = (at: FileLine | undefined): string | null => {
    if (!at) return null
    if (keyOctets(at.value)) return at.value
    say(at, `${at.name} is no key: 44 letters and digits that end with =`)
    return null
  }
  const number = (at: FileLine | undefined, least: number, most: number): number | null => {
    if (!at) return null
    const n = Number(at.value)
    if (/^\d+$/.test(at.value) && n >= least && n <= most) return n
    say(at, `${at.name} is a whole number from ${least} to ${most}`)
    return null
  }
  /** With the length; an address alone is one. Host bits are allowed in addresses, and cleared in networks. */
  const network = ({ text: t, at }: { text: string; at: FileLine }, isHost: boolean): string[] => {
    const whole = t.includes('/') ? t : `${t}/${t.includes(':') ? 128 : 32}`
    const read = readPrefix(whole)
    if (!('problem' in read)) return [isHost ? whole : formatPrefix(read)]
    if (read.problem === 'host bits set' && read.network)
      return [isHost ? whole : formatPrefix(read.network)]
    say(at, `'${t.slice(0, 50)}' is no address with a length, for example 10.30.0.2/32`)
    return []
  }

  const peers = sections
    .filter((s) => s.kind === 'peer')
    .flatMap((s): ReadPeer[] => {
      const at = one(s, 'PublicKey')
      if (!at) say(s, 'this [Peer] has no PublicKey')
      const publicKey = key(at)
      const endpoint = one(s, 'Endpoint')
      const keepalive = one(s, 'PersistentKeepalive')
      return publicKey === null
        ? []
        : [
            {
              line: s.line,
              name: s.comments[0] ?? null,
              publicKey,
              sharedKey: key(one(s, 'PresharedKey')),
              allowed: parts(s, 'AllowedIPs').flatMap((p) => network(p, false)),
              endpoint: endpoint ? endpointOf(endpoint, say) : null,
              keepaliveSeconds:
                keepalive?.value.toLowerCase() === 'off' ? 0 : number(keepalive, 0, 65_535),
            },
          ]
    })
  const keyAt = one(own, 'PrivateKey')
  if (!keyAt) say(own, 'this [Interface] has no PrivateKey')
  return {
    tunnel: {
      name: own.comments[0] ?? null,
      privateKey: key(keyAt),
      addresses: parts(own, 'Address').flatMap((p) => network(p, true)),
      listenPort: number(one(own, 'ListenPort'), 0, 65_535),
      mtu: number(one(own, 'MTU'), 576, 65_535),
      nameServers: parts(own, 'DNS')
        .filter((p) => parseAddress(p.text) !== undefined)
        .map((p) => p.text),
      peers,
      kept: sections.flatMap((s) =>
        s.lines.filter(
          (l) =>
            !(KNOWN[s.kind] as readonly string[]).includes(l.name.toLowerCase()) ||
            (l.name.toLowerCase() === 'dns' && parts(s, 'DNS').some((p) => !parseAddress(p.text))),
        ),
      ),
    },
    problems,
  }
}

function endpointOf(
  at: FileLine,
  say: (at: FileLine, reason: string) => void,
): { host: string; port: number } | null {
  const m = /^(?:\[([0-9a-fA-F:.]+)\]|([^\s:]+)):(\d{1,5})$/.exec(at.value)
  const port = Number(m?.[3])
  if (m && port >= 1 && port <= 65_535) return { host: (m[1] ?? m[2])!, port }
  say(at, `Endpoint is a name or an address with a port, for example harbour.example.org:51820`)
  return null
}
